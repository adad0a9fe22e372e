//! Lines of the journal in words.

use super::{
    amounts::number,
    books::Booked,
    event::{At, Good, Side, What},
};
use crate::wording::figures::{date, quoted, whole};
use rust_decimal::Decimal;

/// "Bought 48 KCS at 41.20 (B12)": what an event did.
#[must_use]
pub fn event_says(booked: &Booked) -> String {
    let money = |x: Decimal| whole(number(x));
    let price_of = |x: Decimal| quoted(number(x));
    match &booked.event.what {
        What::Deposit { amount } => format!("{} paid in", money(*amount)),
        What::Withdrawal { amount } => format!("{} taken out", money(*amount)),
        What::Order(o) => {
            let at = match o.at {
                At::Market => "at market".to_owned(),
                At::Limit(limit) => format!("at {}", price_of(limit)),
            };
            let verb = if o.side == Side::Buy { "buy" } else { "sell" };
            let of = o.linked_to.as_ref().map(|of| format!(", the sell rule of {of}")).unwrap_or_default();
            format!("Order {}: {verb} {} {} {at}{of}", o.order, shares(o.quantity), o.security.name())
        }
        What::Fill { order, quantity, price, .. } => {
            let (side, name) = booked.effect.filled.as_ref().map_or((Side::Buy, ""), |(side, s)| (*side, s.name()));
            format!("{} {} {name} at {} ({order})", traded(side), shares(*quantity), price_of(*price))
        }
        What::OrderAdjusted { order, .. } => format!("Order {order} follows a split"),
        What::OrderChanged { order, limit, left, good } => {
            let at = limit.map_or_else(|| "at market".to_owned(), |l| format!("at {}", price_of(l)));
            format!("Order {order} changed: {} {at}, {}", shares(*left), good_says(*good))
        }
        What::OrderCancelled { order, why, .. } => format!("Order {order} cancelled: {why}"),
        What::OrderExpired { order } => format!("Order {order} expired"),
        What::Split { security, ratio } => format!("{}: {} for one, {} held", security.name(), ratio.normalize(), held(booked)),
        What::DividendDue { security, quantity, per_share, .. } => {
            format!("{} went ex: {} due on {}", security.name(), money(quantity * per_share), shares(*quantity))
        }
        What::DividendPaid { security, amount, rate, .. } => format!("Dividend of {}: {}", security.name(), money(amount * rate)),
        What::Delisted { security, price, .. } => {
            format!("{} left the exchange: {} at {} paid out", security.name(), held(booked), price_of(*price))
        }
        What::Recorded(t) => format!("{} {} {} at {}", traded(t.side), shares(t.quantity), t.security.name(), price_of(t.price)),
        What::RecordedIncome { security, amount } if amount.is_sign_negative() => {
            format!("Paid for {}: {}", security.name(), money(-amount))
        }
        What::CapitalReturned { security, amount } => format!("Capital of {} returned: {}", security.name(), money(*amount)),
        What::RecordedIncome { security, amount } => format!("Income from {}: {}", security.name(), money(*amount)),
        What::RecordedPrice { security, price } => format!("{} costs {}", security.name(), price_of(*price)),
    }
}

fn good_says(good: Good) -> String {
    match good {
        Good::Day => "in the next session".to_owned(),
        Good::Until(day) => format!("until {}", date(day)),
        Good::UntilCancelled => "until cancelled".to_owned(),
    }
}

const fn traded(side: Side) -> &'static str {
    match side {
        Side::Buy => "Bought",
        Side::Sell => "Sold",
    }
}

fn held(booked: &Booked) -> String {
    shares(booked.effect.quantity.unwrap_or_default())
}

/// Without zeros at the end.
fn shares(n: Decimal) -> String {
    n.round_dp(4).normalize().to_string()
}

//! A line of the journal as it is read and exported.

use super::{
    amounts::{Sum, number},
    books::Booked,
    event::{Recorded, Security, Side, What},
};
use crate::domain::{ActionKind, Day};
use rust_decimal::Decimal;
use serde::Serialize;
use std::sync::Arc;

/// A line of the journal: all that its event has, empty where it has none.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct JournalLine {
    pub n: u64,
    pub date: Day,
    pub account: Arc<str>,
    pub event: &'static str,
    #[serde(flatten)]
    pub of: LineOf,
}

/// What depends on the event: amounts and cash in the account's currency, prices and dividends due in the listing's.
#[serde_with::skip_serializing_none]
#[derive(Clone, Debug, Default, Serialize)]
#[allow(missing_docs)]
pub struct LineOf {
    pub order: Option<Arc<str>>,
    pub side: Option<Side>,
    pub symbol: Option<Arc<str>>,
    pub what: Option<Arc<str>>,
    pub kind: Option<ActionKind>,
    pub at: Option<&'static str>,
    pub limit: Option<f64>,
    pub quantity: Option<f64>,
    pub good: Option<String>,
    pub linked_to: Option<Arc<str>>,
    pub price: Option<f64>,
    pub multiplier: Option<f64>,
    pub ratio: Option<f64>,
    pub per_share: Option<f64>,
    pub amount: Option<f64>,
    pub rate: Option<f64>,
    pub value: Option<f64>,
    pub fee: Option<f64>,
    pub pay_date: Option<Day>,
    pub left: Option<f64>,
    pub why: Option<String>,
    pub cash: Option<f64>,
    pub realised: Option<f64>,
    pub realised_base: Option<f64>,
}

impl JournalLine {
    /// The line of something booked.
    #[must_use]
    pub fn of(booked: &Booked) -> JournalLine {
        let (event, of) = event_of(booked);
        let effect = &booked.effect;
        let own = |s: Sum| number(s.own);
        let of = LineOf {
            cash: effect.cash.map(number),
            realised: effect.realised.map(own),
            realised_base: effect.realised.and_then(|s| s.base).map(number),
            left: of.left.or(effect.left.map(number)),
            quantity: of.quantity.or(effect.quantity.map(number)),
            ..of
        };
        JournalLine { n: booked.n, date: booked.event.date, account: booked.event.account.clone(), event, of }
    }
}

/// The name of an event, and what is said of it.
fn event_of(booked: &Booked) -> (&'static str, LineOf) {
    let none = LineOf::default();
    match &booked.event.what {
        What::Deposit { amount } => ("deposit", LineOf { amount: Some(number(*amount)), ..none }),
        What::Withdrawal { amount } => ("withdrawal", LineOf { amount: Some(number(*amount)), ..none }),
        What::Order(o) => {
            let terms = LineOf {
                order: Some(o.order.clone()),
                side: Some(o.side),
                at: Some(if o.at.limit().is_some() { "limit" } else { "market" }),
                limit: o.at.limit().map(number),
                quantity: Some(number(o.quantity)),
                good: Some(o.good.to_string()),
                linked_to: o.linked_to.clone(),
                ..named(&o.security)
            };
            ("order", terms)
        }
        What::Fill { order, quantity, price, rate, fee } => {
            let (side, of) = booked.effect.filled.as_ref().map_or((None, none), |(side, s)| (Some(*side), named(s)));
            let trade = traded(*quantity, *price, *rate, quantity * price * rate);
            let fill = LineOf { order: Some(order.clone()), side, fee: Some(number(*fee)), symbol: of.symbol, what: of.what, ..trade };
            ("fill", fill)
        }
        What::OrderAdjusted { order, limit, .. } => {
            ("order_adjusted", LineOf { order: Some(order.clone()), limit: limit.map(number), ..none })
        }
        What::OrderChanged { order, limit, good, .. } => {
            let at = Some(if limit.is_some() { "limit" } else { "market" });
            ("order_changed", LineOf { order: Some(order.clone()), at, limit: limit.map(number), good: Some(good.to_string()), ..none })
        }
        What::OrderCancelled { order, why, .. } => {
            ("order_cancelled", LineOf { order: Some(order.clone()), why: Some(why.clone()), ..none })
        }
        What::OrderExpired { order } => ("order_expired", LineOf { order: Some(order.clone()), ..none }),
        What::Split { security, ratio } => ("split", LineOf { ratio: Some(number(*ratio)), ..named(security) }),
        What::DividendDue { security, kind, quantity, per_share, pay_date } => {
            let due = LineOf {
                kind: Some(*kind),
                quantity: Some(number(*quantity)),
                per_share: Some(number(*per_share)),
                amount: Some(number(quantity * per_share)),
                pay_date: Some(*pay_date),
                ..named(security)
            };
            ("dividend_due", due)
        }
        What::DividendPaid { security, kind, amount, rate } => {
            let (amount, value) = (Some(number(*amount)), Some(number(amount * rate)));
            ("dividend_paid", LineOf { kind: Some(*kind), amount, rate: Some(number(*rate)), value, ..named(security) })
        }
        What::Delisted { security, price, rate } => {
            let value = booked.effect.quantity.unwrap_or_default() * price * rate;
            let of = named(security);
            ("delisted", LineOf { price: Some(number(*price)), rate: Some(number(*rate)), value: Some(number(value)), ..of })
        }
        What::Recorded(trade) => ("recorded", recorded(trade)),
        What::RecordedIncome { security, amount } => ("recorded_income", LineOf { amount: Some(number(*amount)), ..named(security) }),
        What::CapitalReturned { security, amount } => ("capital_returned", LineOf { amount: Some(number(*amount)), ..named(security) }),
        What::RecordedPrice { security, price } => ("recorded_price", LineOf { price: Some(number(*price)), ..named(security) }),
    }
}

fn named(security: &Security) -> LineOf {
    match security {
        Security::Listed { symbol, .. } => LineOf { symbol: Some(symbol.clone()), ..LineOf::default() },
        Security::Other { what } => LineOf { what: Some(what.clone()), ..LineOf::default() },
    }
}

fn traded(quantity: Decimal, price: Decimal, rate: Decimal, value: Decimal) -> LineOf {
    let some = |x| Some(number(x));
    LineOf { value: some(value), quantity: some(quantity), price: some(price), rate: some(rate), ..LineOf::default() }
}

fn recorded(trade: &Recorded) -> LineOf {
    let of = named(&trade.security);
    LineOf {
        side: Some(trade.side),
        symbol: of.symbol,
        what: of.what,
        multiplier: Some(number(trade.multiplier)),
        fee: Some(number(trade.fee)),
        ..traded(trade.quantity, trade.price, trade.rate, trade.value())
    }
}

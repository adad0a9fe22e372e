//! What a row of a statement becomes in the journal.

use super::super::securities::listed;
use crate::Ctx;
use artemon_core::{
    domain::{Currency, Day},
    ledger::{Recorded, Security, Side, What, decimal},
};
use artemon_formats::statement::{StatedPosition, StatedSecurity, StatementKind, StatementRow};
use rust_decimal::Decimal;

/// Where prices and rates come from.
pub(super) struct Rates<'a> {
    pub(super) ctx: &'a Ctx,
    /// The account's currency.
    pub(super) own: Currency,
    pub(super) positions: &'a [StatedPosition],
}

/// Without rates that a statement gives, amounts are turned into the account's currency at the day's.
struct Converted {
    currency: Currency,
    rate: Decimal,
}

impl Rates<'_> {
    fn to_own(&self, currency: &str, day: Day) -> Result<Converted, String> {
        let currency =
            if currency.is_empty() { self.own } else { currency.parse().map_err(|_| format!("\"{currency}\" is no currency"))? };
        if currency == self.own {
            return Ok(Converted { currency, rate: Decimal::ONE });
        }
        let rate = self.ctx.engine.as_of(day).fx(currency, self.own);
        let rate = rate.ok_or_else(|| format!("the dataset has no rate from {currency} to {} on {day}", self.own))?;
        Ok(Converted { currency, rate: decimal(rate) })
    }

    /// What one cost on a day, and in which currency: the close, or what the statement says at its end.
    pub(super) fn price(&self, security: &Security, stated: &StatedSecurity, day: Day) -> Option<(Decimal, Currency)> {
        let snapshot = self.ctx.snapshot();
        let company = match security {
            Security::Listed { company, .. } => snapshot.find(company).map(|i| self.ctx.engine.as_of(day).company(i)),
            Security::Other { .. } => None,
        };
        let close = company.and_then(|c| Some((decimal(c.price().ok()?), c.listing_currency())));
        let at_end = || self.positions.iter().find(|p| p.security == *stated).and_then(|p| p.price).map(|p| (p, self.own));
        close.or_else(at_end)
    }
}

/// The security that a statement names: of the dataset by ISIN or symbol, else as it is called; none where it names none.
pub(super) fn security(ctx: &Ctx, stated: &StatedSecurity) -> Option<Security> {
    let StatedSecurity { isin, symbol, name } = stated;
    let known = [isin, symbol].into_iter().filter(|t| !t.is_empty()).find_map(|t| listed(ctx.snapshot(), t));
    // By the ISIN behind its name it is found again once the dataset has it.
    let called = || match [name, symbol, isin].into_iter().find(|t| !t.is_empty()) {
        Some(name) if !isin.is_empty() && name != isin => Some(format!("{name} ({isin})")),
        name => name.cloned(),
    };
    known.or_else(|| called().map(|what| Security::Other { what: what.into() }))
}

/// The entries of a row, and what is odd about it.
///
/// # Errors
/// Why the row means nothing.
pub(super) fn of(rates: &Rates<'_>, row: &StatementRow) -> Result<(Vec<What>, Option<String>), String> {
    let to_own = rates.to_own(&row.currency, row.traded_on)?;
    let named = security(rates.ctx, &row.security);
    let needed = || named.clone().ok_or_else(|| "it names no security".to_owned());
    let total = || row.total.map(|t| t * to_own.rate).ok_or_else(|| "it says no amount".to_owned());
    let units = || row.units.map(|u| u.abs()).filter(|u| !u.is_zero()).ok_or_else(|| "it says no quantity".to_owned());
    let account = || named.clone().unwrap_or_else(|| Security::Other { what: row.kind.code().replace('_', " ").into() });
    let mut odd = None;
    let events = match row.kind {
        StatementKind::Buy | StatementKind::Sell => {
            let (trade, says) = traded(row, &to_own, needed()?, units()?)?;
            odd = says;
            vec![What::Recorded(trade)]
        }
        StatementKind::Deposit => vec![What::Deposit { amount: total()?.abs() }],
        StatementKind::Withdrawal => vec![What::Withdrawal { amount: total()?.abs() }],
        StatementKind::Dividend | StatementKind::Interest | StatementKind::CapitalGain | StatementKind::Income => {
            vec![What::RecordedIncome { security: account(), amount: total()? }]
        }
        StatementKind::Fee => vec![What::RecordedIncome { security: account(), amount: -total()?.abs() }],
        StatementKind::Reinvest => {
            let spent = total()?.abs();
            let bought =
                Recorded { fee: Decimal::ZERO, ..priced(&to_own, needed()?, units()?, Side::Buy, row.total.unwrap_or_default().abs()) };
            vec![What::RecordedIncome { security: needed()?, amount: spent }, What::Recorded(bought)]
        }
        StatementKind::Split => vec![What::Split { security: needed()?, ratio: units()? }],
        StatementKind::ReturnOfCapital => vec![What::CapitalReturned { security: needed()?, amount: total()?.abs() }],
        StatementKind::TransferIn | StatementKind::TransferOut => {
            let (events, says) = moved(rates, &needed()?, &row.security, row.traded_on, row.kind == StatementKind::TransferIn, units()?)?;
            odd = says;
            events
        }
    };
    Ok((events, odd))
}

/// A trade at the price that the cash which moved comes to.
fn traded(row: &StatementRow, to_own: &Converted, security: Security, units: Decimal) -> Result<(Recorded, Option<String>), String> {
    let side = if row.kind == StatementKind::Buy { Side::Buy } else { Side::Sell };
    // What is withheld of a sale is a cost of it.
    let costs = [row.commission, row.fees, row.withheld].into_iter().flatten().sum::<Decimal>();
    let at_price = row.price.map(|p| p * units);
    let of_total = row.total.map(|t| if side == Side::Buy { t.abs() - costs } else { t.abs() + costs });
    let value = of_total.or(at_price).filter(|v| !v.is_sign_negative()).ok_or("it says neither a price nor an amount")?;
    // As R42 of the fixtures has it: more than 0.01 a unit and half a percent apart is odd.
    let off =
        |stated: Decimal| (stated - value).abs() > units / Decimal::ONE_HUNDRED && (stated - value).abs() > value / Decimal::from(200);
    let odd = at_price.filter(|p| of_total.is_some() && off(*p));
    let says = odd
        .map(|p| format!("quantity × price is {}, the cash that moved says {}", p.round_dp(2).normalize(), value.round_dp(2).normalize()));
    let trade = Recorded { fee: costs * to_own.rate, ..priced(to_own, security, units, side, value) };
    Ok((trade, says))
}

fn priced(to_own: &Converted, security: Security, units: Decimal, side: Side, value: Decimal) -> Recorded {
    Recorded {
        side,
        security,
        quantity: units,
        price: value / units,
        multiplier: Decimal::ONE,
        currency: to_own.currency,
        rate: to_own.rate,
        fee: Decimal::ZERO,
        lots: Vec::new(),
    }
}

/// Shares that come or go without cash: as if their worth were paid in and they were bought with it, or the other way round.
pub(super) fn moved(
    rates: &Rates<'_>,
    security: &Security,
    stated: &StatedSecurity,
    day: Day,
    comes: bool,
    units: Decimal,
) -> Result<(Vec<What>, Option<String>), String> {
    let known = rates.price(security, stated, day);
    let (price, currency) = known.unwrap_or((Decimal::ZERO, rates.own));
    let to_own = rates.to_own(&currency.to_string(), day)?;
    let value = price * units;
    let side = if comes { Side::Buy } else { Side::Sell };
    let trade = What::Recorded(priced(&to_own, security.clone(), units, side, value));
    let amount = value * to_own.rate;
    let events = match (amount.is_zero(), comes) {
        (true, _) => vec![trade],
        (false, true) => vec![What::Deposit { amount }, trade],
        (false, false) => vec![trade, What::Withdrawal { amount }],
    };
    let says = if known.is_some() { None } else { Some("no price of it is known on the day: it counts as worth nothing".to_owned()) };
    Ok((events, says))
}

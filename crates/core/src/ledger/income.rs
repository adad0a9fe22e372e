//! The calendar of income: what was received, what is due, and what is to be expected.

use super::{
    amounts::number,
    books::Ledger,
    event::{AccountKind, Security},
    results::received,
};
use crate::{
    domain::{Currency, Day},
    panel::{AsOf, CompanyAt},
};
use serde::Serialize;
use std::sync::Arc;

/// How sure income is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sureness {
    #[allow(missing_docs)]
    Received,
    /// It went ex while it was held, or is declared.
    Declared,
    /// As it was a year before.
    Expected,
}

/// Income of a day.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct IncomeLine {
    pub date: Day,
    pub account: Arc<str>,
    pub security: Security,
    /// In the account's currency; of what lies ahead at today's rate.
    pub amount: f64,
    pub currency: Currency,
    pub amount_base: Option<f64>,
    pub sureness: Sureness,
}

/// A dividend that was declared stands for one that is expected so near to it, in days.
const STANDS_FOR: i32 = 45;

/// What was received up to the market's day, and what lies within the next twelve months, by day: dividends due and declared, and those
/// of the last twelve months but special ones once more a year later, for as many shares as are held now.
#[must_use]
pub fn income_calendar(ledger: &Ledger, market: AsOf<'_>) -> Vec<IncomeLine> {
    let mut all = Vec::new();
    for b in ledger.journal().iter().take_while(|b| b.event.date <= market.t) {
        let Some((amount, security)) = received(&b.event.what).zip(b.event.what.security()) else { continue };
        let Some(books) = ledger.account(&b.event.account) else { continue };
        all.push(IncomeLine {
            date: b.event.date,
            account: b.event.account.clone(),
            security: security.clone(),
            amount: number(amount),
            currency: books.account.currency,
            amount_base: b.to_base.map(|rate| number(amount * rate)),
            sureness: Sureness::Received,
        });
    }
    for books in ledger.accounts() {
        let currency = books.account.currency;
        let line = |security: &Security, date: Day, amount: f64, from: Currency, sureness| {
            let amount = amount * market.fx(from, currency)?;
            let amount_base = market.fx(currency, market.base).map(|rate| amount * rate);
            Some(IncomeLine {
                date,
                account: books.account.name.clone(),
                security: security.clone(),
                amount,
                currency,
                amount_base,
                sureness,
            })
        };
        let company = |s: &Security| market.snapshot.find(s.key()).map(|i| market.company(i));
        for due in &books.due {
            let from = company(&due.security).map(|c| c.listing_currency());
            all.extend(from.and_then(|from| line(&due.security, due.pay_date, number(due.amount), from, Sureness::Declared)));
        }
        for p in books.positions.values() {
            let Some(c) = company(&p.security) else { continue };
            let shares = number(p.quantity());
            let from = c.listing_currency();
            // What went ex while a simulated account held it is due already.
            let due = |ex: Day| books.account.kind == AccountKind::Simulated && ex <= market.t;
            let ahead = ahead(&c).into_iter().filter(|a| !due(a.ex_date));
            all.extend(ahead.filter_map(|a| line(&p.security, a.paid_on, shares * a.amount, from, a.sureness)));
        }
    }
    all.sort_by(|a, b| (a.date, &a.account, &a.security).cmp(&(b.date, &b.account, &b.security)));
    all
}

/// A dividend ahead, a share.
struct Ahead {
    ex_date: Day,
    paid_on: Day,
    amount: f64,
    sureness: Sureness,
}

/// The dividends of the next twelve months.
fn ahead(c: &CompanyAt<'_>) -> Vec<Ahead> {
    let t = c.t();
    let declared = |d: crate::panel::Declared| {
        let paid_on = d.pay_date.unwrap_or(d.ex_date);
        Ahead { ex_date: d.ex_date, paid_on, amount: d.amount, sureness: Sureness::Declared }
    };
    let mut all: Vec<Ahead> = c.dividends_ahead().map(declared).filter(|a| a.paid_on > t).collect();
    let last_year = c.dividends().map(|d| d.filter(|d| d.ex_date > t.plus_months(-12) && !d.special).collect::<Vec<_>>());
    for d in last_year.unwrap_or_default() {
        let ex_date = d.ex_date.plus_months(12);
        let paid_on = d.pay_date.unwrap_or(d.ex_date).plus_months(12);
        let stands_for = |a: &Ahead| a.sureness == Sureness::Declared && a.ex_date.days_since(ex_date).abs() <= STANDS_FOR;
        if !all.iter().any(stands_for) && c.in_universe() {
            all.push(Ahead { ex_date, paid_on, amount: d.amount, sureness: Sureness::Expected });
        }
    }
    all
}

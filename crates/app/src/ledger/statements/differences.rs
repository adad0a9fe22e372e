//! Where a statement and the journal differ at its end, and entries that make it good.

use super::events::{Rates, moved, security};
use crate::Ctx;
use artemon_core::{
    domain::Day,
    ledger::{AccountBooks, Ledger, Security, What, decimal, number},
};
use artemon_formats::statement::{StatedSecurity, Statement};
use artemon_store::KeptAccount;
use rust_decimal::Decimal;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// The key of the difference in cash.
const CASH: &str = "cash";

/// Something of which the statement says another quantity or amount than the journal.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Difference {
    /// By which it is chosen.
    pub key: String,
    /// The security, or "cash".
    pub what: String,
    #[schema(value_type = String)]
    pub on: Day,
    pub stated: f64,
    pub journal: f64,
}

/// The last day of a statement that says what was held or in cash then.
pub(super) fn end(statement: &Statement) -> Option<Day> {
    let last = || statement.rows.iter().map(|r| r.traded_on).max().filter(|_| !statement.positions.is_empty());
    statement.cash.map(|c| c.0).or_else(last)
}

/// Of a statement that says what was held or in cash at its end; `ledger` has the new rows in it.
pub(super) fn differences(ctx: &Ctx, account: &KeptAccount, statement: &Statement, ledger: &Ledger) -> Vec<Difference> {
    let Some((on, books)) = end(statement).and_then(|on| Some((on, at(ctx, ledger, account, on)?))) else { return Vec::new() };
    let mut held: BTreeMap<String, (String, Decimal, Decimal)> = BTreeMap::new();
    for p in books.positions.values() {
        held.insert(p.security.key().to_string(), (p.security.name().to_string(), Decimal::ZERO, p.quantity()));
    }
    for p in &statement.positions {
        if let Some(security) = security(ctx, &p.security) {
            let of = held.entry(security.key().to_string()).or_insert_with(|| (security.name().to_string(), Decimal::ZERO, Decimal::ZERO));
            of.1 += p.units;
        }
    }
    let cash = statement.cash.map(|(_, stated)| (CASH.to_owned(), (CASH.to_owned(), stated, books.cash)));
    let differ = |stated: Decimal, journal: Decimal| (stated - journal).abs() >= Decimal::new(5, 3);
    let difference = |(key, (what, stated, journal)): (String, (String, Decimal, Decimal))| {
        differ(stated, journal).then(|| Difference { key, what, on, stated: number(stated), journal: number(journal) })
    };
    cash.into_iter().chain(held).filter_map(difference).collect()
}

/// The books of the account at the end of a day.
fn at(ctx: &Ctx, ledger: &Ledger, account: &KeptAccount, on: Day) -> Option<AccountBooks> {
    let market = super::super::books::whole_market(ctx);
    let mut then = Ledger::new(ledger.accounts().iter().map(|a| a.account.clone()));
    for b in ledger.journal().iter().take_while(|b| b.event.date <= on) {
        then.book_as(b.n, market, b.event.clone()).ok();
    }
    then.account(&account.name).cloned()
}

/// The entries that make the chosen differences good, shares first.
pub(super) fn settling(ctx: &Ctx, account: &KeptAccount, statement: &Statement, all: &[Difference], chosen: &[String]) -> Vec<(Day, What)> {
    let Ok(own) = account.currency.parse() else { return Vec::new() };
    let rates = Rates { ctx, own, positions: &statement.positions };
    let stated = |key: &str| statement.positions.iter().map(|p| &p.security).find(|s| security(ctx, s).is_some_and(|s| **s.key() == *key));
    let mut out = Vec::new();
    for d in all.iter().filter(|d| d.key != CASH && chosen.contains(&d.key)) {
        let of = super::super::securities::security(ctx, &d.key);
        let of = if matches!(of, Security::Other { .. }) { Security::Other { what: d.what.as_str().into() } } else { of };
        let units = decimal(d.stated - d.journal);
        let nothing = StatedSecurity::default();
        let moved = moved(&rates, &of, stated(&d.key).unwrap_or(&nothing), d.on, units.is_sign_positive(), units.abs());
        out.extend(moved.map(|m| m.0).unwrap_or_default().into_iter().map(|what| (d.on, what)));
    }
    if let Some(d) = all.iter().find(|d| d.key == CASH && chosen.contains(&d.key)) {
        let amount = decimal((d.stated - d.journal).abs());
        out.push((d.on, if d.stated > d.journal { What::Deposit { amount } } else { What::Withdrawal { amount } }));
    }
    out
}

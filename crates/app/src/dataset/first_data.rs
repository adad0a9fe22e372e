//! How far a dataset is on its way from nothing to a screened market.

use crate::Ctx;
use artemon_core::{
    domain::{Currency, RateSeries, Table},
    panel::Snapshot,
};
use serde::Serialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// What is named of what is missing.
const NAMED: usize = 8;

/// Something that is missing.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Missing {
    /// Of how many.
    pub count: usize,
    /// The first of them.
    pub some: Vec<String>,
}

/// What is there and what is missing.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct FirstData {
    /// Companies with statements.
    pub with_statements: usize,
    /// Listed companies without.
    pub without_statements: Missing,
    /// Companies with a listing.
    pub listed: usize,
    /// Companies without.
    pub unlisted: Missing,
    /// Listed companies with prices.
    pub with_prices: usize,
    /// Listed companies without.
    pub without_prices: Missing,
    /// Companies with insiders' trades.
    pub with_insiders: usize,
    /// Companies with splits or dividends.
    pub with_actions: usize,
    /// Currencies of companies and listings without a rate to the base currency on the newest day.
    pub without_fx: Missing,
    /// Reporting currencies without a yield of its government.
    pub without_yield: Missing,
}

impl Missing {
    fn note(&mut self, name: impl FnOnce() -> String) {
        self.count += 1;
        if self.some.len() < NAMED {
            self.some.push(name());
        }
    }
}

/// How far the dataset is.
pub(crate) fn first_data(ctx: &Ctx) -> FirstData {
    let snapshot = ctx.snapshot();
    let (mut first, mut currencies, mut reporting) = (FirstData::default(), BTreeSet::new(), BTreeSet::new());
    for i in 0..u32::try_from(snapshot.company_count()).unwrap_or(u32::MAX) {
        let company = snapshot.company(i);
        let has = |table| snapshot.extent(i, table).rows > 0;
        reporting.insert(company.currency);
        first.with_insiders += usize::from(has(Table::InsiderTrades));
        first.with_actions += usize::from(has(Table::Actions));
        first.with_statements += usize::from(has(Table::Statements));
        let Some(listing) = snapshot.listing(i) else {
            first.unlisted.note(|| company.name.clone());
            continue;
        };
        currencies.insert(listing.currency);
        first.listed += 1;
        if !has(Table::Statements) {
            first.without_statements.note(|| listing.symbol.to_string());
        }
        if has(Table::Prices) {
            first.with_prices += 1;
        } else {
            first.without_prices.note(|| listing.symbol.to_string());
        }
    }
    currencies.extend(&reporting);
    rates(ctx, snapshot, &currencies, &reporting, &mut first);
    first
}

/// What is missing of exchange rates and yields on the newest day.
fn rates(ctx: &Ctx, snapshot: &Snapshot, currencies: &BTreeSet<Currency>, reporting: &BTreeSet<Currency>, first: &mut FirstData) {
    let Some((_, newest)) = snapshot.sessions() else { return };
    let as_of = ctx.engine.as_of(newest);
    let base = as_of.base;
    for currency in currencies.iter().filter(|c| **c != base && as_of.fx(**c, base).is_none()) {
        first.without_fx.note(|| currency.to_string());
    }
    for currency in reporting.iter().filter(|c| as_of.rate(**c, RateSeries::Government10yYield).is_none()) {
        first.without_yield.note(|| currency.to_string());
    }
}

//! What the accounts are worth on one day.

use super::{amounts::number, books::Ledger, event::Security, track::Quotes};
use crate::panel::AsOf;
use std::sync::Arc;

/// What is held of a security in an account, in the base currency.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub struct Held {
    pub account: Arc<str>,
    pub security: Security,
    pub value_base: f64,
}

/// All accounts on the market's day: holdings, and the whole with the cash, in the base currency.
#[must_use]
pub fn worth(ledger: &Ledger, market: AsOf<'_>) -> (Vec<Held>, f64) {
    let quotes = Quotes::of(ledger, market, &[market.t]);
    let (mut held, mut whole) = (Vec::new(), 0.0);
    for books in ledger.accounts() {
        let rate = quotes.to_base(books.account.currency, market.t).unwrap_or_default();
        whole += number(books.cash) * rate;
        for p in books.positions.values() {
            let price = quotes.price(p, books.account.currency, 0, market.t);
            let value_base = rate * price.map_or(number(p.cost().own), |price| number(p.quantity()) * price);
            whole += value_base;
            held.push(Held { account: books.account.name.clone(), security: p.security.clone(), value_base });
        }
    }
    (held, whole)
}

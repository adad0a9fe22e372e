//! What the accounts were worth day by day, and what the same money would be worth in an index.

use super::{
    amounts::number,
    books::{AccountBooks, Booked, Ledger},
    event::{AccountKind, Security, What},
    lots::Position,
};
use crate::{
    domain::{Currency, Day},
    panel::AsOf,
};
use std::{collections::HashMap, sync::Arc};

/// An account, or all of them, at the end of a day.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct DayOf {
    /// Of an account in its currency; of all accounts 0.
    pub value: f64,
    /// The value at the close, before what was entered that day.
    pub before: f64,
    /// What went in that day less what came out.
    pub flow: f64,
    /// All in the base currency, at the day's rates.
    pub value_base: f64,
    #[allow(missing_docs)]
    pub before_base: f64,
    #[allow(missing_docs)]
    pub flow_base: f64,
}

/// The days of a ledger: its sessions, and the days between them on which something was entered.
#[derive(Clone, Debug, Default)]
pub struct Track {
    #[allow(missing_docs)]
    pub days: Vec<Day>,
    /// By account, day by day.
    pub accounts: Vec<Vec<DayOf>>,
    /// All accounts in the base currency.
    pub total: Vec<DayOf>,
}

/// Replays a journal over some days, those of [`days_of`]; `look` sees the books at the end of each, and which it is.
pub fn track(ledger: &Ledger, market: AsOf<'_>, days: &[Day], mut look: impl FnMut(usize, &Ledger, &Quotes<'_>)) -> Track {
    let journal = ledger.journal();
    let quotes = Quotes::of(ledger, market, days);
    let mut books = Ledger::new(ledger.accounts().iter().map(|a| a.account.clone()));
    let mut out = Track { accounts: vec![Vec::with_capacity(days.len()); books.accounts().len()], ..Track::default() };
    let mut next = journal.iter().peekable();
    for (i, day) in days.iter().enumerate() {
        let mut flows = vec![0.0; out.accounts.len()];
        let before: Vec<f64> = books.accounts().iter().map(|a| quotes.value(a, i, *day)).collect();
        while let Some(booked) = next.next_if(|b| b.event.date <= *day) {
            // It was booked before, on the same books.
            if books.book_as(booked.n, market, booked.event.clone()).is_ok() {
                add_flow(&mut flows, &books, booked);
            }
        }
        let mut total = DayOf::default();
        for (((account, flow), before), track) in books.accounts().iter().zip(flows).zip(before).zip(&mut out.accounts) {
            let rate = market.at(*day).fx(account.account.currency, market.base).unwrap_or_default();
            let value = quotes.value(account, i, *day);
            // Of a simulated account the broker's work belongs to the session, what is recorded by hand comes after it.
            let before = if account.account.kind == AccountKind::ByHand { before } else { value - flow };
            let of = DayOf { value, before, flow, value_base: value * rate, before_base: before * rate, flow_base: flow * rate };
            total.value_base += of.value_base;
            total.before_base += of.before_base;
            total.flow_base += of.flow_base;
            track.push(of);
        }
        out.total.push(total);
        look(i, &books, &quotes);
    }
    out.days = days.to_vec();
    out
}

fn add_flow(flows: &mut [f64], books: &Ledger, booked: &Booked) {
    let amount = match &booked.event.what {
        What::Deposit { amount } => *amount,
        What::Withdrawal { amount } => -*amount,
        _ => return,
    };
    if let Some(at) = books.accounts().iter().position(|a| a.account.name == booked.event.account) {
        flows[at] += number(amount);
    }
}

/// The sessions from the first event up to the market's day, the days between on which anything happened, and those that are wanted.
#[must_use]
pub fn days_of(ledger: &Ledger, market: AsOf<'_>, wanted: &[Day]) -> Vec<Day> {
    let Some(first) = ledger.journal().first().map(|b| b.event.date) else { return Vec::new() };
    let mut days = market.snapshot.sessions_after(first.plus_days(-1));
    days.extend(ledger.journal().iter().map(|b| b.event.date));
    days.extend(wanted);
    days.retain(|d| (first..=market.t).contains(d));
    days.sort_unstable();
    days.dedup();
    days
}

/// The closes of all that was ever held, by day.
#[derive(Debug)]
pub struct Quotes<'a> {
    market: AsOf<'a>,
    closes: HashMap<Arc<str>, (Currency, Vec<Option<f64>>)>,
}

impl<'a> Quotes<'a> {
    pub(super) fn of(ledger: &Ledger, market: AsOf<'a>, days: &[Day]) -> Quotes<'a> {
        let mut closes = HashMap::new();
        for booked in ledger.journal() {
            let Some(Security::Listed { company, .. }) = traded(booked) else { continue };
            if closes.contains_key(company) {
                continue;
            }
            if let Some(c) = market.snapshot.find(company).map(|i| market.company(i)) {
                closes.insert(company.clone(), (c.listing_currency(), c.quoted_on(days)));
            }
        }
        Quotes { market, closes }
    }

    /// What one of a position costs in the account's currency on the `i`th day: the last close, or the last price that was recorded.
    pub(super) fn price(&self, position: &Position, account: Currency, i: usize, day: Day) -> Option<f64> {
        let (currency, price, multiplier) = self.quoted(position, i)?;
        Some(price * multiplier * self.market.at(day).fx(currency, account)?)
    }

    /// The last close in the listing's currency, or the last price that was recorded, and what that is of.
    pub(super) fn quoted(&self, position: &Position, i: usize) -> Option<(Currency, f64, f64)> {
        let close = self.closes.get(position.security.key()).and_then(|(currency, all)| Some((*currency, all[i]?, 1.0)));
        let recorded = || position.recorded.map(|(price, multiplier, currency)| (currency, number(price), number(multiplier)));
        close.or_else(recorded)
    }

    pub(super) fn to_base(&self, account: Currency, day: Day) -> Option<f64> {
        self.market.at(day).fx(account, self.market.base)
    }

    /// Cash and positions; one without any price counts at its cost.
    fn value(&self, books: &AccountBooks, i: usize, day: Day) -> f64 {
        let worth = |p: &Position| match self.price(p, books.account.currency, i, day) {
            Some(price) => number(p.quantity()) * price,
            None => number(p.cost().own),
        };
        number(books.cash) + books.positions.values().map(worth).sum::<f64>()
    }
}

fn traded(booked: &Booked) -> Option<&Security> {
    match &booked.event.what {
        What::Fill { .. } => booked.effect.filled.as_ref().map(|f| &f.1),
        What::Recorded(trade) => Some(&trade.security),
        _ => None,
    }
}

/// Growth day by day, of the value at a close before the day's flows over that at the close before after its flows, multiplied; less
/// one. `of` gives value and flow of a day. `None` before anything was there.
///
/// 100 put in and worth 110, 110 more put in, then worth 231: 1.1 × 231 ÷ 220 − 1 = 15.5 %.
pub(super) fn time_weighted(days: &[DayOf], of: impl Fn(&DayOf) -> (f64, f64)) -> Option<f64> {
    let mut growth: Option<f64> = None;
    for pair in days.windows(2) {
        let ((before, flow), (value, _)) = (of(&pair[0]), of(&pair[1]));
        if before + flow > 0.0 {
            *growth.get_or_insert(1.0) *= value / (before + flow);
        }
    }
    growth.map(|g| g - 1.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn time_weights_the_days_and_not_the_money() {
        let day = |before: f64, flow: f64| DayOf { before, flow, ..DayOf::default() };
        let of = |days: &[DayOf]| time_weighted(days, |d| (d.before, d.flow));
        let all = [day(0.0, 0.0), day(0.0, 100.0), day(110.0, 110.0), day(231.0, 0.0)];
        assert!((of(&all).unwrap() - 0.155).abs() < 1e-12);
        assert_eq!(of(&all[..2]), None);
        // All taken out and put in again later: the days between count nothing.
        let pause = [day(0.0, 100.0), day(110.0, -110.0), day(0.0, 0.0), day(0.0, 50.0), day(55.0, 0.0)];
        assert!((of(&pause).unwrap() - 0.21).abs() < 1e-12);
    }
}

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
    let mut standing: Vec<Standing> = books.accounts().iter().map(|_| Standing::default()).collect();
    for (i, day) in days.iter().enumerate() {
        let rates = quotes.rates(&books, *day);
        let mut flows = vec![0.0; out.accounts.len()];
        let value =
            |standing: &[Standing], books: &Ledger, at: usize| standing[at].value(&books.accounts()[at], &quotes, &rates[at], (i, *day));
        let mut before: Vec<Option<f64>> = vec![None; out.accounts.len()];
        while let Some(booked) = next.next_if(|b| b.event.date <= *day) {
            let at = books.accounts().iter().position(|a| a.account.name == booked.event.account);
            // Of a simulated account the broker's work belongs to the session, what is recorded by hand comes after it.
            if let Some(at) = at.filter(|at| before[*at].is_none() && books.accounts()[*at].account.kind == AccountKind::ByHand) {
                before[at] = Some(value(&standing, &books, at));
            }
            // It was booked before, on the same books.
            if let (Some(at), true) = (at, books.book_as(booked.n, market, booked.event.clone()).is_ok()) {
                flows[at] += flow_of(booked);
                standing[at].follow(booked, &books.accounts()[at], &quotes);
            }
        }
        let mut total = DayOf::default();
        for (at, (flow, before)) in flows.into_iter().zip(before).enumerate() {
            let rate = quotes.to_base(books.accounts()[at].account.currency, *day).unwrap_or_default();
            let value = value(&standing, &books, at);
            let before = before.unwrap_or(value - flow);
            let of = DayOf { value, before, flow, value_base: value * rate, before_base: before * rate, flow_base: flow * rate };
            total.value_base += of.value_base;
            total.before_base += of.before_base;
            total.flow_base += of.flow_base;
            out.accounts[at].push(of);
        }
        out.total.push(total);
        look(i, &books, &quotes);
    }
    out.days = days.to_vec();
    out
}

/// What went in less what came out.
fn flow_of(booked: &Booked) -> f64 {
    match &booked.event.what {
        What::Deposit { amount } => number(*amount),
        What::Withdrawal { amount } => -number(*amount),
        _ => 0.0,
    }
}

/// What an account holds in plain numbers, so that a day's value is a sum of products.
#[derive(Default)]
struct Standing {
    held: Vec<InNumbers>,
    /// Where in `held` each security is.
    places: HashMap<Arc<str>, usize>,
}

/// A position in plain numbers.
struct InNumbers {
    /// Its closes among the quotes, where it has any.
    closes: Option<usize>,
    quantity: f64,
    /// In the account's currency.
    cost: f64,
    /// The last price that was recorded, times what it is of, and its currency.
    recorded: Option<(f64, Currency)>,
}

impl Standing {
    fn follow(&mut self, booked: &Booked, books: &AccountBooks, quotes: &Quotes<'_>) {
        let Some(key) = moved(booked) else { return };
        let now = match books.positions.get(key) {
            Some(p) => InNumbers {
                closes: quotes.places.get(key).copied(),
                quantity: number(p.quantity()),
                cost: number(p.cost().own),
                recorded: p.recorded.map(|(price, multiplier, currency)| (number(price * multiplier), currency)),
            },
            None => InNumbers { closes: None, quantity: 0.0, cost: 0.0, recorded: None },
        };
        match self.places.get(key) {
            Some(place) => self.held[*place] = now,
            None => {
                self.places.insert(key.clone(), self.held.len());
                self.held.push(now);
            }
        }
    }

    /// Cash and positions; one without any price counts at its cost. `rates` are those of the closes' currencies to the account's.
    fn value(&self, books: &AccountBooks, quotes: &Quotes<'_>, rates: &[f64], (i, day): (usize, Day)) -> f64 {
        let recorded = |p: &InNumbers| {
            let rate = |currency| quotes.market.at(day).fx(currency, books.account.currency);
            p.recorded.and_then(|(price, currency)| Some(p.quantity * price * rate(currency)?)).unwrap_or(p.cost)
        };
        let worth = |p: &InNumbers| {
            let quoted = p.closes.map(|place| &quotes.closes[place]).and_then(|of| Some(of.closes[i]? * rates[of.currency]));
            quoted.map_or_else(|| recorded(p), |price| p.quantity * price)
        };
        number(books.cash) + self.held.iter().filter(|p| p.quantity != 0.0).map(worth).sum::<f64>()
    }
}

/// The security of which another quantity is held after an event, or at another recorded price.
fn moved(booked: &Booked) -> Option<&Arc<str>> {
    match &booked.event.what {
        What::Split { security, .. } | What::Delisted { security, .. } | What::RecordedPrice { security, .. } => Some(security.key()),
        _ => traded(booked).map(Security::key),
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
    closes: Vec<Closes>,
    /// Where in `closes` each security is.
    places: HashMap<Arc<str>, usize>,
    currencies: Vec<Currency>,
}

#[derive(Debug)]
struct Closes {
    /// Its place among the currencies.
    currency: usize,
    closes: Vec<Option<f64>>,
}

impl<'a> Quotes<'a> {
    pub(super) fn of(ledger: &Ledger, market: AsOf<'a>, days: &[Day]) -> Quotes<'a> {
        let mut out = Quotes { market, closes: Vec::new(), places: HashMap::new(), currencies: Vec::new() };
        for booked in ledger.journal() {
            let Some(Security::Listed { company, .. }) = traded(booked) else { continue };
            if out.places.contains_key(company) {
                continue;
            }
            if let Some(c) = market.snapshot.find(company).map(|i| market.company(i)) {
                let known = out.currencies.iter().position(|x| *x == c.listing_currency());
                let currency = known.unwrap_or(out.currencies.len());
                if known.is_none() {
                    out.currencies.push(c.listing_currency());
                }
                out.places.insert(company.clone(), out.closes.len());
                out.closes.push(Closes { currency, closes: c.quoted_on(days) });
            }
        }
        out
    }

    /// The rates of a day from each currency of the closes to that of each account.
    fn rates(&self, books: &Ledger, day: Day) -> Vec<Vec<f64>> {
        let to = |account: Currency| self.currencies.iter().map(|c| self.market.at(day).fx(*c, account).unwrap_or_default()).collect();
        books.accounts().iter().map(|a| to(a.account.currency)).collect()
    }

    /// What one of a position costs in the account's currency on the `i`th day: the last close, or the last price that was recorded.
    pub(super) fn price(&self, position: &Position, account: Currency, i: usize, day: Day) -> Option<f64> {
        let (currency, price, multiplier) = self.quoted(position, i)?;
        Some(price * multiplier * self.market.at(day).fx(currency, account)?)
    }

    /// The last close in the listing's currency, or the last price that was recorded, and what that is of.
    pub(super) fn quoted(&self, position: &Position, i: usize) -> Option<(Currency, f64, f64)> {
        let of = self.places.get(position.security.key()).map(|place| &self.closes[*place]);
        let close = of.and_then(|of| Some((self.currencies[of.currency], of.closes[i]?, 1.0)));
        let recorded = || position.recorded.map(|(price, multiplier, currency)| (currency, number(price), number(multiplier)));
        close.or_else(recorded)
    }

    pub(super) fn to_base(&self, account: Currency, day: Day) -> Option<f64> {
        self.market.at(day).fx(account, self.market.base)
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

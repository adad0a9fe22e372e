//! What one unit of a company, with its dividends put back into it, was worth at each session.

use super::calendar::Calendar;
use crate::{
    domain::{Currency, Day},
    panel::{AsOf, CompanyAt, CompanyIndex, Field},
};
use fixedbitset::FixedBitSet;
use std::{
    collections::{HashMap, HashSet},
    ops::Range,
};

/// Days within which a purchase waits for a price.
const PATIENCE: i32 = 10;

/// Prices in the base currency, as they were known at the end of a backtest: of each session only what was known then takes part.
#[derive(Debug)]
pub(super) struct Prices<'a> {
    pub(super) as_of: AsOf<'a>,
    calendar: &'a Calendar,
    /// Units of the base currency by session, from the first session with a rate on.
    rates: HashMap<Currency, (usize, Vec<f64>)>,
}

/// A company over the sessions.
#[derive(Debug)]
pub(super) struct Priced {
    /// The first session at which it had a price.
    first: usize,
    /// The value of a unit in the base currency at each session: of one share on the first day, with splits, and with each dividend
    /// turned into shares at the close of its ex-date. A session without a price has that of the last close.
    unit: Vec<f64>,
    /// The sessions on which it traded.
    traded: FixedBitSet,
    /// The session at which it left the exchange, and what was then paid for one of its last close.
    left: Option<(usize, f64)>,
}

/// How a purchase begins.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Entry {
    /// At a session: the trade's own, or the first one with a price in the ten days after.
    At(usize),
    /// There is no price in time.
    NoPrice,
    /// It left the exchange before it could be bought.
    Left,
}

impl<'a> Prices<'a> {
    /// Of some companies over the sessions of a calendar.
    pub(super) fn new(as_of: AsOf<'a>, calendar: &'a Calendar, companies: &[CompanyIndex]) -> Prices<'a> {
        let currencies: HashSet<Currency> = companies.iter().map(|i| as_of.company(*i).listing_currency()).collect();
        let rates = currencies.into_iter().map(|c| (c, rates(as_of, calendar, c))).collect();
        Prices { as_of, calendar, rates }
    }

    pub(super) fn company(&self, index: CompanyIndex) -> CompanyAt<'a> {
        self.as_of.company(index)
    }

    /// The price that is seen on a session: the last close, on the split basis of the day.
    pub(super) fn seen(&self, index: CompanyIndex, session: usize) -> f64 {
        self.as_of.at(self.calendar.sessions[session]).company(index).price().unwrap_or_default()
    }

    /// The base currency's units for one of a company's price at a session.
    pub(super) fn rate(&self, index: CompanyIndex, session: usize) -> Option<f64> {
        let (first, rates) = self.rates.get(&self.company(index).listing_currency())?;
        session.checked_sub(*first).and_then(|i| rates.get(i)).copied()
    }

    /// A company over the sessions; `None` of one without a price or rate by the end.
    pub(super) fn of(&self, index: CompanyIndex) -> Option<Priced> {
        let c = self.company(index);
        let bars = c.bars();
        let (sessions, dates) = (&self.calendar.sessions, bars.dates());
        let (first_rate, rates) = self.rates.get(&c.listing_currency()).filter(|r| !r.1.is_empty())?;
        let before = bars.upto(sessions[0].plus_days(-1));
        let closes = bars.series(Field::Close, before.saturating_sub(1)..dates.len());
        let dates = &dates[before.saturating_sub(1)..];
        let mut dividends = c.dividends().map_or_else(|_| Vec::new(), |all| all.filter(|d| d.ex_date > sessions[0]).collect());
        dividends.reverse();
        let (mut unit, mut traded) = (Vec::with_capacity(sessions.len()), FixedBitSet::with_capacity(sessions.len()));
        let (mut at, mut close, mut shares, mut first) = (0, None, 1.0, None);
        for (s, day) in sessions.iter().enumerate() {
            while dates.get(at).is_some_and(|d| d <= day) {
                close = Some(closes[at]);
                traded.set(s, dates[at] == *day);
                at += 1;
            }
            let price = close.filter(|close| *close > 0.0);
            while let Some(paid) = dividends.pop_if(|d| d.ex_date <= *day) {
                shares *= price.map_or(1.0, |price| 1.0 + paid.amount / price);
            }
            let value = price.filter(|_| s >= *first_rate).map(|price| price * shares * rates[s - first_rate]);
            first = first.or(value.map(|_| s));
            unit.push(value.unwrap_or_default());
        }
        let listing = c.listing().and_then(|l| Some((l.delisted_on?, 1.0 + l.delisting_return.unwrap_or_default())));
        let left =
            listing.filter(|(day, _)| *day <= sessions[sessions.len() - 1]).map(|(day, paid)| (self.calendar.on_or_after(day), paid));
        Some(Priced { first: first?, unit, traded, left })
    }
}

/// Rates to the base currency, the last one where a session has none, from the first session with one on.
fn rates(as_of: AsOf<'_>, calendar: &Calendar, currency: Currency) -> (usize, Vec<f64>) {
    let rate = |day: &Day| as_of.at(*day).fx(currency, as_of.base);
    let first = calendar.sessions.iter().position(|day| rate(day).is_some()).unwrap_or(calendar.sessions.len());
    let mut last = 0.0;
    let each = calendar.sessions[first..].iter().map(|day| {
        last = rate(day).unwrap_or(last);
        last
    });
    (first, each.collect())
}

impl Priced {
    /// The value of a unit at a session.
    pub(super) fn unit(&self, session: usize) -> f64 {
        self.unit[session]
    }

    /// The same of some sessions.
    pub(super) fn units(&self, sessions: Range<usize>) -> &[f64] {
        &self.unit[sessions]
    }

    /// Whether it has a close of the session.
    pub(super) fn trades_on(&self, session: usize) -> bool {
        session >= self.first && self.traded.contains(session)
    }

    /// When it left the exchange, and what was then paid for one of its last close.
    pub(super) const fn left(&self) -> Option<(usize, f64)> {
        self.left
    }

    /// Whether it had left the exchange by a session.
    pub(super) fn left_by(&self, session: usize) -> bool {
        self.left.is_some_and(|(day, _)| day <= session)
    }

    /// How a purchase begins that is to be made at a session.
    pub(super) fn entry(&self, trade: usize, sessions: &[Day]) -> Entry {
        let last = sessions[trade].plus_days(PATIENCE);
        let within = (trade..sessions.len()).take_while(|s| sessions[*s] <= last);
        for s in within {
            if self.left_by(s) {
                return Entry::Left;
            }
            if self.trades_on(s) {
                return Entry::At(s);
            }
        }
        Entry::NoPrice
    }

    /// What became of one unit of money from one session to a later one, and whether it is in cash then, having left the exchange.
    pub(super) fn growth(&self, from: usize, to: usize) -> (f64, bool) {
        match self.left {
            Some((day, paid)) if day > from && day <= to => (self.unit[day] / self.unit[from] * paid, true),
            _ => (self.unit[to] / self.unit[from], false),
        }
    }
}

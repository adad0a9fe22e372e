//! Four indexes, weighted by market value, dividends reinvested: the Reach 300, and all shares of each exchange.

use crate::{
    character::Character,
    economy::{Economy, STATES, currency, rounded},
    prices::Traded,
    quarter::Quarter,
};
use artemon_core::domain::{Currency, Day, Index, IndexLevel, IndexMember, Kind, Record};
use std::sync::Arc;

/// Id, name and state of the index of each exchange.
const EXCHANGES: [(&str, &str); 3] = [("ORRIN", "Orrin shares"), ("CALDER", "Calder shares"), ("VESPER", "Vesper shares")];
const REACH: (&str, &str) = ("REACH300", "Reach 300");
/// Members of the large index.
const LARGEST: usize = 300;
/// Companies that may be kept before those that never were among the largest are let go.
const CANDIDATES: usize = 4 * LARGEST;
const BASE_LEVEL: f64 = 1000.0;

/// What indexes need to know of a company.
#[derive(Debug)]
pub(crate) struct Weight {
    company: Arc<str>,
    exchange: usize,
    fund: bool,
    pub(crate) listed_on: Day,
    delisted_on: Option<Day>,
    /// The session of its first price.
    first: usize,
    /// Market value in crowns by session.
    value: Vec<f32>,
    /// Close and dividend over the close before, in the currency of the exchange, by session.
    gain: Vec<f32>,
}

impl Weight {
    #[allow(clippy::cast_possible_truncation)]
    pub(crate) fn of(c: &Character, books: &[Quarter], market: &Traded, economy: &Economy) -> Weight {
        let mut split = 1.0;
        let (mut splits, mut dividends) = (market.splits.iter().peekable(), market.dividends.iter().peekable());
        let (mut value, mut gain) = (Vec::with_capacity(market.bars.len()), Vec::with_capacity(market.bars.len()));
        let mut before: Option<f64> = None;
        for (i, bar) in market.bars.iter().enumerate() {
            let mut ratio = 1.0;
            while let Some(s) = splits.next_if(|s| s.0 <= bar.date) {
                ratio *= s.1;
            }
            split *= ratio;
            let mut paid = 0.0;
            while let Some(d) = dividends.next_if(|d| d.ex_date <= bar.date) {
                paid += d.amount;
            }
            let units = books[Economy::quarter_of(bar.date)].shares * split / c.shares_a_unit();
            value.push((bar.close * units * economy.crowns(c.exchange(), market.first + i)) as f32);
            gain.push(before.map_or(1.0, |b| (bar.close + paid) * ratio / b) as f32);
            before = Some(bar.close);
        }
        Weight {
            company: c.id.clone(),
            exchange: c.exchange(),
            fund: c.industry.kind == Kind::Fund,
            listed_on: c.listed_on,
            delisted_on: c.delisted.map(|d| d.0),
            first: market.first,
            value,
            gain,
        }
    }

    /// Market value before a session and what became of each crown of it, `None` when it was not traded on both days.
    fn step(&self, session: usize) -> Option<(f64, f64)> {
        let i = session.checked_sub(self.first).filter(|i| *i > 0)?;
        Some((f64::from(*self.value.get(i - 1)?), f64::from(*self.gain.get(i)?)))
    }

    fn value_on(&self, session: usize) -> f32 {
        session.checked_sub(self.first).and_then(|i| self.value.get(i)).copied().unwrap_or(0.0)
    }
}

/// Sums of values by session: before it, and after it.
type Sums = (Vec<f64>, Vec<f64>);

/// Indexes in the making: companies come one after another.
#[derive(Debug)]
pub(crate) struct Indexes {
    members: Vec<Record>,
    sums: [Sums; 3],
    /// The last sessions of half-years, on which the largest are chosen.
    reviews: Vec<usize>,
    candidates: Vec<Weight>,
}

impl Indexes {
    pub(crate) fn new(economy: &Economy) -> Indexes {
        let half = |i: usize| economy.sessions[i].month_index().div_euclid(6);
        let n = economy.sessions.len();
        Indexes {
            members: Vec::new(),
            sums: std::array::from_fn(|_| (vec![0.0; n], vec![0.0; n])),
            reviews: std::iter::once(0).chain((0..n - 1).filter(|i| half(*i) != half(i + 1))).collect(),
            candidates: Vec::new(),
        }
    }

    pub(crate) fn add(&mut self, w: Weight) {
        if w.fund || w.value.is_empty() {
            return;
        }
        let (before, after) = &mut self.sums[w.exchange];
        for session in w.first + 1..w.first + w.value.len() {
            if let Some((value, gain)) = w.step(session) {
                before[session] += value;
                after[session] += value * gain;
            }
        }
        self.members.push(member(EXCHANGES[w.exchange].0, &w.company, w.listed_on, w.delisted_on));
        self.candidates.push(w);
        if self.candidates.len() > CANDIDATES + LARGEST {
            self.forget_the_small();
        }
    }

    /// Lets go of companies that were not among the largest on any review.
    fn forget_the_small(&mut self) {
        let least: Vec<f32> = self.reviews.iter().map(|r| least_of_largest(&self.candidates, *r)).collect();
        let reviews = &self.reviews;
        self.candidates.retain(|w| reviews.iter().zip(&least).any(|(r, least)| w.value_on(*r) >= *least && *least > 0.0));
    }

    pub(crate) fn records(mut self, economy: &Economy) -> Vec<Record> {
        self.forget_the_small();
        let mut out = vec![index(REACH.0, REACH.1, currency("ZOC"))];
        out.extend(EXCHANGES.iter().zip(&STATES).map(|((id, name), state)| index(id, name, currency(state.currency))));
        for ((id, _), sums) in EXCHANGES.iter().zip(&self.sums) {
            out.extend(levels(id, sums, economy));
        }
        let (sums, members) = self.largest(economy);
        out.extend(levels(REACH.0, &sums, economy));
        out.extend(members);
        out.extend(self.members);
        out
    }

    fn largest(&self, economy: &Economy) -> (Sums, Vec<Record>) {
        let n = economy.sessions.len();
        let mut sums = (vec![0.0; n], vec![0.0; n]);
        let least: Vec<f32> = self.reviews.iter().map(|r| least_of_largest(&self.candidates, *r)).collect();
        let mut members = Vec::new();
        for w in &self.candidates {
            let mut since: Option<Day> = None;
            for (k, review) in self.reviews.iter().enumerate() {
                // The choice of a review holds from the session after it; the first holds at once.
                let from = if k == 0 { 0 } else { review + 1 };
                let until = self.reviews.get(k + 1).map_or(n, |r| r + 1);
                let day = economy.sessions[from];
                let chosen = w.value_on(*review) >= least[k].max(f32::MIN_POSITIVE) && w.delisted_on.is_none_or(|d| d > day);
                match (chosen, since) {
                    (true, None) => since = Some(day),
                    (false, Some(start)) => {
                        members.push(member(REACH.0, &w.company, start, Some(w.delisted_on.map_or(day, |d| d.min(day)))));
                        since = None;
                    }
                    _ => {}
                }
                for session in (from.max(1)..until).filter(|_| chosen) {
                    if let Some((value, gain)) = w.step(session) {
                        let fx = economy.crowns(w.exchange, session) / economy.crowns(w.exchange, session - 1);
                        sums.0[session] += value;
                        sums.1[session] += value * gain * fx;
                    }
                }
            }
            members.extend(since.map(|start| member(REACH.0, &w.company, start, w.delisted_on)));
        }
        (sums, members)
    }
}

/// The market value of the smallest of the largest on a session.
fn least_of_largest(all: &[Weight], session: usize) -> f32 {
    let mut values: Vec<f32> = all.iter().map(|w| w.value_on(session)).filter(|v| *v > 0.0).collect();
    if values.len() <= LARGEST {
        return values.into_iter().fold(f32::MAX, f32::min).min(f32::MAX);
    }
    *values.select_nth_unstable_by(LARGEST - 1, |a, b| b.total_cmp(a)).1
}

fn levels(id: &str, (before, after): &Sums, economy: &Economy) -> Vec<Record> {
    let id: Arc<str> = id.into();
    let mut level = BASE_LEVEL;
    let one = |(i, date): (usize, &Day)| {
        if before[i] > 0.0 {
            level *= after[i] / before[i];
        }
        Record::IndexLevel(IndexLevel { index_id: id.clone(), date: *date, level: rounded(level, 2) })
    };
    economy.sessions.iter().enumerate().map(one).collect()
}

fn index(id: &str, name: &str, currency: Currency) -> Record {
    Record::Index(Index { id: id.into(), name: name.to_owned(), currency })
}

fn member(index: &str, company: &Arc<str>, from: Day, to: Option<Day>) -> Record {
    Record::IndexMember(IndexMember { index_id: index.into(), company_id: company.clone(), from, to })
}

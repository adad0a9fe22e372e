//! The whole field from which a screen picks: what became of every candidate between two trade sessions, and of all of them together.

use super::{
    calendar::Calendar,
    decide::Among,
    priced::{Entry, Priced, Prices},
};
use crate::{engine::Keep, panel::CompanyIndex};
use rayon::prelude::*;
use std::{collections::BTreeMap, ops::Range, sync::Arc};

/// Companies that are worked on together: sums are made in their order, so that they are the same to the last digit each time.
const TOGETHER: usize = 128;

/// How a purchase of a candidate begins.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Start {
    /// At the trade session.
    Now,
    /// At the first close after it.
    Late,
    /// It cannot be bought.
    Never,
}

/// What became of one unit of money in a candidate from a trade session to the next one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Growth {
    pub(super) start: Start,
    /// Of a purchase.
    pub(super) bought: f64,
    /// Of what was held already, at the last close where there is none of the session.
    pub(super) held: f64,
    /// Whether it left the exchange meanwhile and is cash.
    pub(super) in_cash: bool,
}

impl Growth {
    const NEVER: Growth = Growth { start: Start::Never, bought: 0.0, held: 0.0, in_cash: true };
}

/// All candidates at all rebalances.
#[derive(Debug)]
pub(super) struct Field {
    /// By rebalance, by place among the candidates.
    pub(super) growth: Vec<Vec<Growth>>,
    /// All candidates held in equal weights, without costs: by session, 1 at the first.
    pub(super) equal: Vec<f64>,
    /// The same weighted by market value.
    pub(super) cap: Vec<f64>,
}

impl Keep for Field {
    fn bytes(&self) -> usize {
        self.growth.iter().map(|g| size_of_val(&**g)).sum::<usize>() + size_of_val(&*self.equal) + size_of_val(&*self.cap)
    }
}

/// Where a company is a candidate: the rebalance, its place, its market value.
type Candidacies = Vec<(usize, usize, Option<f64>)>;

impl Field {
    /// Of those among whom the decisions of a calendar choose.
    pub(super) fn new(prices: &Prices<'_>, calendar: &Calendar, among: &[Arc<Among>], go_on: &(dyn Fn() + Sync)) -> Field {
        let mut companies: BTreeMap<CompanyIndex, Candidacies> = BTreeMap::new();
        for (k, among) in among.iter().enumerate() {
            for (place, (company, cap)) in among.candidates.iter().zip(&among.caps).enumerate() {
                companies.entry(*company).or_default().push((k, place, *cap));
            }
        }
        let companies: Vec<(CompanyIndex, Candidacies)> = companies.into_iter().collect();
        let part = |some: &[(CompanyIndex, Candidacies)]| {
            go_on();
            let mut part = Part { found: Vec::new(), sums: [Sums::new(calendar), Sums::new(calendar)] };
            for (company, candidacies) in some {
                if let Some(priced) = prices.of(*company) {
                    part.add(&priced, candidacies, calendar);
                }
            }
            part
        };
        let parts: Vec<Part> = companies.par_chunks(TOGETHER).map(part).collect();
        let mut growth: Vec<Vec<Growth>> = among.iter().map(|a| vec![Growth::NEVER; a.candidates.len()]).collect();
        let mut sums = [Sums::new(calendar), Sums::new(calendar)];
        for part in parts {
            part.found.into_iter().for_each(|(k, place, found)| growth[k][place] = found);
            sums.iter_mut().zip(&part.sums).for_each(|(sums, part)| sums.add(part));
        }
        let [equal, cap] = sums.map(|s| s.chained(calendar));
        Field { growth, equal, cap }
    }
}

/// What some of the companies add.
struct Part {
    found: Vec<(usize, usize, Growth)>,
    /// In equal weights, and by market value.
    sums: [Sums; 2],
}

impl Part {
    fn add(&mut self, priced: &Priced, candidacies: &Candidacies, calendar: &Calendar) {
        // Up to which session it is held in each of the portfolios of all candidates.
        let mut held_to = [0, 0];
        for &(k, place, cap) in candidacies {
            let (trade, end) = (calendar.rebalances[k].trade, calendar.end_of(k));
            let entry = priced.entry(trade, &calendar.sessions);
            let (start, from) = match entry {
                Entry::At(session) if session == trade => (Start::Now, trade),
                Entry::At(session) => (Start::Late, session),
                Entry::NoPrice | Entry::Left => (Start::Never, trade),
            };
            let seen = priced.unit(trade) > 0.0 && !priced.left_by(trade);
            let (held, left) = if seen { priced.growth(trade, end) } else { (0.0, true) };
            let (bought, left) = match start {
                Start::Now => (held, left),
                Start::Late => priced.growth(from.min(end), end),
                Start::Never => (0.0, left),
            };
            self.found.push((k, place, Growth { start, bought, held, in_cash: left }));
            for ((sums, held_to), weight) in self.sums.iter_mut().zip(&mut held_to).zip([Some(1.0), cap]) {
                let Some(weight) = weight else { continue };
                let holds = *held_to == trade && k > 0 && seen;
                let from = if holds { trade } else { from };
                if holds || start != Start::Never {
                    sums.hold(priced, k, weight, from, trade..end);
                    *held_to = end;
                }
            }
        }
    }
}

/// The weighted value of all candidates by session, each being one at its trade session, and the weights by rebalance.
struct Sums {
    values: Vec<f64>,
    /// Of each trade session the value that its own purchases have then.
    weights: Vec<f64>,
}

impl Sums {
    fn new(calendar: &Calendar) -> Sums {
        Sums { values: vec![0.0; calendar.sessions.len()], weights: vec![0.0; calendar.rebalances.len()] }
    }

    /// Adds a company that is bought at `from`, or waits for it as cash, over the sessions after a trade.
    fn hold(&mut self, priced: &Priced, k: usize, weight: f64, from: usize, period: Range<usize>) {
        self.weights[k] += weight;
        let (end, bought) = (period.end, priced.unit(from));
        let gone = priced.left().map_or(end + 1, |(day, _)| if day > from { day.min(end + 1) } else { end + 1 });
        let waits = period.start + 1..(from + 1).min(end + 1);
        self.values[waits].iter_mut().for_each(|value| *value += weight);
        let held = (period.start + 1).max(from + 1).min(gone)..gone;
        let each = weight / bought;
        self.values[held.clone()].iter_mut().zip(priced.units(held)).for_each(|(value, unit)| *value += each * unit);
        if gone <= end {
            let paid = weight * priced.growth(from, end).0;
            self.values[gone..=end].iter_mut().for_each(|value| *value += paid);
        }
    }

    fn add(&mut self, other: &Sums) {
        self.values.iter_mut().zip(&other.values).for_each(|(a, b)| *a += b);
        self.weights.iter_mut().zip(&other.weights).for_each(|(a, b)| *a += b);
    }

    /// From one period to the next: 1 up to the first trade.
    fn chained(self, calendar: &Calendar) -> Vec<f64> {
        let mut curve = vec![1.0; calendar.sessions.len()];
        for (k, rebalance) in calendar.rebalances.iter().enumerate() {
            let start = curve[rebalance.trade];
            let held = rebalance.trade + 1..calendar.end_of(k) + 1;
            for (value, sum) in curve[held.clone()].iter_mut().zip(&self.values[held]) {
                *value = if self.weights[k] > 0.0 { start * sum / self.weights[k] } else { start };
            }
        }
        curve
    }
}

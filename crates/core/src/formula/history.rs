//! Month-end histories of formulas, computed for all companies at once.

use crate::{domain::Day, panel::CompanyIndex, stats::Middle};
use std::{
    ops::Range,
    sync::{Arc, Mutex, PoisonError},
};

/// One formula's value at every company's own last session of every calendar month.
#[derive(Debug)]
pub struct History {
    /// Where each company's months begin; shared, as the dates are, by histories made together.
    offsets: Arc<Vec<usize>>,
    dates: Arc<Vec<Day>>,
    values: Vec<f64>,
    known: Vec<u64>,
    since: Day,
    /// Of each company the middle of the window asked for last, which stays for a month of dates.
    middles: Vec<Mutex<Option<MiddleOf>>>,
}

/// A window's index range and its cached median.
type MiddleOf = (Range<usize>, Middle);

/// The months of one company, oldest first, with the values of each of some formulas.
pub type Months = (Vec<Day>, Vec<Vec<Option<f64>>>);

impl History {
    /// The histories after `since` of some formulas over the same companies, which come in order; the others of `companies`
    /// have none.
    #[must_use]
    pub fn together(per_company: &[(CompanyIndex, Months)], companies: usize, formulas: usize, since: Day) -> Vec<History> {
        let mut offsets = Vec::with_capacity(companies + 1);
        let mut n = 0;
        for (company, months) in per_company {
            offsets.resize(*company as usize + 1, n);
            n += months.0.len();
        }
        offsets.resize(companies + 1, n);
        let (offsets, dates) = (Arc::new(offsets), Arc::new(per_company.iter().flat_map(|c| c.1.0.iter().copied()).collect::<Vec<_>>()));
        let one = |f: usize| {
            let (mut values, mut known) = (Vec::with_capacity(n), vec![0u64; n.div_ceil(64)]);
            for value in per_company.iter().flat_map(|c| &c.1.1[f]) {
                if value.is_some() {
                    known[values.len() / 64] |= 1 << (values.len() % 64);
                }
                values.push(value.unwrap_or_default());
            }
            let middles = (0..companies).map(|_| Mutex::default()).collect();
            History { offsets: offsets.clone(), dates: dates.clone(), values, known, since, middles }
        };
        (0..formulas).map(one).collect()
    }

    /// The same up to a day, followed by the months of a history that begins after it, of the same companies.
    #[must_use]
    pub fn going_on(&self, upto: Day, newer: &History) -> History {
        let companies = self.middles.len();
        let (mut offsets, mut dates) = (vec![0], Vec::new());
        let (mut values, mut known) = (Vec::new(), Vec::new());
        for company in 0..companies {
            let all = self.offsets[company]..self.offsets[company + 1];
            let kept = all.start..all.start + self.dates[all.clone()].partition_point(|d| *d <= upto);
            for (from, places) in [(self, kept), (newer, newer.offsets[company]..newer.offsets[company + 1])] {
                dates.extend_from_slice(&from.dates[places.clone()]);
                values.extend_from_slice(&from.values[places.clone()]);
                known.extend(places.map(|i| from.is_known(i)));
            }
            offsets.push(dates.len());
        }
        let known = known.chunks(64).map(|bits| bits.iter().rev().fold(0, |word, bit| word << 1 | u64::from(*bit))).collect();
        let middles = (0..companies).map(|_| Mutex::default()).collect();
        History { offsets: Arc::new(offsets), dates: Arc::new(dates), values, known, since: self.since, middles }
    }

    /// Roughly the memory it takes, in bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        self.values.len() * 9 + self.middles.len() * size_of::<Mutex<Option<MiddleOf>>>() + self.dates.len()
    }

    /// All months after this day are in it.
    #[must_use]
    pub fn since(&self) -> Day {
        self.since
    }

    /// The defined values of one company at sessions after `from`, in calendar months before `before`'s, oldest first.
    #[must_use]
    pub fn window(&self, company: CompanyIndex, from: Day, before: Day) -> Vec<f64> {
        let mut out = Vec::new();
        self.window_into(&mut out, company, from, before);
        out
    }

    /// Adds what [`History::window`] gives.
    pub fn window_into(&self, out: &mut Vec<f64>, company: CompanyIndex, from: Day, before: Day) {
        self.extend(out, self.places(company, from, before));
    }
}

impl History {
    /// The middle of what [`History::window`] gives.
    #[must_use]
    pub fn middle(&self, company: CompanyIndex, from: Day, before: Day) -> Middle {
        let places = self.places(company, from, before);
        let mut kept = self.middles[company as usize].lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((of, middle)) = &*kept
            && *of == places
        {
            return *middle;
        }
        let mut months = Vec::new();
        self.extend(&mut months, places.clone());
        let middle = Middle::of(&mut months);
        *kept = Some((places, middle));
        middle
    }

    /// Where the months of a window stand.
    fn places(&self, company: CompanyIndex, from: Day, before: Day) -> Range<usize> {
        let (start, end) = (self.offsets[company as usize], self.offsets[company as usize + 1]);
        let dates = &self.dates[start..end];
        let month_start = before.month_start();
        let first = start + dates.partition_point(|d| *d <= from);
        first..(start + dates.partition_point(|d| *d < month_start)).max(first)
    }

    fn extend(&self, out: &mut Vec<f64>, places: Range<usize>) {
        out.reserve(places.len() + 1);
        if !places.is_empty() && self.all_known(places.start, places.end) {
            return out.extend_from_slice(&self.values[places]);
        }
        out.extend(places.filter(|&i| self.is_known(i)).map(|i| self.values[i]));
    }

    fn is_known(&self, place: usize) -> bool {
        self.known[place / 64] >> (place % 64) & 1 == 1
    }

    /// Whether every value between two places is defined.
    fn all_known(&self, first: usize, last: usize) -> bool {
        let bits = |word: usize| {
            let (from, to) = (first.max(word * 64) % 64, last.min((word + 1) * 64) - word * 64);
            (u64::MAX >> (64 - (to - from))) << from
        };
        (first / 64..=(last - 1) / 64).all(|word| self.known[word] & bits(word) == bits(word))
    }
}

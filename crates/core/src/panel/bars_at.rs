//! The daily bars of one company as they are seen from a day.

use super::{bars::Field, company::CompanyPanel};
use crate::domain::Day;
use std::ops::Range;

/// Daily bars up to a date, on its split basis. Positions count from the oldest bar.
#[derive(Clone, Copy, Debug)]
pub struct BarsAt<'a> {
    panel: &'a CompanyPanel,
    len: usize,
    split_product: f64,
}

impl<'a> BarsAt<'a> {
    pub(super) const fn new(panel: &'a CompanyPanel, len: usize, split_product: f64) -> BarsAt<'a> {
        BarsAt { panel, len, split_product }
    }

    /// How many sessions are known.
    #[must_use]
    pub const fn len(&self) -> usize {
        self.len
    }

    /// Whether there are none.
    #[must_use]
    pub const fn is_empty(&self) -> bool {
        self.len == 0
    }

    /// The sessions' dates, oldest first.
    #[must_use]
    pub fn dates(&self) -> &'a [Day] {
        &self.panel.bars.dates()[..self.len]
    }

    /// The last session.
    #[must_use]
    pub fn last_date(&self) -> Option<Day> {
        self.dates().last().copied()
    }

    /// The last close.
    #[must_use]
    pub fn last_close(&self) -> Option<f64> {
        self.len.checked_sub(1).map(|i| self.close(i))
    }

    /// How many sessions lie on or before `day`.
    #[must_use]
    pub fn upto(&self, day: Day) -> usize {
        self.dates().partition_point(|d| *d <= day)
    }

    /// First price of a session.
    #[must_use]
    pub fn open(&self, i: usize) -> f64 {
        self.panel.bars.open(self.known(i)) / self.factor(i)
    }

    /// Highest price of a session.
    #[must_use]
    pub fn high(&self, i: usize) -> f64 {
        self.panel.bars.high(self.known(i)) / self.factor(i)
    }

    /// Lowest price of a session.
    #[must_use]
    pub fn low(&self, i: usize) -> f64 {
        self.panel.bars.low(self.known(i)) / self.factor(i)
    }

    /// Closing price of a session.
    #[must_use]
    pub fn close(&self, i: usize) -> f64 {
        self.panel.bars.close(self.known(i)) / self.factor(i)
    }

    /// Volume of a session in traded units.
    #[must_use]
    pub fn volume(&self, i: usize) -> f64 {
        self.panel.bars.volume(self.known(i)) * self.factor(i)
    }

    /// A field of the sessions at some positions.
    #[must_use]
    pub fn series(&self, field: Field, at: Range<usize>) -> Vec<f64> {
        let (dates, splits) = (self.panel.bars.dates(), &self.panel.splits);
        let mut out = self.panel.bars.series(field, at.start..self.end(&at));
        if self.on_one_basis(&at) {
            return out;
        }
        let (mut factor, mut holds_before) = (1.0, Day::MIN);
        for (value, date) in out.iter_mut().zip(&dates[at]) {
            if *date >= holds_before {
                factor = self.factor_on(*date);
                holds_before = splits.get(splits.partition_point(|s| s.ex_date <= *date)).map_or(Day::MAX, |s| s.ex_date);
            }
            *value = if field == Field::Volume { *value * factor } else { *value / factor };
        }
        out
    }

    /// The lowest figure of a field in some sessions.
    #[must_use]
    pub fn lowest(&self, field: Field, at: Range<usize>) -> Option<f64> {
        if self.on_one_basis(&at) {
            return self.panel.bars.ends(field, at.start..self.end(&at)).map(|ends| ends.0);
        }
        self.series(field, at).into_iter().min_by(f64::total_cmp)
    }

    /// The highest figure of a field in some sessions.
    #[must_use]
    pub fn highest(&self, field: Field, at: Range<usize>) -> Option<f64> {
        if self.on_one_basis(&at) {
            return self.panel.bars.ends(field, at.start..self.end(&at)).map(|ends| ends.1);
        }
        self.series(field, at).into_iter().max_by(f64::total_cmp)
    }

    /// Whether no bar of the sessions is on another basis: most companies have no split, or none so late.
    fn on_one_basis(&self, at: &Range<usize>) -> bool {
        let first = self.panel.bars.dates()[at.clone()].first();
        self.panel.splits.last().is_none_or(|s| first.is_none_or(|first| s.ex_date <= *first))
    }

    /// The end of a range of sessions, which must be known.
    fn end(&self, at: &Range<usize>) -> usize {
        assert!(at.end <= self.len, "session {} is not known yet", at.end);
        at.end
    }

    /// The position after the last session of each calendar month that is known, oldest first; the running month is the
    /// last.
    #[must_use]
    pub fn months(&self, newest: usize) -> Vec<usize> {
        let all = self.panel.bars.month_ends();
        let over = all.partition_point(|i| (*i as usize) < self.len);
        let running = (self.len > 0 && over.checked_sub(1).is_none_or(|i| all[i] as usize + 1 < self.len)).then_some(self.len);
        let whole = newest - usize::from(running.is_some()).min(newest);
        all[over.saturating_sub(whole)..over].iter().map(|i| *i as usize + 1).chain(running).collect()
    }

    /// The position, which must be a known session's.
    fn known(&self, i: usize) -> usize {
        assert!(i < self.len, "session {i} is not known yet");
        i
    }

    fn factor(&self, i: usize) -> f64 {
        if self.panel.splits.is_empty() { 1.0 } else { self.factor_on(self.panel.bars.dates()[i]) }
    }

    fn factor_on(&self, date: Day) -> f64 {
        self.split_product / self.panel.split_product(date)
    }
}

//! What models compute with: numbers, or the same arithmetic written down for a spreadsheet.

use crate::{Num, Why};
use std::ops::{Add, Div, Mul, Neg, Sub};

/// An amount, a rate or a multiple. [`f64`] is one; another may write down what is done to it.
pub trait Amount: Copy + Add<Output = Self> + Sub<Output = Self> + Mul<Output = Self> + Div<Output = Self> + Neg<Output = Self> {
    /// A number that is the same for every company.
    fn of(number: f64) -> Self;

    /// The smaller of two.
    #[must_use]
    fn least(self, other: Self) -> Self;

    /// The larger of two.
    #[must_use]
    fn most(self, other: Self) -> Self;

    /// Itself, where it is above zero.
    ///
    /// # Errors
    /// Where it is not.
    fn positive(self) -> Result<Self, Why>;

    /// What each of some parts adds to the mean of those that are defined and above zero, given to `take` with its words.
    ///
    /// # Errors
    /// When there are fewer than `fewest` of them.
    fn shares_of_mean(parts: &[(&'static str, Result<Self, Why>)], fewest: usize, take: impl FnMut(&'static str, Self)) -> Result<(), Why>;
}

impl Amount for f64 {
    fn of(number: f64) -> f64 {
        number
    }

    fn least(self, other: f64) -> f64 {
        self.min(other)
    }

    fn most(self, other: f64) -> f64 {
        self.max(other)
    }

    fn positive(self) -> Num {
        if self > 0.0 { Ok(self) } else { Err(Why::NotPositive) }
    }

    fn shares_of_mean(parts: &[(&'static str, Num)], fewest: usize, mut take: impl FnMut(&'static str, f64)) -> Result<(), Why> {
        let counting = parts.iter().filter_map(|(words, v)| Some((*words, (*v).ok().filter(|v| *v > 0.0)?)));
        let n = counting.clone().count();
        if n < fewest {
            return Err(parts.iter().find_map(|p| p.1.err()).unwrap_or(Why::HistoryTooShort));
        }
        counting.for_each(|(words, v)| take(words, v / n as f64));
        Ok(())
    }
}

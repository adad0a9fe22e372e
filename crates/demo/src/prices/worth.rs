//! What a share is worth to a well-informed market.

use super::gap::strays;
use crate::{character::Character, quarter::Quarter};
use artemon_core::domain::Day;

/// Quarters that the market looks ahead.
const AHEAD: usize = 4;
const MIDDLE_MULTIPLE: f64 = 13.0;
const DEAREST: f64 = 0.6;
/// Turns of usual earnings paid for a company of no growth and middling quality.
const USUAL_MULTIPLE: f64 = 7.42;
/// Turns that are paid at the least for a company that looks good, for a unit of quality above the worst.
const FOR_THE_GOOD: f64 = 10.5;

/// What shares of a company are worth by the quarter, and what fashion makes of it.
#[derive(Debug)]
pub(super) struct Worth {
    value: Vec<f64>,
    dearness: Vec<f64>,
}

impl Worth {
    pub(super) fn of(c: &Character, books: &[Quarter]) -> Worth {
        let value: Vec<f64> = books.iter().map(|q| worth(c, q)).collect();
        let dearness = value.iter().zip(books).map(|(w, q)| strays(q) * dearness(*w, q)).collect();
        Worth { value, dearness }
    }

    /// Of a share, before splits, on a day of a quarter.
    pub(super) fn value(&self, q: usize, date: Day) -> f64 {
        blended(&self.value, q, date)
    }

    /// How strongly the fashion for the dear lifts its price, as a log.
    pub(super) fn dearness(&self, q: usize, date: Day) -> f64 {
        blended(&self.dearness, q, date)
    }
}

/// Value between the quarter's end before and this one's: the market learns as the quarter goes, and looks a year ahead.
fn blended(of: &[f64], q: usize, date: Day) -> f64 {
    let at = |i: usize| {
        let recent = &of[i.saturating_sub(1)..=(i + AHEAD).min(of.len() - 1)];
        recent.iter().sum::<f64>() / recent.len() as f64
    };
    let passed = f64::from(date.epoch_days().rem_euclid(91)) / 91.0;
    at(q.saturating_sub(1)) * (1.0 - passed) + at(q) * passed
}

/// What is paid for one unit of usual earnings.
fn multiple(q: &Quarter) -> f64 {
    (USUAL_MULTIPLE + q.appeal).max(FOR_THE_GOOD * (0.2 * q.quality + 0.8 * q.believed + 1.0).clamp(0.0, 1.8)).clamp(4.0, 30.0)
}

/// What a share is worth to a well-informed market, before splits: usual earnings at a multiple that grows with outlook,
/// never below a share of book; of a holding company a part of what it owns.
fn worth(c: &Character, q: &Quarter) -> f64 {
    if c.holds_others() {
        return (c.of_book * q.equity / q.shares).max(0.02);
    }
    let multiple = multiple(q);
    (multiple * q.normal_eps).max(q.sold_for()).max(0.02)
}

/// How dear a company is beside others, as a log within bounds: those that earn nothing are bought for what may come.
fn dearness(worth: f64, q: &Quarter) -> f64 {
    if q.normal_eps <= 0.0 { DEAREST } else { (worth / q.normal_eps / MIDDLE_MULTIPLE).ln().clamp(-1.0, DEAREST) }
}

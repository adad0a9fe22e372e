//! What a curve says: returns, swings, draw-downs, years.

use super::calendar::{Calendar, DAYS_OF_YEAR};
use crate::stats::{mean, stdev};
use std::collections::BTreeMap;

/// A value a year, from a growth over days: V^(365.25 ÷ days) − 1.
pub(super) fn annualised(growth: f64, days: i32) -> f64 {
    if days > 0 { growth.powf(DAYS_OF_YEAR / f64::from(days)) - 1.0 } else { 0.0 }
}

/// What 1 became between two sessions; what had come to nothing stays as it is.
pub(super) fn growth(curve: &[f64], from: usize, to: usize) -> f64 {
    if curve[from] > 0.0 { curve[to] / curve[from] } else { 1.0 }
}

/// The log returns from one month's end to the next; a value of nothing has none after it.
pub(super) fn monthly(curve: &[f64], ends: &[usize]) -> Vec<f64> {
    ends.windows(2).map(|w| (curve[w[1]] / curve[w[0]]).ln()).take_while(|r| r.is_finite()).collect()
}

/// The sample standard deviation of monthly log returns × √12.
pub(super) fn volatility(months: &[f64]) -> Option<f64> {
    stdev(months).map(|s| s * 12f64.sqrt())
}

/// √12 × √ of the mean of min(monthly log return, 0)².
pub(super) fn downside(months: &[f64]) -> Option<f64> {
    mean(&months.iter().map(|r| r.min(0.0).powi(2)).collect::<Vec<_>>()).map(|m| (12.0 * m).sqrt())
}

/// The deepest fall below the highest value before, as a fraction, with the sessions of both; `None` when it never fell.
pub(super) fn drawdown(curve: &[f64]) -> Option<(f64, usize, usize)> {
    let (mut peak, mut worst) = (0, None::<(f64, usize, usize)>);
    for (i, value) in curve.iter().enumerate() {
        if *value > curve[peak] {
            peak = i;
        }
        let fall = value / curve[peak] - 1.0;
        if fall < worst.map_or(0.0, |w| w.0) {
            worst = Some((fall, peak, i));
        }
    }
    worst
}

/// Each calendar year with the session before it, or its first, and its last.
pub(super) fn years(calendar: &Calendar) -> BTreeMap<i32, (usize, usize)> {
    let mut out = BTreeMap::new();
    for (i, day) in calendar.sessions.iter().enumerate() {
        out.entry(day.year()).or_insert((i.saturating_sub(1), i)).1 = i;
    }
    out
}

/// The annual excess return over so many years before each month's end, with the session.
pub(super) fn rolling(curve: &[f64], benchmark: &[f64], ends: &[usize], calendar: &Calendar, years: usize) -> Vec<(usize, f64)> {
    let months = 12 * years;
    let a_year =
        |of: &[f64], from: usize, to: usize| annualised(growth(of, from, to), calendar.sessions[to].days_since(calendar.sessions[from]));
    let one = |i: usize| (ends[i], a_year(curve, ends[i - months], ends[i]) - a_year(benchmark, ends[i - months], ends[i]));
    (months..ends.len()).map(one).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 1 → 1.2 → 0.9 → 1.1 → 0.88: from 1.2 to 0.88 is −26.7 %.
    #[test]
    fn the_deepest_fall_is_from_the_highest_value_before_it() {
        let (fall, from, to) = drawdown(&[1.0, 1.2, 0.9, 1.1, 0.88]).unwrap();
        assert!((fall + 0.32 / 1.2).abs() < 1e-15);
        assert_eq!((from, to), (1, 4));
        assert_eq!(drawdown(&[1.0, 1.0, 1.5]), None);
    }

    /// Doubled in two years is 41.4 % a year.
    #[test]
    fn a_growth_is_told_a_year() {
        assert!((annualised(2.0, 731) - (2f64.powf(365.25 / 731.0) - 1.0)).abs() < 1e-15);
        assert!((annualised(2.0, 731) - 2f64.sqrt() + 1.0).abs() < 1e-3);
    }

    /// +10 % and −10 % by turns: √12 × 0.1 × √(n ÷ (n − 1)) about the mean; only the losses count downside.
    #[test]
    fn swings_of_months() {
        let months = [0.1, -0.1, 0.1, -0.1];
        assert!((volatility(&months).unwrap() - (12.0 * 0.04 / 3.0_f64).sqrt()).abs() < 1e-15);
        assert!((downside(&months).unwrap() - (12.0 * 0.02 / 4.0_f64).sqrt()).abs() < 1e-15);
        assert_eq!(volatility(&[0.1]), None);
    }
}

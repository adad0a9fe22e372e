//! How prices move together: correlations of monthly returns.

use super::total_return;
use crate::panel::CompanyAt;
use std::collections::BTreeMap;

/// Months looked back, and how many two must have in common.
const MONTHS: i32 = 36;
const LEAST: usize = 24;
/// What deviates no more than this from its mean does not move.
const STILL: f64 = 1e-9;

/// Total returns by month, in the base currency where there is a rate: months counted as in [`crate::domain::Day::month_index`].
pub type MonthlyReturns = BTreeMap<i32, f64>;

/// The total returns of the last 36 whole months before the date's, in the base currency.
#[must_use]
pub fn monthly_returns(c: &CompanyAt<'_>) -> MonthlyReturns {
    let this_month = c.t().month_index();
    let rows = c.month_rows(c.t().month_start().plus_months(-MONTHS - 1).plus_days(-1));
    let rate = |row: &CompanyAt<'_>| c.as_of.at(row.t()).fx(row.listing_currency(), c.as_of.base);
    let month = |pair: &[CompanyAt<'_>]| {
        let (then, now) = (&pair[0], &pair[1]);
        let next = now.t().month_index() == then.t().month_index() + 1;
        let r = total_return(then, now.t()).ok().filter(|_| next && now.t().month_index() < this_month)?;
        Some((now.t().month_index(), (1.0 + r) * rate(now)? / rate(then)? - 1.0))
    };
    rows.windows(2).filter_map(month).collect()
}

/// Pearson's correlation of the months that both have; none of fewer than 24, or where one does not move.
#[must_use]
pub fn correlation(a: &MonthlyReturns, b: &MonthlyReturns) -> Option<f64> {
    let both: Vec<(f64, f64)> = a.iter().filter_map(|(month, x)| Some((*x, *b.get(month)?))).collect();
    if both.len() < LEAST {
        return None;
    }
    let n = both.len() as f64;
    let (mean_a, mean_b) = (both.iter().map(|x| x.0).sum::<f64>() / n, both.iter().map(|x| x.1).sum::<f64>() / n);
    let sum = |f: &dyn Fn(f64, f64) -> f64| both.iter().map(|(x, y)| f(x - mean_a, y - mean_b)).sum::<f64>();
    let (of_a, of_b) = (sum(&|x, _| x * x), sum(&|_, y| y * y));
    let moves = |squares: f64| squares / n > STILL * STILL;
    (moves(of_a) && moves(of_b)).then(|| (sum(&|x, y| x * y) / (of_a * of_b).sqrt()).clamp(-1.0, 1.0))
}

/// The returns of several together at these weights: of each month the weighted mean of those that have it.
#[must_use]
pub fn together(all: &[(f64, MonthlyReturns)]) -> MonthlyReturns {
    let mut sums: BTreeMap<i32, (f64, f64)> = BTreeMap::new();
    for (weight, returns) in all {
        for (month, r) in returns {
            let sum = sums.entry(*month).or_default();
            *sum = (sum.0 + weight * r, sum.1 + weight);
        }
    }
    sums.into_iter().filter(|(_, (_, weight))| *weight > 0.0).map(|(month, (sum, weight))| (month, sum / weight)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn returns(of: impl Fn(i32) -> f64, months: i32) -> MonthlyReturns {
        (0..months).map(|m| (m, of(m))).collect()
    }

    #[test]
    fn the_same_moves_are_one_and_opposite_ones_minus_one() {
        let wave = |m: i32| f64::from(m % 5) / 100.0;
        let (a, opposite) = (returns(wave, 30), returns(|m| 0.03 - 2.0 * wave(m), 30));
        assert!((correlation(&a, &a).unwrap() - 1.0).abs() < 1e-12);
        assert!((correlation(&a, &opposite).unwrap() + 1.0).abs() < 1e-12);
        assert_eq!(correlation(&a, &returns(wave, 23)), None);
        assert_eq!(correlation(&a, &returns(|_| 0.01, 30)), None);
    }

    /// x alternates +1, −1; y goes +1, +1, −1, −1: they share nothing.
    #[test]
    fn what_shares_nothing_is_zero() {
        let (x, y) = (returns(|m| if m % 2 == 0 { 1.0 } else { -1.0 }, 24), returns(|m| if m % 4 < 2 { 1.0 } else { -1.0 }, 24));
        assert!(correlation(&x, &y).unwrap().abs() < 1e-12);
    }

    #[test]
    fn a_month_that_one_lacks_is_that_of_the_others() {
        let both = together(&[(1.0, [(1, 0.1), (2, 0.2)].into()), (3.0, [(2, 0.0)].into())]);
        assert_eq!(both, [(1, 0.1), (2, 0.05)].into());
    }
}

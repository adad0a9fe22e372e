//! Counts of what followed, by horizon, quality and band.

use super::placed::{BANDS, HORIZONS, Placed};
use crate::{
    domain::Day,
    panel::CompanyIndex,
    stats::{median, percentile_of_sorted},
};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Resamples of companies, where they begin, and the ends of the interval.
const RESAMPLES: usize = 1_000;
const SEED: u64 = 1;
const ENDS: (f64, f64) = (0.05, 0.95);

/// Where a share lies with 90 % confidence.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = ShareInterval))]
#[allow(missing_docs)]
pub struct Interval {
    pub low: f64,
    pub high: f64,
}

/// What became of the companies of a band of price to value, of some quality, over a horizon.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = CalibrationCell))]
#[allow(missing_docs)]
pub struct Cell {
    pub years: i32,
    /// Good enough, not, or all of them when absent.
    pub good: Option<bool>,
    /// Price to value, from one end to the other; the last has no upper end.
    pub from: f64,
    pub to: Option<f64>,
    /// Quarters of companies that could be followed so long.
    pub episodes: usize,
    pub companies: usize,
    /// Of these the share whose price met the value of its beginning within the horizon: rose to it from below, fell to it from above.
    pub met: Option<f64>,
    /// Its 90 % interval by a bootstrap over companies: the quarters of one company overlap and are not independent.
    pub met_interval: Option<Interval>,
    /// Days until half had met it (Kaplan and Meier: those still waiting count as long as they were followed), whatever the horizon.
    pub median_days: Option<i32>,
    /// The median of total returns less the median of all companies' over the same days.
    pub median_excess: Option<f64>,
}

/// All cells.
pub(super) fn cells(placed: &[Placed], days: &[Day], followed_to: Day, least_quality: f64) -> Vec<Cell> {
    let goods = [None, Some(true), Some(false)];
    let all = HORIZONS.iter().flat_map(|years| goods.iter().flat_map(move |good| (0..BANDS.len()).map(move |band| (*years, *good, band))));
    let all: Vec<(i32, Option<bool>, usize)> = all.collect();
    let of = |(years, good, band): &(i32, Option<bool>, usize)| {
        let is_good = |p: &Placed| p.quality.is_some_and(|q| q >= least_quality);
        let fits = |p: &&Placed| p.band == *band && good.is_none_or(|good| is_good(p) == good);
        cell(&placed.iter().filter(fits).collect::<Vec<_>>(), *years, *good, *band, (days, followed_to))
    };
    all.par_iter().map(of).collect()
}

fn cell(placed: &[&Placed], years: i32, good: Option<bool>, band: usize, (days, followed_to): (&[Day], Day)) -> Cell {
    let end = |p: &Placed| days[p.day].plus_months(12 * years);
    let whole: Vec<&&Placed> = placed.iter().filter(|p| end(p) <= followed_to).collect();
    let has_met = |p: &Placed| p.met.is_some_and(|met| met <= end(p).days_since(days[p.day]));
    let horizon = HORIZONS.iter().position(|h| *h == years).unwrap_or_default();
    let mut counts: BTreeMap<CompanyIndex, (u32, u32)> = BTreeMap::new();
    for p in &whole {
        let count = counts.entry(p.company).or_default();
        *count = (count.0 + u32::from(has_met(p)), count.1 + 1);
    }
    let counts: Vec<(u32, u32)> = counts.into_values().collect();
    let excess: Vec<f64> = whole.iter().filter_map(|p| p.excess[horizon]).collect();
    Cell {
        years,
        good,
        from: band.checked_sub(1).map_or(0.0, |i| BANDS[i]),
        to: Some(BANDS[band]).filter(|to| to.is_finite()),
        episodes: whole.len(),
        companies: counts.len(),
        met: share(&counts),
        met_interval: interval(&counts),
        median_days: median_days(placed, days, followed_to),
        median_excess: median(&excess),
    }
}

/// The share of so many of so many.
pub(super) fn share(counts: &[(u32, u32)]) -> Option<f64> {
    let (part, all) = counts.iter().fold((0, 0), |sum, c| (sum.0 + c.0, sum.1 + c.1));
    (all > 0).then(|| f64::from(part) / f64::from(all))
}

/// The 90 % interval of the share by resampling companies, each with all its quarters; none of fewer than two companies.
pub(super) fn interval(counts: &[(u32, u32)]) -> Option<Interval> {
    if counts.len() < 2 {
        return None;
    }
    let mut chance = ChaCha8Rng::seed_from_u64(SEED);
    let one = |_| {
        let drawn = (0..counts.len()).map(|_| counts[chance.random_range(0..counts.len())]);
        let (part, all) = drawn.fold((0, 0), |sum, c| (sum.0 + c.0, sum.1 + c.1));
        f64::from(part) / f64::from(all)
    };
    let mut shares: Vec<f64> = (0..RESAMPLES).map(one).collect();
    shares.sort_by(f64::total_cmp);
    Some(Interval { low: percentile_of_sorted(&shares, ENDS.0)?, high: percentile_of_sorted(&shares, ENDS.1)? })
}

/// Kaplan and Meier's median of the days until the value was met: the first at which half of those followed so far have met it. One that
/// left the exchange without it waits for ever. `None` while half have not.
fn median_days(placed: &[&Placed], days: &[Day], followed_to: Day) -> Option<i32> {
    let time = |p: &Placed| match (p.met, p.never) {
        (Some(met), _) => (met, true),
        (None, true) => (i32::MAX, false),
        (None, false) => (followed_to.days_since(days[p.day]), false),
    };
    let mut times: Vec<(i32, bool)> = placed.iter().map(|p| time(p)).collect();
    // Of one day those that met it come before those of whom no more is known.
    times.sort_by_key(|(days, met)| (*days, !met));
    let (mut waiting, mut surviving) = (times.len() as f64, 1.0);
    for (days, met) in times {
        if met {
            surviving *= 1.0 - 1.0 / waiting;
            if surviving <= 0.5 {
                return Some(days);
            }
        }
        waiting -= 1.0;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    fn placed(company: u32, day: usize, met: Option<i32>, never: bool, excess: f64) -> Placed {
        Placed { company, day, band: 0, quality: Some(70.0), met, never, excess: [Some(excess); 4] }
    }

    /// Two companies, two quarters: of four one met after 100 days, one after 500, one died, one is still open after two years. Within a
    /// year one of four; Kaplan and Meier: 3/4 after 100 days, 3/4 × 2/3 = 1/2 after 500.
    #[test]
    fn a_cell_counts_what_followed() {
        let days = [day("2018-03-29"), day("2018-06-29")];
        let all = [
            placed(1, 0, Some(100), false, 0.1),
            placed(1, 1, Some(500), false, 0.3),
            placed(2, 0, None, true, -0.5),
            placed(2, 1, None, false, 0.2),
        ];
        let got = &cells(&all, &days, day("2020-06-30"), 60.0)[0];
        assert_eq!((got.years, got.good, got.episodes, got.companies), (1, None, 4, 2));
        assert_eq!((got.met, got.median_days), (Some(0.25), Some(500)));
        assert!((got.median_excess.unwrap() - 0.15).abs() < 1e-15);
        // Of company 1 half met it, of company 2 nothing: resampled, between none and half.
        assert_eq!(got.met_interval, Some(Interval { low: 0.0, high: 0.5 }));
    }

    /// What cannot be followed for the whole horizon is not counted in it: of three years only nothing is.
    #[test]
    fn a_horizon_that_is_not_over_counts_nothing() {
        let days = [day("2018-03-29")];
        let got = cells(&[placed(1, 0, Some(10), false, 0.1)], &days, day("2020-06-30"), 60.0);
        let of = |years: i32| got.iter().find(|c| c.years == years && c.good == Some(true) && c.from == 0.0).unwrap();
        assert_eq!((of(2).episodes, of(2).met), (1, Some(1.0)));
        assert_eq!((of(3).episodes, of(3).met, of(3).met_interval), (0, None, None));
        assert!(got.iter().all(|c| c.good != Some(false) || c.episodes == 0));
    }
}

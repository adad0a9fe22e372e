//! Could it be luck? Portfolios drawn at random, a bootstrap of months, and the best of many tries.

use super::{
    decide::Decision,
    document::{Backtest, Weights},
    field::{Field, Growth, Start},
    weights::{after_costs, weights},
};
use crate::stats::{mean, percentile_of_sorted};
use rand::{RngExt, SeedableRng, seq::index};
use rand_chacha::ChaCha8Rng;
use rayon::prelude::*;
use std::sync::Arc;

/// Random portfolios, and resamples of months.
pub const DRAWS: usize = 1_000;
/// The mean length of a block of months.
const BLOCK: f64 = 6.0;
/// The streams of chance of the bootstrap begin here, those of the portfolios at 0.
const BOOTSTRAP_STREAM: u64 = 1 << 32;

/// What random portfolios of the same sizes from the same candidates would have come to.
#[derive(Clone, Debug, PartialEq)]
pub struct Luck {
    /// The value at each trade session and at the end, by portfolio.
    paths: Vec<Vec<f64>>,
    /// Total returns, lowest first.
    pub total_returns: Vec<f64>,
}

/// A random portfolio between two trade sessions.
#[derive(Default)]
struct Portfolio {
    cash: f64,
    /// Value by place among all companies, in order.
    held: Vec<(u32, f64)>,
}

impl Luck {
    /// Portfolios of these sizes, each drawn without replacement from the candidates of its decision, weighed and charged as the
    /// backtest is, and held to the next rebalance.
    pub(super) fn drawn(settings: &Backtest, decisions: &[Arc<Decision>], field: &Field, sizes: &[usize], draws: usize) -> Luck {
        let one = |draw: usize| {
            let mut chance = ChaCha8Rng::seed_from_u64(settings.seed);
            chance.set_stream(draw as u64);
            let mut portfolio = Portfolio { cash: 1.0, held: Vec::new() };
            let path = decisions.iter().zip(&field.growth).zip(sizes).map(|((decision, growth), size)| {
                let among = decision.candidates().len();
                let mut drawn: Vec<usize> = index::sample(&mut chance, among, (*size).min(among)).into_vec();
                drawn.sort_unstable();
                portfolio.turn(settings, decision, growth, &drawn)
            });
            path.collect::<Vec<f64>>()
        };
        let paths: Vec<Vec<f64>> = (0..draws).into_par_iter().map(one).collect();
        let mut total_returns: Vec<f64> = paths.iter().map(|path| path.last().map_or(0.0, |end| end - 1.0)).collect();
        total_returns.sort_by(f64::total_cmp);
        Luck { paths, total_returns }
    }

    /// Where a total return falls among those of the portfolios: 100 × (less + equal ÷ 2) ÷ n.
    #[must_use]
    pub fn percentile(&self, total_return: f64) -> f64 {
        let less = self.total_returns.partition_point(|r| *r < total_return);
        let upto = self.total_returns.partition_point(|r| *r <= total_return);
        100.0 * (less as f64 + (upto - less) as f64 / 2.0) / self.total_returns.len() as f64
    }

    /// The quantile of the total returns.
    #[must_use]
    pub fn quantile(&self, p: f64) -> f64 {
        percentile_of_sorted(&self.total_returns, p).unwrap_or_default()
    }

    /// The quantiles of the values after each period: one row a period.
    #[must_use]
    pub fn fan(&self, quantiles: &[f64]) -> Vec<Vec<f64>> {
        let periods = self.paths.first().map_or(0, Vec::len);
        let of = |k: usize| {
            let mut values: Vec<f64> = self.paths.iter().map(|path| path[k]).collect();
            values.sort_by(f64::total_cmp);
            quantiles.iter().map(|p| percentile_of_sorted(&values, *p).unwrap_or_default()).collect()
        };
        (0..periods).map(of).collect()
    }

    /// The total return that the best of so many random portfolios shows on average:
    /// Σ x(i) ((i ÷ N)ᵗ − ((i − 1) ÷ N)ᵗ) over the N ordered total returns, of t tries.
    #[must_use]
    pub fn best_of(&self, tries: usize) -> f64 {
        let n = self.total_returns.len() as f64;
        let t = tries as f64;
        let below = |i: usize| (i as f64 / n).powf(t);
        self.total_returns.iter().enumerate().map(|(i, r)| r * (below(i + 1) - below(i))).sum()
    }

    /// The mean total return.
    #[must_use]
    pub fn mean(&self) -> f64 {
        mean(&self.total_returns).unwrap_or_default()
    }
}

impl Portfolio {
    /// Trades to the drawn candidates, and holds them to the next trade session: the value then.
    fn turn(&mut self, settings: &Backtest, decision: &Decision, growth: &[Growth], drawn: &[usize]) -> f64 {
        let value = self.cash + self.held.iter().map(|h| h.1).sum::<f64>();
        let held_of = |company: u32| self.held.binary_search_by_key(&company, |h| h.0).ok().map(|i| self.held[i].1);
        let has_weight = |place: &&usize| settings.weights == Weights::Equal || decision.among.caps[**place].is_some();
        let bought: Vec<(usize, Option<f64>)> = drawn
            .iter()
            .filter(has_weight)
            .map(|place| (*place, held_of(decision.candidates()[*place])))
            .filter(|(place, held)| held.is_some() || growth[*place].start != Start::Never)
            .collect();
        let caps: Vec<Option<f64>> = bought.iter().map(|(place, _)| decision.among.caps[*place]).collect();
        let weights = weights(settings.weights, &caps, settings.max_weight);
        // Both are in order of symbol.
        let stays = |company: u32| bought.binary_search_by_key(&company, |(place, _)| decision.candidates()[*place]).is_ok();
        let sold: Vec<f64> = self.held.iter().filter(|h| !stays(h.0)).map(|h| h.1).collect();
        let pairs = weights.iter().zip(&bought).map(|(w, (_, held))| (*w, held.unwrap_or_default()));
        let left = after_costs(value, settings.cost(), &pairs.chain(sold.iter().map(|value| (0.0, *value))));
        let mut next = Portfolio { cash: left * (1.0 - weights.iter().sum::<f64>()).max(0.0), held: Vec::with_capacity(bought.len()) };
        for ((place, held), weight) in bought.iter().zip(&weights) {
            let grown = &growth[*place];
            let factor = if held.is_some() { grown.held } else { grown.bought };
            let amount = weight * left * factor;
            if grown.in_cash { next.cash += amount } else { next.held.push((decision.candidates()[*place], amount)) }
        }
        *self = next;
        self.cash + self.held.iter().map(|h| h.1).sum::<f64>()
    }
}

/// The 90 % interval of the annual excess return by a stationary bootstrap (Politis and Romano, 1994) of pairs of monthly log returns,
/// the backtest's and the benchmark's: blocks begin anywhere, wrap round, and end with probability one sixth a month. The statistic is
/// e^(12 × mean) of the one less that of the other; `None` of fewer than two months.
#[must_use]
pub fn bootstrap(months: &[(f64, f64)], resamples: usize, seed: u64) -> Option<(f64, f64)> {
    let n = months.len();
    if n < 2 {
        return None;
    }
    let one = |resample: usize| {
        let mut chance = ChaCha8Rng::seed_from_u64(seed);
        chance.set_stream(BOOTSTRAP_STREAM + resample as u64);
        let (mut at, mut sums) = (chance.random_range(0..n), (0.0, 0.0));
        for _ in 0..n {
            sums = (sums.0 + months[at].0, sums.1 + months[at].1);
            at = if chance.random_bool(1.0 / BLOCK) { chance.random_range(0..n) } else { (at + 1) % n };
        }
        let yearly = |sum: f64| (12.0 * sum / n as f64).exp();
        yearly(sums.0) - yearly(sums.1)
    };
    let mut all: Vec<f64> = (0..resamples).into_par_iter().map(one).collect();
    all.sort_by(f64::total_cmp);
    percentile_of_sorted(&all, 0.05).zip(percentile_of_sorted(&all, 0.95))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn luck(total_returns: &[f64]) -> Luck {
        Luck { paths: total_returns.iter().map(|r| vec![1.0 + r / 2.0, 1.0 + r]).collect(), total_returns: total_returns.to_vec() }
    }

    fn near(got: f64, want: f64) {
        assert!((got - want).abs() < 1e-12, "{got} is not {want}");
    }

    /// Of four, one is less and two are equal: 100 × (1 + 2 ÷ 2) ÷ 4.
    #[test]
    fn equal_portfolios_count_half() {
        let luck = luck(&[-0.1, 0.2, 0.2, 0.5]);
        near(luck.percentile(0.2), 50.0);
        near(luck.percentile(-0.2), 0.0);
        near(luck.percentile(0.1), 25.0);
        near(luck.percentile(0.6), 100.0);
    }

    /// Two tries of 0, 10, 20 and 30 %: the best is each with 1, 3, 5 and 7 sixteenths, (3 × 10 + 5 × 20 + 7 × 30) ÷ 16 = 21.25 %.
    #[test]
    fn the_best_of_more_tries_shows_more() {
        let luck = luck(&[0.0, 0.1, 0.2, 0.3]);
        near(luck.best_of(1), luck.mean());
        near(luck.best_of(2), 0.2125);
        assert!((luck.best_of(100) - 0.3).abs() < 1e-6);
    }

    /// Halfway each portfolio had half of what it came to.
    #[test]
    fn the_fan_is_of_each_period_by_itself() {
        let fan = luck(&[0.0, 0.1, 0.2, 0.3, 0.4]).fan(&[0.0, 0.5, 1.0]);
        let want = [[1.0, 1.1, 1.2], [1.0, 1.2, 1.4]];
        fan.iter().zip(want).for_each(|(row, want)| row.iter().zip(want).for_each(|(got, want)| near(*got, want)));
        assert_eq!(fan.len(), 2);
    }

    /// The same every month: every shuffle comes to e^0.12 − e^0.06 a year.
    #[test]
    fn months_that_are_all_alike_leave_no_doubt() {
        let (low, high) = bootstrap(&[(0.01, 0.005); 40], 50, 1).unwrap();
        near(low, 0.12_f64.exp() - 0.06_f64.exp());
        near(high, low);
    }

    /// A month and its benchmark's stay together: what always beats by the same ratio is never behind, however the months swing.
    #[test]
    fn pairs_of_months_stay_together_and_chance_begins_at_its_seed() {
        let months: Vec<(f64, f64)> = (0..60).map(|k| 0.1 * f64::from((k * 37) % 11 - 5)).map(|x| (x + 0.01, x)).collect();
        let (low, high) = bootstrap(&months, 200, 7).unwrap();
        assert!(0.0 < low && low < high, "{low} to {high}");
        assert_eq!(bootstrap(&months, 200, 7), Some((low, high)));
        assert_ne!(bootstrap(&months, 200, 8), Some((low, high)));
    }

    #[test]
    fn one_month_has_no_interval() {
        assert_eq!(bootstrap(&[(0.1, 0.0)], 10, 1), None);
        assert_eq!(bootstrap(&[], 10, 1), None);
    }
}

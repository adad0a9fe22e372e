//! The distribution of a criterion's values over the companies that pass everything else.

use serde::Serialize;

/// Bars of a histogram.
const BINS: usize = 40;
/// The share of values at each end that a histogram's axis leaves out.
const TAIL: f64 = 0.02;

/// Counts of values in equal steps from `low` to `high`; values beyond are counted in the outer bars.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Histogram {
    /// Left end of the first bar.
    pub low: f64,
    /// Right end of the last bar.
    pub high: f64,
    /// Companies a bar.
    pub counts: Vec<usize>,
}

impl Histogram {
    /// Equal steps over the middle of finite values; the bounds are always on the axis. `None` of no values.
    #[must_use]
    pub fn of(mut values: Vec<f64>, bounds: impl Iterator<Item = f64> + Clone) -> Option<Histogram> {
        let all = values.len();
        let axis = Axis::over(all, |k| *values.select_nth_unstable_by(k, f64::total_cmp).1, bounds)?;
        let mut counts = vec![0; BINS];
        values.into_iter().for_each(|v| counts[axis.bin(v)] += 1);
        Some(Histogram { low: axis.low, high: axis.high, counts })
    }
}

/// The axis of a histogram.
pub(super) struct Axis {
    low: f64,
    high: f64,
}

impl Axis {
    /// Over the middle of so many values, of which `nth` gives each in order; the bounds are always on it.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
    pub(super) fn over(values: usize, mut nth: impl FnMut(usize) -> f64, bounds: impl Iterator<Item = f64> + Clone) -> Option<Axis> {
        let last = values.checked_sub(1)? as f64;
        let mut at = |p: f64| nth((last * p).round() as usize);
        let (start, end) = (at(TAIL), at(1.0 - TAIL));
        let low = bounds.clone().fold(start, f64::min);
        let high = bounds.fold(end, f64::max);
        Some(if high > low { Axis { low, high } } else { Axis { low: low - 0.5, high: low + 0.5 } })
    }

    /// The bar of a value; never less for a greater one.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
    pub(super) fn bin(&self, v: f64) -> usize {
        ((v - self.low) / (self.high - self.low) * BINS as f64).floor().clamp(0.0, BINS as f64 - 1.0) as usize
    }

    /// The histogram of `total` values, of which `below` tells how many lie in bars before one.
    pub(super) fn histogram(&self, below: impl Fn(usize) -> usize, total: usize) -> Histogram {
        let edges: Vec<usize> = std::iter::once(0).chain((1..BINS).map(below)).chain([total]).collect();
        Histogram { low: self.low, high: self.high, counts: edges.windows(2).map(|w| w[1] - w[0]).collect() }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Values that are all equal stand in the middle of an axis that is one wide.
    #[test]
    fn equal_values_have_an_axis() {
        let all = Histogram::of(vec![3.0; 5], std::iter::empty()).unwrap();
        assert_eq!((all.low, all.high, all.counts[20], all.counts.iter().sum::<usize>()), (2.5, 3.5, 5, 5));
    }
}

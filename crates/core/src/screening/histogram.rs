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
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
    pub fn of(mut values: Vec<f64>, bounds: impl Iterator<Item = f64> + Clone) -> Option<Histogram> {
        if values.is_empty() {
            return None;
        }
        let last = (values.len() - 1) as f64;
        let mut at = |p: f64| *values.select_nth_unstable_by((last * p).round() as usize, f64::total_cmp).1;
        let (start, end) = (at(TAIL), at(1.0 - TAIL));
        let low = bounds.clone().fold(start, f64::min);
        let high = bounds.fold(end, f64::max);
        let (low, high) = if high > low { (low, high) } else { (low - 0.5, low + 0.5) };
        let mut counts = vec![0; BINS];
        for v in values {
            let bin = ((v - low) / (high - low) * BINS as f64).floor().clamp(0.0, BINS as f64 - 1.0);
            counts[bin as usize] += 1;
        }
        Some(Histogram { low, high, counts })
    }
}

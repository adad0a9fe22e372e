//! Statistics of plain numbers, each with the one definition that the product uses.

/// The arithmetic mean; `None` of nothing.
#[must_use]
#[allow(clippy::cast_precision_loss)]
pub fn mean(values: &[f64]) -> Option<f64> {
    (!values.is_empty()).then(|| values.iter().sum::<f64>() / values.len() as f64)
}

/// The median: the middle value, or the mean of the two middle ones.
#[must_use]
pub fn median(values: &[f64]) -> Option<f64> {
    percentile(values, 0.5)
}

/// The percentile at `p` (0–1) by linear interpolation between order statistics at position p × (n − 1).
#[must_use]
pub fn percentile(values: &[f64], p: f64) -> Option<f64> {
    percentile_among(&mut values.to_vec(), p)
}

/// [`percentile`] of values whose order may be changed.
#[must_use]
#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
pub fn percentile_among(values: &mut [f64], p: f64) -> Option<f64> {
    if values.is_empty() {
        return None;
    }
    let at = p * (values.len() - 1) as f64;
    let low = at.floor() as usize;
    let (_, &mut lower, rest) = values.select_nth_unstable_by(low, f64::total_cmp);
    let upper = if at.fract() > 0.0 { rest.iter().copied().min_by(f64::total_cmp) } else { None };
    Some(upper.map_or(lower, |u| if p == 0.5 { f64::midpoint(lower, u) } else { lower + (u - lower) * at.fract() }))
}

/// [`percentile`] of values in order, lowest first.
#[must_use]
#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
pub fn percentile_of_sorted(sorted: &[f64], p: f64) -> Option<f64> {
    let at = p * sorted.len().checked_sub(1)? as f64;
    let (lower, upper) = (sorted[at.floor() as usize], sorted[at.ceil() as usize]);
    Some(if p == 0.5 { f64::midpoint(lower, upper) } else { lower + (upper - lower) * at.fract() })
}

/// The values about the middle of some, from which the median follows, with one more value too.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Middle {
    /// How many values there are.
    pub count: usize,
    /// In order: before the upper middle, the upper middle, after it; infinite where there is none.
    around: [f64; 3],
}

impl Middle {
    /// Of values whose order may be changed.
    #[must_use]
    pub fn of(values: &mut [f64]) -> Middle {
        let count = values.len();
        if count == 0 {
            return Middle { count, around: [f64::NEG_INFINITY, 0.0, f64::INFINITY] };
        }
        let (before, &mut middle, after) = values.select_nth_unstable_by(count / 2, f64::total_cmp);
        let last = before.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        Middle { count, around: [last, middle, after.iter().copied().fold(f64::INFINITY, f64::min)] }
    }

    /// [`median`] of the values.
    #[must_use]
    pub fn median(&self) -> Option<f64> {
        let [before, middle, _] = self.around;
        (self.count > 0).then(|| if self.count.is_multiple_of(2) { f64::midpoint(before, middle) } else { middle })
    }

    /// [`median`] of the values and one more.
    #[must_use]
    pub fn median_with(&self, x: f64) -> f64 {
        let [before, middle, after] = self.around;
        match self.count {
            0 => x,
            even if even.is_multiple_of(2) => x.clamp(before, middle),
            _ => f64::midpoint(middle, x.clamp(before, after)),
        }
    }
}

/// The sample standard deviation (n − 1); `None` of fewer than two.
#[must_use]
#[allow(clippy::cast_precision_loss)]
pub fn stdev(values: &[f64]) -> Option<f64> {
    if values.len() < 2 {
        return None;
    }
    let m = mean(values)?;
    Some((values.iter().map(|v| (v - m).powi(2)).sum::<f64>() / (values.len() - 1) as f64).sqrt())
}

/// A straight line fitted by least squares to values at 0, 1, 2, ….
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Line {
    /// Rise a step.
    pub slope: f64,
    /// Height at 0.
    pub intercept: f64,
    /// Sum of squared residuals.
    pub ssr: f64,
    /// Coefficient of determination, 1 when all values are equal.
    pub r2: f64,
}

/// Fits a line; `None` of fewer than two values.
#[must_use]
#[allow(clippy::cast_precision_loss)]
pub fn line(values: &[f64]) -> Option<Line> {
    let n = values.len() as f64;
    if values.len() < 2 {
        return None;
    }
    let (mx, my) = ((n - 1.0) / 2.0, mean(values)?);
    let (mut sxx, mut sxy, mut syy) = (0.0, 0.0, 0.0);
    for (i, y) in values.iter().enumerate() {
        let (dx, dy) = (i as f64 - mx, y - my);
        sxx += dx * dx;
        sxy += dx * dy;
        syy += dy * dy;
    }
    let slope = sxy / sxx;
    let intercept = my - slope * mx;
    let ssr = values.iter().enumerate().map(|(i, y)| (y - intercept - slope * i as f64).powi(2)).sum();
    Some(Line { slope, intercept, ssr, r2: if syy == 0.0 { 1.0 } else { 1.0 - ssr / syy } })
}

/// The rank of `x` among `values` (itself one of them), 0 for the lowest and 100 for the highest:
/// 100 × (less + (equal − 1) ÷ 2) ÷ (n − 1). `None` of fewer than two.
#[must_use]
#[allow(clippy::cast_precision_loss, clippy::float_cmp)]
pub fn rank(x: f64, values: impl Iterator<Item = f64>) -> Option<f64> {
    let (mut less, mut equal, mut n) = (0usize, 0usize, 0usize);
    for v in values {
        n += 1;
        less += usize::from(v < x);
        equal += usize::from(v == x);
    }
    (n >= 2).then(|| 100.0 * (less as f64 + (equal as f64 - 1.0) / 2.0) / (n as f64 - 1.0))
}

/// 100 × (less + (equal − 1) ÷ 2) ÷ (n − 1) of a value that is one of at least two sorted ones.
#[must_use]
#[allow(clippy::cast_precision_loss)]
pub fn rank_in_sorted(x: f64, sorted: &[f64]) -> f64 {
    let less = sorted.partition_point(|v| *v < x);
    let upto = sorted.partition_point(|v| *v <= x);
    100.0 * (less as f64 + ((upto - less) as f64 - 1.0) / 2.0) / (sorted.len() as f64 - 1.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn worked_cases() {
        assert_eq!(median(&[3.0, 1.0, 2.0]), Some(2.0));
        assert_eq!(median(&[4.0, 1.0, 2.0, 3.0]), Some(2.5));
        assert_eq!(percentile(&[1.0, 2.0, 3.0, 4.0, 5.0], 0.25), Some(2.0));
        assert_eq!(percentile(&[1.0, 2.0, 3.0, 4.0], 0.25), Some(1.75));
        assert_eq!(stdev(&[1.0, 3.0]), Some(2f64.sqrt()));
        assert_eq!(rank(1.0, [1.0, 2.0, 3.0].into_iter()), Some(0.0));
        assert_eq!(rank(2.0, [1.0, 2.0, 2.0].into_iter()), Some(75.0));
        let fit = line(&[1.0, 3.0, 5.0]).unwrap();
        assert_eq!((fit.slope, fit.intercept, fit.r2), (2.0, 1.0, 1.0));
    }
}

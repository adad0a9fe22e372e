//! Averages, bands and strength bar by bar: the line whose end is the measure of the same name.

use crate::stats;

/// The plain mean of the last `n` values at each bar; none before there are as many.
#[must_use]
pub fn averages(close: &[f64], n: usize) -> Vec<Option<f64>> {
    windows(close, n, stats::mean)
}

/// The mean of the last `n` values less and plus `k` population standard deviations.
#[must_use]
pub fn bands(close: &[f64], n: usize, k: f64) -> Vec<Option<(f64, f64)>> {
    windows(close, n, |of| {
        let mean = stats::mean(of)?;
        let spread = k * stats::mean(&of.iter().map(|v| (v - mean).powi(2)).collect::<Vec<f64>>())?.sqrt();
        Some((mean - spread, mean + spread))
    })
}

fn windows<T: Clone>(of: &[f64], n: usize, each: impl Fn(&[f64]) -> Option<T>) -> Vec<Option<T>> {
    if n == 0 {
        return vec![None; of.len()];
    }
    let before = std::iter::repeat_n(None, (n - 1).min(of.len()));
    before.chain(of.windows(n).map(each)).collect()
}

/// Relative strength by Wilder's smoothing over `n` changes, 0–100, at each bar: 100 when nothing fell, 50 when nothing moved; none
/// before there are as many changes.
#[must_use]
#[allow(clippy::cast_precision_loss)]
pub fn strengths(close: &[f64], n: usize) -> Vec<Option<f64>> {
    let mut out = vec![None; close.len()];
    if n == 0 || close.len() <= n {
        return out;
    }
    let rise = |i: usize| (close[i] - close[i - 1]).max(0.0);
    let fall = |i: usize| (close[i - 1] - close[i]).max(0.0);
    let seed = |of: &dyn Fn(usize) -> f64| (1..=n).map(of).sum::<f64>() / n as f64;
    let (mut rises, mut falls) = (seed(&rise), seed(&fall));
    for (i, place) in out.iter_mut().enumerate().skip(n) {
        if i > n {
            rises += (rise(i) - rises) / n as f64;
            falls += (fall(i) - falls) / n as f64;
        }
        *place = Some(strength(rises, falls));
    }
    out
}

/// 0–100 from the mean rise and the mean fall.
pub(super) fn strength(rises: f64, falls: f64) -> f64 {
    match (rises > 0.0, falls > 0.0) {
        (false, false) => 50.0,
        (_, false) => 100.0,
        _ => 100.0 - 100.0 / (1.0 + rises / falls),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand: means of two; of 1, 3 the deviation is 1; strength of n = 2 over +1, −1, +2 is 50 first, then rises (½ + 2) ÷ 2 =
    /// 1.25 against falls ½ ÷ 2 = 0.25: 100 − 100 ÷ 6.
    #[test]
    fn lines_agree_with_sums_by_hand() {
        let close = [10.0, 11.0, 10.0, 12.0];
        assert_eq!(averages(&close, 2), [None, Some(10.5), Some(10.5), Some(11.0)]);
        assert_eq!(bands(&[1.0, 3.0], 2, 2.0), [None, Some((0.0, 4.0))]);
        let strengths = strengths(&close, 2);
        assert_eq!(strengths[..3], [None, None, Some(50.0)]);
        assert!((strengths[3].unwrap() - (100.0 - 100.0 / 6.0)).abs() < 1e-12);
    }

    #[test]
    fn too_few_bars_have_no_lines() {
        assert_eq!(averages(&[1.0, 2.0], 5), [None, None]);
        assert_eq!(averages(&[1.0], 0), [None]);
        assert_eq!(strengths(&[1.0, 2.0], 2), [None, None]);
        assert_eq!(strengths(&[1.0, 1.0, 1.0], 2), [None, None, Some(50.0)]);
        assert_eq!(strengths(&[1.0, 2.0, 3.0], 2), [None, None, Some(100.0)]);
    }
}

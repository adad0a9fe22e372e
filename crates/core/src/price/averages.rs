//! Moving averages and oscillators.
//!
//! Recursions run over the whole known history. What a bar far back weighs in them falls by the same factor with every
//! bar; where that weight is below 10⁻²⁰, far below what a figure's last digit shows, bars are left out.

use super::{
    frame::{Frame, closes, exactly},
    lines::strength,
};
use crate::{
    Num, Why,
    domain::BarSize,
    formula::Args,
    panel::{CompanyAt, Field},
    stats,
};

/// −ln of the weight below which older bars are left out of a recursion.
const NEGLIGIBLE: f64 = 46.1;

/// How many bars a recursion with the smoothing factor `alpha` needs beside those of its seed.
#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
fn enough(alpha: f64, seed: u32) -> usize {
    (NEGLIGIBLE / alpha).ceil() as usize + seed as usize + 1
}

/// Mean close of the last n bars.
pub(crate) fn sma(c: &CompanyAt<'_>, args: &Args) -> Num {
    stats::mean(&exactly(c, args.bars, args.count)?).ok_or(Why::HistoryTooShort)
}

/// The value with smoothing factor `alpha`, seeded with the mean of the first n.
fn smoothed(values: impl ExactSizeIterator<Item = f64>, n: u32, alpha: f64) -> Num {
    if values.len() < n as usize || n == 0 {
        return Err(Why::HistoryTooShort);
    }
    let mut values = values;
    let seed = values.by_ref().take(n as usize).sum::<f64>() / f64::from(n);
    Ok(values.fold(seed, |mean, v| mean + alpha * (v - mean)))
}

/// Exponential average of the close: α = 2 ÷ (n + 1), seeded with the plain mean of the first n.
pub(crate) fn ema(c: &CompanyAt<'_>, args: &Args) -> Num {
    let alpha = 2.0 / (f64::from(args.count) + 1.0);
    smoothed(closes(c, args.bars, enough(alpha, args.count)).into_iter(), args.count, alpha)
}

/// Relative strength by Wilder's smoothing of rises and falls, 0–100: 100 when nothing fell, 50 when nothing moved.
pub(crate) fn rsi(c: &CompanyAt<'_>, args: &Args) -> Num {
    let alpha = 1.0 / f64::from(args.count);
    let closes = closes(c, args.bars, enough(alpha, args.count));
    let changes = || closes.windows(2).map(|w| w[1] - w[0]);
    let rises = smoothed(changes().map(|d| d.max(0.0)), args.count, alpha)?;
    let falls = smoothed(changes().map(|d| (-d).max(0.0)), args.count, alpha)?;
    Ok(strength(rises, falls))
}

/// Mean close ± factor × population standard deviation of the last n bars: lower and upper band.
pub(crate) fn bollinger(c: &CompanyAt<'_>, args: &Args) -> Result<(f64, f64), Why> {
    let closes = exactly(c, args.bars, args.count)?;
    let mean = stats::mean(&closes).ok_or(Why::HistoryTooShort)?;
    let spread = args.amount * (closes.iter().map(|v| (v - mean).powi(2)).sum::<f64>() / f64::from(args.count)).sqrt();
    Ok((mean - spread, mean + spread))
}

/// Where the price is between the bands: 0 at the lower, 1 at the upper; undefined when they are one.
pub(crate) fn bollinger_position(c: &CompanyAt<'_>, args: &Args) -> Num {
    let (lower, upper) = bollinger(c, args)?;
    if upper > lower { Ok((c.price()? - lower) / (upper - lower)) } else { Err(Why::NoAnswer) }
}

/// Average true range by Wilder's smoothing, seeded with the mean of the first n; the first bar has no true range.
pub(crate) fn atr(c: &CompanyAt<'_>, args: &Args) -> Num {
    let alpha = 1.0 / f64::from(args.count);
    let n = enough(alpha, args.count);
    if args.bars == BarSize::Day {
        let (bars, at) = (c.bars(), c.bars().len().saturating_sub(n)..c.bars().len());
        let field = |f| bars.series(f, at.clone());
        return true_range(&field(Field::High), &field(Field::Low), &field(Field::Close), args.count);
    }
    let frame = Frame::newest(c, args.bars, n);
    true_range(&frame.high, &frame.low, &frame.close, args.count)
}

fn true_range(high: &[f64], low: &[f64], close: &[f64], n: u32) -> Num {
    let range = |i: usize| high[i].max(close[i - 1]) - low[i].min(close[i - 1]);
    smoothed((1..close.len().max(1)).map(range), n, 1.0 / f64::from(n))
}

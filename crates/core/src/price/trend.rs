//! Lines through the price, and the check of its trend.

use super::{
    averages::{rsi, sma},
    frame::exactly,
    trading::relative_volume,
    year::{change, high_52w},
};
use crate::{
    Num, Why,
    domain::{BarSize, Span},
    formula::Args,
    panel::{CompanyAt, Field},
    stats,
};

/// Sessions of the year in which a breakout is looked for, as a half.
const BREAKOUT_SESSIONS: u32 = 126;
/// Volume, in ordinary volumes, that a breakout needs.
const BREAKOUT_VOLUME: f64 = 1.5;
/// Sessions that make the ordinary volume.
const ORDINARY_SESSIONS: u32 = 63;
/// A rising price has its strength in this band.
const SOUND_STRENGTH: std::ops::RangeInclusive<f64> = 45.0..=70.0;
/// At least this share of the yearly high.
const NEAR_HIGH: f64 = 0.75;

fn log_line(c: &CompanyAt<'_>, n: u32) -> Result<stats::Line, Why> {
    let logs: Vec<f64> = exactly(c, BarSize::Day, n)?.into_iter().map(f64::ln).collect();
    stats::line(&logs).ok_or(Why::HistoryTooShort)
}

/// R² of ln close on session number over n sessions, negative when the line falls.
pub(crate) fn smoothness(c: &CompanyAt<'_>, args: &Args) -> Num {
    let line = log_line(c, args.count)?;
    Ok(if line.slope < 0.0 { -line.r2 } else { line.r2 })
}

/// Two parallel lines around the price of some sessions.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Channel {
    /// The lower line at the first session, as a logarithm.
    start: f64,
    /// It rises by this a session.
    slope: f64,
    /// From the lower to the upper line.
    width: f64,
    sessions: u32,
}

impl Channel {
    /// The prices of the lower and the upper line at the first session.
    #[must_use]
    pub fn first(&self) -> (f64, f64) {
        (self.start.exp(), (self.start + self.width).exp())
    }

    /// The same at the last session.
    #[must_use]
    pub fn last(&self) -> (f64, f64) {
        let (lower, upper) = self.end();
        (lower.exp(), upper.exp())
    }

    fn end(&self) -> (f64, f64) {
        let lower = self.start + self.slope * f64::from(self.sessions - 1);
        (lower, lower + self.width)
    }
}

/// The line of ln close over n sessions, less and plus 2 √(SSR ÷ (n − 2)).
///
/// # Errors
/// Fewer sessions than asked for, or fewer than three.
pub fn channel_of(c: &CompanyAt<'_>, n: u32) -> Result<Channel, Why> {
    let line = log_line(c, n)?;
    if n < 3 {
        return Err(Why::HistoryTooShort);
    }
    let half = 2.0 * (line.ssr / (f64::from(n) - 2.0)).sqrt();
    Ok(Channel { start: line.intercept - half, slope: line.slope, width: 2.0 * half, sessions: n })
}

/// The channel at its end, as logarithms.
fn channel(c: &CompanyAt<'_>, args: &Args) -> Result<(f64, f64), Why> {
    Ok(channel_of(c, args.count)?.end())
}

/// The channel's lower edge as a price.
pub(crate) fn channel_lower(c: &CompanyAt<'_>, args: &Args) -> Num {
    channel(c, args).map(|(lower, _)| lower.exp())
}

/// The channel's upper edge as a price.
pub(crate) fn channel_upper(c: &CompanyAt<'_>, args: &Args) -> Num {
    channel(c, args).map(|(_, upper)| upper.exp())
}

/// (ln P − lower) ÷ (upper − lower), not clamped.
pub(crate) fn channel_position(c: &CompanyAt<'_>, args: &Args) -> Num {
    let (lower, upper) = channel(c, args)?;
    if upper > lower { Ok((c.price()?.ln() - lower) / (upper - lower)) } else { Err(Why::NoAnswer) }
}

/// A close above the highest of the 126 sessions before, on at least one and a half times the ordinary volume.
pub(crate) fn breakout(c: &CompanyAt<'_>, _: &Args) -> Result<bool, Why> {
    let closes = exactly(c, BarSize::Day, BREAKOUT_SESSIONS + 1)?;
    let (last, before) = closes.split_last().ok_or(Why::HistoryTooShort)?;
    let volume = relative_volume(c, &Args { count: ORDINARY_SESSIONS, ..Args::default() })?;
    Ok(before.iter().all(|v| last > v) && volume > BREAKOUT_VOLUME)
}

/// (Highest high − lowest low) ÷ P of the last five sessions.
pub(crate) fn weekly_range(c: &CompanyAt<'_>) -> Num {
    let bars = c.bars();
    let start = bars.len().checked_sub(5).ok_or(Why::HistoryTooShort)?;
    let high = bars.series(Field::High, start..bars.len()).into_iter().fold(f64::MIN, f64::max);
    let low = bars.series(Field::Low, start..bars.len()).into_iter().fold(f64::MAX, f64::min);
    Ok((high - low) / c.price()?)
}

/// What the check of a trend looks at, by size of bars: short and long average, how many bars ago the long one was
/// lower, and the period of the price change.
const CHECKS: [(BarSize, u32, u32, u32, Span); 3] =
    [(BarSize::Day, 50, 200, 21, Span::months(6)), (BarSize::Week, 10, 40, 4, Span::years(1)), (BarSize::Month, 6, 12, 3, Span::years(3))];

/// The six tests in order: price above the short average; short above long; long above its value some bars ago; the
/// price risen over the period; strength between 45 and 70; price at least three quarters of the yearly high.
pub fn trend_tests(c: &CompanyAt<'_>, size: BarSize) -> Result<[bool; 6], Why> {
    let (_, short, long, back, span) = CHECKS[size as usize];
    let average = |n| sma(c, &Args { count: n, bars: size, ..Args::default() });
    let (price, short, long_now) = (c.price()?, average(short)?, average(long)?);
    let before = exactly(c, size, long + back)?;
    let long_before = stats::mean(&before[..long as usize]).ok_or(Why::HistoryTooShort)?;
    let strength = rsi(c, &Args { count: 14, bars: size, ..Args::default() })?;
    let risen = change(c, &Args { span: Some(span), ..Args::default() })? > 0.0;
    Ok([
        price > short,
        short > long_now,
        long_now > long_before,
        risen,
        SOUND_STRENGTH.contains(&strength),
        price >= NEAR_HIGH * high_52w(c)?,
    ])
}

/// How many of the six tests hold.
#[allow(clippy::cast_precision_loss)]
pub(crate) fn trend_check(c: &CompanyAt<'_>, args: &Args) -> Num {
    Ok(trend_tests(c, args.bars)?.iter().filter(|t| **t).count() as f64)
}

/// Month bars that beta looks at: returns of five years.
const BETA_MONTHS: usize = 61;
/// Fewer months say nothing.
const BETA_LEAST: usize = 25;

/// Sample covariance ÷ variance of simple monthly returns against the index of which the company is a member (the first
/// by id), in the listing's currency, on the dates of the company's own month bars.
pub(crate) fn beta(c: &CompanyAt<'_>, _: &Args) -> Num {
    let ends = c.bars().months(BETA_MONTHS);
    if ends.len() < BETA_LEAST {
        return Err(Why::HistoryTooShort);
    }
    let index = c.first_index().ok_or(Why::NoIndex)?;
    let own: Vec<f64> = ends.iter().map(|end| c.bars().close(end - 1)).collect();
    let level = |end: &usize| c.index_level(index, c.bars().dates()[end - 1]);
    let levels: Vec<f64> = ends.iter().map(level).collect::<Result<_, _>>()?;
    let returns = |v: &[f64]| v.windows(2).map(|w| w[1] / w[0] - 1.0).collect::<Vec<f64>>();
    let (own, market) = (returns(&own), returns(&levels));
    let (mean_own, mean_market) = (stats::mean(&own), stats::mean(&market));
    let (mo, mm) = mean_own.zip(mean_market).ok_or(Why::HistoryTooShort)?;
    let together: f64 = own.iter().zip(&market).map(|(a, b)| (a - mo) * (b - mm)).sum();
    let variance: f64 = market.iter().map(|b| (b - mm).powi(2)).sum();
    if variance > 0.0 { Ok(together / variance) } else { Err(Why::NoAnswer) }
}

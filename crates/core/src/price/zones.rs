//! Prices at which trading turned or jumped before: levels and gaps.

use super::{averages::atr, frame::Frame};
use crate::{
    Num, Why,
    domain::{BarSize, Day},
    formula::Args,
    panel::{CompanyAt, Field},
    stats,
};
use serde::Serialize;

/// Sessions in which turns are looked for.
const SESSIONS: usize = 252;
/// A turn is beyond this many sessions on both sides, hence known as many sessions later.
const BESIDE: usize = 5;
/// Turns of one level lie within this many average ranges of its first.
const JOINED: f64 = 1.0;
/// As near above a support level, in average ranges, counts as at it.
const NEAR: f64 = 1.5;
/// The least gap, as a share of the close before it.
const LEAST_GAP: f64 = 0.01;

/// A session whose high or low is strictly beyond those of the five sessions on both sides.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Turn {
    /// The session.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub date: Day,
    /// Its high or low.
    pub price: f64,
    /// Whether it is a high.
    pub high: bool,
}

/// A price at which trading turned at least twice.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Level {
    /// Mean price of its turns.
    pub price: f64,
    /// How many turns.
    pub touches: usize,
}

/// A gap that no session has closed since.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Gap {
    /// The session that jumped.
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub date: Day,
    /// Lower edge.
    pub low: f64,
    /// Upper edge.
    pub high: f64,
    /// Of the band between the edges, the part in which nothing has traded since.
    pub open_low: f64,
    /// Its upper end.
    pub open_high: f64,
    /// Whether the price jumped up.
    pub up: bool,
}

fn range(c: &CompanyAt<'_>) -> Num {
    atr(c, &Args { count: 14, ..Args::default() })
}

/// The levels of the last 252 sessions, lowest first.
pub fn levels(c: &CompanyAt<'_>) -> Result<Vec<Level>, Why> {
    levels_within(c, JOINED * range(c)?)
}

/// The turns among the last 252 sessions, oldest first; a turn is known five sessions later.
pub fn turns(c: &CompanyAt<'_>) -> Result<Vec<Turn>, Why> {
    let bars = c.bars();
    let year = bars.len().checked_sub(SESSIONS).ok_or(Why::HistoryTooShort)?;
    let start = year.saturating_sub(BESIDE);
    let (high, low) = (bars.series(Field::High, start..bars.len()), bars.series(Field::Low, start..bars.len()));
    let beside = |i: usize| (1..=BESIDE).flat_map(move |d| [i - d, i + d]);
    let inner = (year - start).max(BESIDE)..high.len() - BESIDE;
    let of_session = |i: usize| {
        let turn = |price, high| Turn { date: bars.dates()[start + i], price, high };
        let top = beside(i).all(|other| high[i] > high[other]).then(|| turn(high[i], true));
        let bottom = beside(i).all(|other| low[i] < low[other]).then(|| turn(low[i], false));
        [top, bottom].into_iter().flatten()
    };
    Ok(inner.flat_map(of_session).collect())
}

fn levels_within(c: &CompanyAt<'_>, reach: f64) -> Result<Vec<Level>, Why> {
    let mut prices: Vec<f64> = turns(c)?.into_iter().map(|t| t.price).collect();
    prices.sort_by(f64::total_cmp);
    Ok(runs(&prices, reach)
        .into_iter()
        .filter(|g| g.len() >= 2)
        .filter_map(|g| Some(Level { price: stats::mean(g)?, touches: g.len() }))
        .collect())
}

/// Splits sorted prices into runs within `reach` of the first of their run.
fn runs(prices: &[f64], reach: f64) -> Vec<&[f64]> {
    let (mut out, mut start) = (Vec::new(), 0);
    for i in (1..=prices.len()).filter(|_| !prices.is_empty()) {
        if i == prices.len() || prices[i] - prices[start] > reach {
            out.push(&prices[start..i]);
            start = i;
        }
    }
    out
}

/// The nearest level below the price.
pub(crate) fn support(c: &CompanyAt<'_>) -> Num {
    let price = c.price()?;
    levels(c)?.iter().rev().map(|l| l.price).find(|l| *l < price).ok_or(Why::NoLevel)
}

/// The nearest level above the price.
pub(crate) fn resistance(c: &CompanyAt<'_>) -> Num {
    let price = c.price()?;
    levels(c)?.iter().map(|l| l.price).find(|l| *l > price).ok_or(Why::NoLevel)
}

/// Whether the price is within one and a half average ranges above a level.
pub(crate) fn near_support(c: &CompanyAt<'_>, _: &Args) -> Result<bool, Why> {
    let (price, range) = (c.price()?, range(c)?);
    Ok(levels_within(c, JOINED * range)?.iter().any(|l| l.price < price && price - l.price <= NEAR * range))
}

/// The gaps of the last n sessions that are still open, newest last.
pub fn gaps(c: &CompanyAt<'_>, n: u32) -> Result<Vec<Gap>, Why> {
    let frame = Frame::newest(c, BarSize::Day, n as usize + 1);
    if frame.len() < n as usize {
        return Err(Why::HistoryTooShort);
    }
    let (mut out, mut lowest, mut highest) = (Vec::new(), f64::MAX, f64::MIN);
    for i in (1..frame.len()).rev() {
        let (date, low, high) = (frame.dates[i], frame.low[i], frame.high[i]);
        let (low_before, high_before, least) = (frame.low[i - 1], frame.high[i - 1], LEAST_GAP * frame.close[i - 1]);
        lowest = lowest.min(low);
        highest = highest.max(high);
        if low - high_before >= least && low > high_before && lowest > high_before {
            out.push(Gap { date, low: high_before, high: low, open_low: high_before, open_high: lowest, up: true });
        }
        if low_before - high >= least && high < low_before && highest < low_before {
            out.push(Gap { date, low: high, high: low_before, open_low: highest, open_high: low_before, up: false });
        }
    }
    out.reverse();
    Ok(out)
}

/// How many open gaps there are in a direction.
#[allow(clippy::cast_precision_loss)]
pub(crate) fn open_gaps(c: &CompanyAt<'_>, args: &Args, up: bool) -> Num {
    Ok(gaps(c, args.count)?.iter().filter(|g| g.up == up).count() as f64)
}

//! The bars of a company with averages, bands, strength, and the prices at which it turned.

use super::{
    super::behaviour::{OpenGap, PriceLevel, gap, levels},
    log::{LogEntry, log},
};
use crate::{AppError, Ctx, figures::compact::six_digits};
use artemon_core::{
    domain::{BarSize, Day},
    panel::CompanyAt,
    price::{self, Frame},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Years of bars that are shown.
const YEARS: i32 = 20;
/// Averages drawn at once.
const MOST_AVERAGES: usize = 4;
/// Bars over which a line may be made.
const LENGTHS: std::ops::RangeInclusive<usize> = 2..=500;
/// Sessions of the channel, and in which gaps are looked for.
const CHANNEL: u32 = 126;
const GAPS_WITHIN: u32 = 252;
/// Standard deviations of the bands.
const BAND_WIDTH: f64 = 2.0;

/// Which bars, with which lines.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PriceRequest {
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// "day", "week" or "month".
    #[schema(value_type = String)]
    pub bars: BarSize,
    /// Plain averages over so many bars.
    #[serde(default)]
    pub averages: Vec<usize>,
    /// Bands of two standard deviations around the average of so many bars.
    #[serde(default)]
    pub bands: Option<usize>,
    /// Relative strength over so many bars.
    #[serde(default)]
    pub strength: Option<usize>,
}

/// The bars of a company, oldest first, on the split basis of the date and in the listing's currency; lists are as long as the dates.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PriceAnswer {
    pub currency: String,
    #[schema(value_type = Vec<String>)]
    pub dates: Vec<Day>,
    pub open: Vec<f64>,
    pub high: Vec<f64>,
    pub low: Vec<f64>,
    pub close: Vec<f64>,
    /// None where it is not known of a session.
    pub volume: Vec<Option<f64>>,
    pub averages: Vec<LineAnswer>,
    pub bands: Option<BandsAnswer>,
    pub strength: Option<LineAnswer>,
    /// The index of which it is a member: its level in the listing's currency.
    pub index: Option<IndexLine>,
    pub zones: PriceZones,
    /// What happened, oldest first.
    pub log: Vec<LogEntry>,
}

/// A line over so many bars; null before there are as many.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LineAnswer {
    pub bars: usize,
    pub values: Vec<Option<f64>>,
}

/// Two standard deviations below and above an average.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct BandsAnswer {
    pub bars: usize,
    pub lower: Vec<Option<f64>>,
    pub upper: Vec<Option<f64>>,
}

/// The level of an index at each bar.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IndexLine {
    pub name: String,
    pub values: Vec<Option<f64>>,
}

/// Prices at which trading turned or jumped in the last year of sessions, and the channel of the last half; empty where the history
/// is too short.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PriceZones {
    pub support: Vec<PriceLevel>,
    pub resistance: Vec<PriceLevel>,
    /// That no session has closed since.
    pub gaps: Vec<OpenGap>,
    pub channel: Option<ChannelAnswer>,
}

/// Two parallel lines around the price, equal changes equally tall.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ChannelAnswer {
    #[schema(value_type = String)]
    pub from: Day,
    #[schema(value_type = String)]
    pub to: Day,
    /// Lower and upper price at the first session.
    pub first: [f64; 2],
    /// Lower and upper price at the last one.
    pub last: [f64; 2],
}

/// The bars of a company with the lines asked for.
///
/// # Errors
/// An unknown company, a date outside the data, too many lines or lines over too many bars.
pub fn price_chart(ctx: &Ctx, symbol: &str, request: &PriceRequest) -> Result<PriceAnswer, AppError> {
    let c = ctx.company(symbol, ctx.date(request.as_of)?)?;
    check(request)?;
    let bars = bars_of(&c, request.bars);
    let line = |n: usize, values: Vec<Option<f64>>| LineAnswer { bars: n, values: short(values) };
    Ok(PriceAnswer {
        currency: c.listing_currency().to_string(),
        averages: request.averages.iter().map(|n| line(*n, price::averages(&bars.close, *n))).collect(),
        bands: request.bands.map(|n| bands(&bars, n)),
        strength: request.strength.map(|n| line(n, price::strengths(&bars.close, n))),
        index: index(ctx, &c, &bars),
        zones: zones(&c),
        log: log(ctx, &c, bars.dates.first().copied()),
        dates: bars.dates,
        open: all_short(bars.open),
        high: all_short(bars.high),
        low: all_short(bars.low),
        close: all_short(bars.close),
        volume: short(bars.volume.into_iter().map(|v| (!v.is_nan()).then_some(v)).collect()),
    })
}

fn check(request: &PriceRequest) -> Result<(), AppError> {
    let refused = |problem: String| Err(AppError::Unusable { what: "The chart".to_owned(), problem });
    if request.averages.len() > MOST_AVERAGES {
        return refused(format!("it shows {MOST_AVERAGES} averages at most"));
    }
    let lengths = request.averages.iter().chain(&request.bands).chain(&request.strength);
    match lengths.into_iter().find(|n| !LENGTHS.contains(n)) {
        Some(n) => refused(format!("a line over {n} bars cannot be drawn; choose {} to {}", LENGTHS.start(), LENGTHS.end())),
        None => Ok(()),
    }
}

/// The bars of the last twenty years.
fn bars_of(c: &CompanyAt<'_>, size: BarSize) -> Frame {
    let mut bars = Frame::newest(c, size, usize::MAX);
    let first = c.t().plus_months(-12 * YEARS);
    let old = bars.dates.partition_point(|d| *d < first);
    bars.dates.drain(..old);
    for column in [&mut bars.open, &mut bars.high, &mut bars.low, &mut bars.close, &mut bars.volume] {
        column.drain(..old);
    }
    bars
}

fn bands(bars: &Frame, n: usize) -> BandsAnswer {
    let both = price::bands(&bars.close, n, BAND_WIDTH);
    let side = |of: fn((f64, f64)) -> f64| short(both.iter().map(|b| b.map(of)).collect());
    BandsAnswer { bars: n, lower: side(|b| b.0), upper: side(|b| b.1) }
}

fn index(ctx: &Ctx, c: &CompanyAt<'_>, bars: &Frame) -> Option<IndexLine> {
    let id = c.first_index()?;
    let name = ctx.snapshot().indexes().find(|i| i.0 == id).map_or(id, |i| i.1);
    let level = |day: &Day| c.index_level(id, *day).ok().map(six_digits);
    Some(IndexLine { name: name.to_owned(), values: bars.dates.iter().map(level).collect() })
}

fn zones(c: &CompanyAt<'_>) -> PriceZones {
    let channel = || {
        let (dates, channel) = (c.bars().dates(), price::channel_of(c, CHANNEL).ok()?);
        let (to, from) = (c.bars().len() - 1, c.bars().len() - CHANNEL as usize);
        Some(ChannelAnswer { from: dates[from], to: dates[to], first: channel.first().into(), last: channel.last().into() })
    };
    PriceZones {
        support: levels(c, false).unwrap_or_default(),
        resistance: levels(c, true).unwrap_or_default(),
        gaps: price::gaps(c, GAPS_WITHIN).unwrap_or_default().into_iter().map(gap).collect(),
        channel: channel(),
    }
}

fn all_short(values: Vec<f64>) -> Vec<f64> {
    values.into_iter().map(six_digits).collect()
}

fn short(values: Vec<Option<f64>>) -> Vec<Option<f64>> {
    values.into_iter().map(|v| v.map(six_digits)).collect()
}

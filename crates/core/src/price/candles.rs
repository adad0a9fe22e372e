//! Shapes of bars, after Nison 1991. The market must have moved before a shape can mean a turn.

use super::frame::Frame;
use crate::{
    Why,
    domain::{BarSize, Day},
    formula::Args,
    panel::CompanyAt,
};
use serde::Serialize;

/// A body of at most this share of the bar's range is a doji's.
const DOJI_BODY: f64 = 0.1;
/// The body of a star's first bar has at least this share of its range.
const LONG_BODY: f64 = 0.5;
/// A star's middle body is at most this share of the first.
const STAR_BODY: f64 = 0.3;
/// The long shadow is at least so many bodies.
const LONG_SHADOW: f64 = 2.0;
/// The short shadow is at most this share of the range.
const SHORT_SHADOW: f64 = 0.1;
/// Bars over which the market must have moved, up to the one before the shape.
const TREND_BARS: usize = 5;

/// A shape of one to three bars.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Candle {
    /// Opened and closed at about one price.
    Doji,
    /// After a fall, a small body above a long lower shadow.
    Hammer,
    /// After a rise, a small body below a long upper shadow.
    ShootingStar,
    /// After a fall, a rising body that covers the falling one before.
    BullishEngulfing,
    /// After a rise, a falling body that covers the rising one before.
    BearishEngulfing,
    /// After a fall: a long falling body, a small one below it, a rising one back into the first.
    #[serde(rename = "morning_star")]
    StarAfterFall,
    /// After a rise: a long rising body, a small one above it, a falling one back into the first.
    #[serde(rename = "evening_star")]
    StarAfterRise,
}

impl Candle {
    /// All of them.
    pub const ALL: [Candle; 7] = [
        Candle::Doji,
        Candle::Hammer,
        Candle::ShootingStar,
        Candle::BullishEngulfing,
        Candle::BearishEngulfing,
        Candle::StarAfterFall,
        Candle::StarAfterRise,
    ];

    /// How many bars make the shape.
    const fn bars(self) -> usize {
        match self {
            Candle::Doji | Candle::Hammer | Candle::ShootingStar => 1,
            Candle::BullishEngulfing | Candle::BearishEngulfing => 2,
            Candle::StarAfterFall | Candle::StarAfterRise => 3,
        }
    }

    /// How many bars are looked at: its own, and those of the move before it.
    const fn bars_needed(self) -> usize {
        match self {
            Candle::Doji => 1,
            _ => self.bars() + TREND_BARS + 1,
        }
    }
}

/// A shape and the last session of the bar that completed it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct CandleAt {
    #[cfg_attr(feature = "openapi", schema(value_type = String, format = Date))]
    pub date: Day,
    pub candle: Candle,
}

/// All shapes completed by one of the newest `n` bars of a size, the running bar included; oldest first.
#[must_use]
pub fn candles(c: &CompanyAt<'_>, size: BarSize, n: usize) -> Vec<CandleAt> {
    let longest = Candle::StarAfterFall.bars_needed();
    let frame = Frame::newest(c, size, n + longest - 1);
    let newest = frame.len().saturating_sub(n)..frame.len();
    let of_bar = |i: usize| {
        let date = frame.dates[i];
        Candle::ALL.into_iter().filter(|candle| is(&frame, i, *candle)).map(move |candle| CandleAt { date, candle }).collect::<Vec<_>>()
    };
    newest.flat_map(of_bar).collect()
}

/// Whether the newest bars have the shape.
pub(crate) fn candle(c: &CompanyAt<'_>, args: &Args, shape: Candle) -> Result<bool, Why> {
    let n = shape.bars_needed();
    let frame = Frame::newest(c, args.bars, n);
    if frame.len() < n {
        return Err(Why::HistoryTooShort);
    }
    Ok(is(&frame, n - 1, shape))
}

/// One bar's parts.
struct Bar {
    open: f64,
    close: f64,
    body: f64,
    range: f64,
    upper: f64,
    lower: f64,
}

impl Bar {
    fn of(f: &Frame, i: usize) -> Bar {
        let (open, close, high, low) = (f.open[i], f.close[i], f.high[i], f.low[i]);
        Bar { open, close, body: (close - open).abs(), range: high - low, upper: high - open.max(close), lower: open.min(close) - low }
    }

    fn rises(&self) -> bool {
        self.close > self.open
    }

    fn falls(&self) -> bool {
        self.close < self.open
    }

    fn top(&self) -> f64 {
        self.open.max(self.close)
    }

    fn bottom(&self) -> f64 {
        self.open.min(self.close)
    }

    fn is_doji(&self) -> bool {
        self.range > 0.0 && self.body <= DOJI_BODY * self.range
    }

    /// A long shadow on one side of a small body, hardly one on the other.
    fn hangs(&self, long: f64, short: f64) -> bool {
        self.range > 0.0 && !self.is_doji() && long >= LONG_SHADOW * self.body && short <= SHORT_SHADOW * self.range
    }

    fn is_long(&self) -> bool {
        self.range > 0.0 && self.body >= LONG_BODY * self.range
    }

    fn engulfs(&self, before: &Bar) -> bool {
        self.bottom() <= before.bottom() && self.top() >= before.top() && self.body > before.body
    }
}

/// Whether the bar at `last` completes the shape; not where the move before it cannot be told.
fn is(f: &Frame, last: usize, shape: Candle) -> bool {
    if last + 1 < shape.bars_needed() {
        return false;
    }
    let moved = || {
        let before = last - shape.bars();
        f.close[before] - f.close[before - TREND_BARS]
    };
    let at = |back: usize| Bar::of(f, last - back);
    let now = at(0);
    match shape {
        Candle::Doji => now.is_doji(),
        Candle::Hammer => moved() < 0.0 && now.hangs(now.lower, now.upper),
        Candle::ShootingStar => moved() > 0.0 && now.hangs(now.upper, now.lower),
        Candle::BullishEngulfing => moved() < 0.0 && at(1).falls() && now.rises() && now.engulfs(&at(1)),
        Candle::BearishEngulfing => moved() > 0.0 && at(1).rises() && now.falls() && now.engulfs(&at(1)),
        Candle::StarAfterFall => {
            let (first, star) = (at(2), at(1));
            let small_below = star.body <= STAR_BODY * first.body && star.top() < first.bottom();
            let back = now.rises() && now.close > f64::midpoint(first.open, first.close);
            moved() < 0.0 && first.falls() && first.is_long() && small_below && back
        }
        Candle::StarAfterRise => {
            let (first, star) = (at(2), at(1));
            let small_above = star.body <= STAR_BODY * first.body && star.bottom() > first.top();
            let back = now.falls() && now.close < f64::midpoint(first.open, first.close);
            moved() > 0.0 && first.rises() && first.is_long() && small_above && back
        }
    }
}

//! Shapes of the newest bars, after Nison 1991. The market must have moved before a shape can mean a turn.

use super::frame::Frame;
use crate::{Why, formula::Args, panel::CompanyAt};

/// A body of at most this share of the bar's range is none.
const NO_BODY: f64 = 0.1;
/// A body of at least this share of the range is a long one.
const LONG_BODY: f64 = 0.6;
/// A star's body is at most this share of the body before it.
const STAR_BODY: f64 = 0.3;
/// The long shadow is at least so many bodies.
const LONG_SHADOW: f64 = 2.0;
/// The short shadow is at most this share of the range.
const SHORT_SHADOW: f64 = 0.1;
/// Bars over which the price must have moved before the shape.
const BEFORE: usize = 5;
/// Bars of the longest shape.
const SHAPE: usize = 3;

/// A shape.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Candle {
    Doji,
    Hammer,
    ShootingStar,
    BullishEngulfing,
    BearishEngulfing,
    StarAfterFall,
    StarAfterRise,
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

fn bar(f: &Frame, i: usize) -> Bar {
    let (open, close, high, low) = (f.open[i], f.close[i], f.high[i], f.low[i]);
    Bar { open, close, body: (close - open).abs(), range: high - low, upper: high - open.max(close), lower: open.min(close) - low }
}

impl Bar {
    fn rises(&self) -> bool {
        self.close > self.open
    }

    fn falls(&self) -> bool {
        self.close < self.open
    }

    fn is_long(&self) -> bool {
        self.body >= LONG_BODY * self.range && self.range > 0.0
    }

    /// A long shadow on one side of a small body, hardly one on the other.
    fn hangs(&self, long: f64, short: f64) -> bool {
        self.body > 0.0 && long >= LONG_SHADOW * self.body && short <= SHORT_SHADOW * self.range
    }

    fn engulfs(&self, before: &Bar) -> bool {
        self.open.min(self.close) <= before.open.min(before.close)
            && self.open.max(self.close) >= before.open.max(before.close)
            && self.body > before.body
    }
}

/// Whether the newest bars have the shape.
pub(crate) fn candle(c: &CompanyAt<'_>, args: &Args, shape: Candle) -> Result<bool, Why> {
    let n = BEFORE + SHAPE;
    let frame = Frame::newest(c, args.bars, n);
    if frame.len() < n {
        return Err(Why::HistoryTooShort);
    }
    Ok(is(&frame, n - 1, shape))
}

fn is(f: &Frame, last: usize, shape: Candle) -> bool {
    let (now, before, first) = (bar(f, last), bar(f, last - 1), bar(f, last - 2));
    // The move before a shape of so many bars.
    let fell = |bars: usize| f.close[last - bars] < f.close[last - bars - BEFORE + 1];
    let rose = |bars: usize| f.close[last - bars] > f.close[last - bars - BEFORE + 1];
    let (first_middle, first_top, first_bottom) =
        (f64::midpoint(first.open, first.close), first.open.max(first.close), first.open.min(first.close));
    let star = before.body <= STAR_BODY * first.body;
    match shape {
        Candle::Doji => now.range > 0.0 && now.body <= NO_BODY * now.range,
        Candle::Hammer => fell(1) && now.hangs(now.lower, now.upper),
        Candle::ShootingStar => rose(1) && now.hangs(now.upper, now.lower),
        Candle::BullishEngulfing => fell(1) && before.falls() && now.rises() && now.engulfs(&before),
        Candle::BearishEngulfing => rose(1) && before.rises() && now.falls() && now.engulfs(&before),
        Candle::StarAfterFall => {
            let below = before.open.max(before.close) < first_bottom;
            fell(2) && first.falls() && first.is_long() && star && below && now.rises() && now.close >= first_middle
        }
        Candle::StarAfterRise => {
            let above = before.open.min(before.close) > first_top;
            rose(2) && first.rises() && first.is_long() && star && above && now.falls() && now.close <= first_middle
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Bars as (open, high, low, close).
    fn frame(bars: [(f64, f64, f64, f64); 8]) -> Frame {
        Frame {
            open: bars.iter().map(|b| b.0).collect(),
            high: bars.iter().map(|b| b.1).collect(),
            low: bars.iter().map(|b| b.2).collect(),
            close: bars.iter().map(|b| b.3).collect(),
            ..Frame::default()
        }
    }

    const FALLING: [(f64, f64, f64, f64); 5] =
        [(20.0, 20.5, 18.9, 19.0), (19.0, 19.2, 17.8, 18.0), (18.0, 18.1, 16.9, 17.0), (17.0, 17.2, 15.9, 16.0), (16.0, 16.1, 14.9, 15.0)];

    fn with(end: [(f64, f64, f64, f64); 3]) -> Frame {
        let mut all = [end[0]; 8];
        all[..5].copy_from_slice(&FALLING);
        all[5..].copy_from_slice(&end);
        frame(all)
    }

    #[test]
    fn a_shape_is_known_by_its_bodies_and_shadows() {
        let hammer = with([(15.0, 15.1, 14.4, 14.5), (14.5, 14.6, 13.9, 14.0), (13.8, 14.12, 12.5, 14.1)]);
        assert!(is(&hammer, 7, Candle::Hammer) && !is(&hammer, 7, Candle::ShootingStar));
        let engulfing = with([(15.0, 15.1, 14.4, 14.5), (14.5, 14.6, 13.9, 14.0), (13.9, 15.0, 13.8, 14.8)]);
        assert!(is(&engulfing, 7, Candle::BullishEngulfing) && !is(&engulfing, 7, Candle::Hammer));
        let star = with([(15.0, 15.1, 13.0, 13.1), (12.8, 12.9, 12.5, 12.7), (12.9, 14.6, 12.8, 14.5)]);
        assert!(is(&star, 7, Candle::StarAfterFall) && !is(&star, 7, Candle::Doji));
        let doji = with([(15.0, 15.1, 14.4, 14.5), (14.5, 14.6, 13.9, 14.0), (14.0, 14.5, 13.5, 14.02)]);
        assert!(is(&doji, 7, Candle::Doji));
    }
}

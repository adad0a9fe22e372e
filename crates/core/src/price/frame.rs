//! Bars of a day, a week or a month, on the split basis of the date.

use crate::{
    Why,
    domain::{BarSize, Day},
    panel::{BarsAt, CompanyAt, Field},
};

/// The newest bars of one size, oldest first.
#[derive(Clone, Debug, Default, PartialEq)]
#[allow(missing_docs)]
pub struct Frame {
    /// The last session of each.
    pub dates: Vec<Day>,
    pub open: Vec<f64>,
    pub high: Vec<f64>,
    pub low: Vec<f64>,
    pub close: Vec<f64>,
    pub volume: Vec<f64>,
}

impl Frame {
    /// The newest `n` bars, or all when there are fewer. The running week or month is one of them.
    #[must_use]
    pub fn newest(c: &CompanyAt<'_>, size: BarSize, n: usize) -> Frame {
        let bars = c.bars();
        let (ends, start) = ends(&bars, size, n);
        let field = |f| bars.series(f, start..bars.len());
        let dates = ends.iter().map(|e| bars.dates()[e - 1]).collect();
        let frame = Frame {
            dates,
            open: field(Field::Open),
            high: field(Field::High),
            low: field(Field::Low),
            close: field(Field::Close),
            volume: field(Field::Volume),
        };
        if size == BarSize::Day { frame } else { frame.joined(&ends, start) }
    }

    /// The sessions joined to longer bars that end before the positions `ends`.
    fn joined(self, ends: &[usize], start: usize) -> Frame {
        let mut out = Frame { dates: self.dates, ..Frame::default() };
        let mut from = 0;
        for end in ends {
            let at = from..end - start;
            from = at.end;
            out.open.push(self.open[at.start]);
            out.high.push(self.high[at.clone()].iter().copied().fold(f64::MIN, f64::max));
            out.low.push(self.low[at.clone()].iter().copied().fold(f64::MAX, f64::min));
            out.close.push(self.close[at.end - 1]);
            out.volume.push(self.volume[at].iter().sum());
        }
        out
    }

    /// How many bars.
    #[must_use]
    pub fn len(&self) -> usize {
        self.close.len()
    }

    /// Whether there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.close.is_empty()
    }
}

/// The closes of the newest `n` bars of a size, or of all when there are fewer.
pub(crate) fn closes(c: &CompanyAt<'_>, size: BarSize, n: usize) -> Vec<f64> {
    let bars = c.bars();
    let (ends, start) = ends(&bars, size, n);
    if size == BarSize::Day {
        return bars.series(Field::Close, start..bars.len());
    }
    ends.into_iter().map(|e| bars.close(e - 1)).collect()
}

/// Exactly the newest `n` closes.
pub(crate) fn exactly(c: &CompanyAt<'_>, size: BarSize, n: u32) -> Result<Vec<f64>, Why> {
    let found = closes(c, size, n as usize);
    if found.len() == n as usize && n > 0 { Ok(found) } else { Err(Why::HistoryTooShort) }
}

/// The positions after the last session of each of the newest `n` bars, oldest first, and the first session of them all.
fn ends(bars: &BarsAt<'_>, size: BarSize, n: usize) -> (Vec<usize>, usize) {
    let len = bars.len();
    if size == BarSize::Day {
        let start = len.saturating_sub(n);
        return ((start + 1..=len).collect(), start);
    }
    let dates = bars.dates();
    if size == BarSize::Month {
        let out = bars.months(n);
        let first = out
            .first()
            .map_or(len, |end| (0..end - 1).rev().find(|i| dates[*i].month_index() != dates[end - 1].month_index()).map_or(0, |i| i + 1));
        return (out, first);
    }
    let (mut out, mut at) = (Vec::new(), len);
    while at > 0 && out.len() < n {
        out.push(at);
        let own = period(dates[at - 1], size);
        // Weeks are short: step back rather than search.
        while at > 0 && period(dates[at - 1], size) == own {
            at -= 1;
        }
    }
    out.reverse();
    (out, at)
}

/// A number that all days of one week (from Monday) or one month share.
fn period(day: Day, size: BarSize) -> i32 {
    /// 1970-01-01 was a Thursday.
    const THURSDAY: i32 = 3;
    match size {
        BarSize::Day => day.epoch_days(),
        BarSize::Week => (day.epoch_days() + THURSDAY).div_euclid(7),
        BarSize::Month => day.month_index(),
    }
}

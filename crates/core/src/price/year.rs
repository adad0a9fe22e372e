//! The price against its own past.

use crate::{
    Num, Why,
    domain::{Day, Span, SpanUnit},
    formula::Args,
    panel::{BarsAt, CompanyAt, Field},
    stats,
};

/// The yearly window.
const WEEKS_52: Span = Span { count: 52, unit: SpanUnit::Weeks };
/// At most this much above the yearly low counts as at it.
const NEAR_LOW: f64 = 1.03;
/// Sessions a year, for annualising daily figures.
const SESSIONS_A_YEAR: f64 = 252.0;

/// P ÷ close of the last session on or before t − period, − 1; days count sessions, no period is the calendar year to date.
pub(crate) fn change(c: &CompanyAt<'_>, args: &Args) -> Num {
    let bars = c.bars();
    let sessions = match args.span {
        Some(Span { count, unit: SpanUnit::Days }) => bars.len().saturating_sub(count as usize),
        Some(span) => bars.upto(c.t().minus(span)),
        None => bars.upto(Day::from_ymd(c.t().year() - 1, 12, 31).unwrap_or(c.t())),
    };
    let then = sessions.checked_sub(1).ok_or(Why::HistoryTooShort)?;
    Ok(c.price()? / bars.close(then) - 1.0)
}

/// The sessions of (t − 52 weeks, t]; undefined when the history begins within them.
fn last_52_weeks<'a>(c: &CompanyAt<'a>) -> Result<(BarsAt<'a>, std::ops::Range<usize>), Why> {
    let bars = c.bars();
    let start = bars.upto(c.t().minus(WEEKS_52));
    if start == 0 { Err(Why::HistoryTooShort) } else { Ok((bars, start..bars.len())) }
}

/// Highest high of the sessions in (t − 52 weeks, t].
pub(crate) fn high_52w(c: &CompanyAt<'_>) -> Num {
    let (bars, window) = last_52_weeks(c)?;
    bars.highest(Field::High, window).ok_or(Why::NoPrice)
}

/// Lowest low of the sessions in (t − 52 weeks, t].
pub(crate) fn low_52w(c: &CompanyAt<'_>) -> Num {
    let (bars, window) = last_52_weeks(c)?;
    bars.lowest(Field::Low, window).ok_or(Why::NoPrice)
}

/// The low of the window fell within the last n sessions, or P ≤ 1.03 × low.
pub(crate) fn at_low_52w(c: &CompanyAt<'_>, args: &Args) -> Result<bool, Why> {
    let (bars, window) = last_52_weeks(c)?;
    let low = low_52w(c)?;
    let recent = window.end.saturating_sub(args.count as usize).max(window.start)..window.end;
    Ok(c.price()? <= NEAR_LOW * low || recent.into_iter().any(|i| bars.low(i) <= low))
}

/// Sample standard deviation of n daily log returns × √252.
pub(crate) fn volatility(c: &CompanyAt<'_>, args: &Args) -> Num {
    let bars = c.bars();
    let start = bars.len().checked_sub(args.count as usize).filter(|s| *s > 0).ok_or(Why::HistoryTooShort)?;
    let closes = bars.series(Field::Close, start - 1..bars.len());
    let returns: Vec<f64> = closes.windows(2).map(|w| (w[1] / w[0]).ln()).collect();
    stats::stdev(&returns).map(|s| s * SESSIONS_A_YEAR.sqrt()).ok_or(Why::HistoryTooShort)
}

/// P ÷ highest close of the last five years − 1.
pub(crate) fn drawdown(c: &CompanyAt<'_>) -> Num {
    let bars = c.bars();
    let start = bars.upto(c.t().minus(Span::years(5)));
    let high = bars.highest(Field::Close, start..bars.len()).ok_or(Why::NoPrice)?;
    Ok(c.price()? / high - 1.0)
}

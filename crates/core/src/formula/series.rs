//! Statistics over a few fiscal years or many months of one company.

use super::plan::{FiscalStat, OwnStat};
use crate::{Num, Why, stats};

/// Least months of a company's own history.
const OWN_MIN: usize = 36;
/// The standard error of log earnings at which steadiness is 0.
const UNSTEADY: f64 = 0.5;

/// A statistic over fiscal years, `years[0]` the newest.
pub(super) fn fiscal(stat: FiscalStat, years: &[f64]) -> Num {
    let none = Err(Why::HistoryTooShort);
    match stat {
        FiscalStat::At => years.last().copied().map_or(none, Ok),
        FiscalStat::Average => stats::mean(years).map_or(none, Ok),
        FiscalStat::Median => stats::median(years).map_or(none, Ok),
        FiscalStat::Low => years.iter().copied().min_by(f64::total_cmp).map_or(none, Ok),
        FiscalStat::High => years.iter().copied().max_by(f64::total_cmp).map_or(none, Ok),
        FiscalStat::Stdev => stats::stdev(years).map_or(none, Ok),
        FiscalStat::Sum => Ok(years.iter().sum()),
        FiscalStat::Growth => Err(Why::NoAnswer), // needs its two ends only: see the evaluation
        FiscalStat::Slope => fitted(years, Ok).map(|l| l.slope),
        FiscalStat::Trend => fitted(years, logarithm).map(|l| l.slope.exp() - 1.0),
        FiscalStat::TrendFit => fitted(years, logarithm).map(|l| l.r2),
        FiscalStat::Steadiness => steadiness(years),
        #[allow(clippy::cast_precision_loss)]
        FiscalStat::Rises => Ok(years.windows(2).filter(|w| w[0] > w[1]).count() as f64),
    }
}

fn logarithm(v: f64) -> Num {
    if v > 0.0 { Ok(v.ln()) } else { Err(Why::NotPositive) }
}

fn fitted(years: &[f64], of: impl Fn(f64) -> Num) -> Result<stats::Line, Why> {
    let oldest_first: Vec<f64> = years.iter().rev().map(|v| of(*v)).collect::<Result<_, _>>()?;
    stats::line(&oldest_first).ok_or(Why::HistoryTooShort)
}

/// clamp(1 − s ÷ 0.5, 0, 1) with s = √(SSR ÷ (count − 2)) of the logarithms about their line.
#[allow(clippy::cast_precision_loss)]
fn steadiness(years: &[f64]) -> Num {
    let line = fitted(years, logarithm)?;
    if years.len() < 3 {
        return Err(Why::HistoryTooShort);
    }
    let s = (line.ssr / (years.len() - 2) as f64).sqrt();
    Ok((1.0 - s / UNSTEADY).clamp(0.0, 1.0))
}

/// (x − y) ÷ |y|; undefined when y is 0.
pub(super) fn on_year_before(x: Num, y: Num) -> Num {
    let (x, y) = (x?, y?);
    if y == 0.0 { Err(Why::NoAnswer) } else { Ok((x - y) / y.abs()) }
}

/// How many of the rates, newest first, follow one another rising (positive) or falling (negative); 0 when the first two
/// are equal. Counting stops at an undefined rate; the first two must be defined.
#[allow(clippy::float_cmp)]
pub(super) fn in_a_row(rates: impl Iterator<Item = Num>) -> Num {
    let mut rates = rates;
    let (mut newer, second) = (rates.next().unwrap_or(Err(Why::HistoryTooShort))?, rates.next().unwrap_or(Err(Why::HistoryTooShort))?);
    if newer == second {
        return Ok(0.0);
    }
    let rising = newer > second;
    let mut count = 0.0;
    for older in std::iter::once(Ok(second)).chain(rates).map_while(Result::ok) {
        if older == newer || (newer > older) != rising {
            break;
        }
        count += 1.0;
        newer = older;
    }
    Ok(if rising { count } else { -count })
}

/// The median of a company's own months and the value at the date, where it is defined.
pub(super) fn own_median(months: &stats::Middle, today: Num, window_months: f64) -> Num {
    long_enough(months.count + usize::from(today.is_ok()), today, window_months)?;
    today.map(|v| months.median_with(v)).or_else(|_| months.median().ok_or(Why::HistoryTooShort))
}

/// Whether a history has enough months, and half of its window; else why not: for want of a value today, where there is none.
#[allow(clippy::cast_precision_loss)]
fn long_enough(months: usize, today: Num, window_months: f64) -> Result<(), Why> {
    let enough = months >= OWN_MIN && months as f64 >= window_months / 2.0;
    if enough { Ok(()) } else { Err(today.err().unwrap_or(Why::HistoryTooShort)) }
}

/// A statistic of a company's own months; `today` is the value at the date, the last of the history when defined.
#[allow(clippy::cast_precision_loss)]
pub(super) fn own(stat: OwnStat, months: &mut Vec<f64>, today: Num, window_months: f64) -> Num {
    if let Ok(v) = today {
        months.push(v);
    }
    long_enough(months.len(), today, window_months)?;
    let short = Why::HistoryTooShort;
    match stat {
        OwnStat::Rank => stats::rank(today?, months.iter().copied()).ok_or(short),
        OwnStat::Median => stats::percentile_among(months, 0.5).ok_or(short),
        OwnStat::Mean => stats::mean(months).ok_or(short),
        OwnStat::Stdev => stats::stdev(months).ok_or(short),
        OwnStat::Low => months.iter().copied().min_by(f64::total_cmp).ok_or(short),
        OwnStat::High => months.iter().copied().max_by(f64::total_cmp).ok_or(short),
        OwnStat::Z => {
            let sd = stats::stdev(months).filter(|s| *s > 0.0).ok_or(Why::NoAnswer)?;
            Ok((today? - stats::mean(months).ok_or(short)?) / sd)
        }
    }
}

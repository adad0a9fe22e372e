//! What analysts expect.

use crate::{
    Num, Why,
    domain::{Item, Metric, Period},
    formula::Args,
    panel::{CompanyAt, PeriodIndex},
};

/// The fiscal year in progress: the label fy0 + k with the smallest k ≥ 1 for which period_end(fy0) + 12 k months > t,
/// and the whole calendar months from t's month to the month in which it ends (0–12).
fn year_in_progress(c: &CompanyAt<'_>) -> Result<(i32, u32), Why> {
    let year0: PeriodIndex = c.year0()?;
    let end = c.period_end(year0);
    let k = (1..).find(|k| end.plus_months(12 * k) > c.t()).ok_or(Why::HistoryTooShort)?;
    let months = end.plus_months(12 * k).month_index() - c.t().month_index();
    Ok((c.label(year0).0 + k, months.clamp(0, 12).unsigned_abs()))
}

/// (m × FY1 + (12 − m) × FY2) ÷ 12 of the mean estimates; one with weight 0 is not needed.
fn forward(c: &CompanyAt<'_>, metric: Metric) -> Num {
    let (year, months) = year_in_progress(c)?;
    let of = |year: i32, weight: u32| match weight {
        0 => Ok(0.0),
        w => Ok(f64::from(w) * c.estimate(metric, Some(year))?.mean),
    };
    Ok((of(year, months)? + of(year + 1, 12 - months)?) / 12.0)
}

/// P ÷ forward earnings per share.
pub(crate) fn pe_forward(c: &CompanyAt<'_>, _: &Args) -> Num {
    let eps = forward(c, Metric::Eps)? * c.reporting_to_listing()?;
    if eps > 0.0 { Ok(c.price()? / eps) } else { Err(Why::NotPositive) }
}

/// Growth that analysts expect, as a fraction a year: the newest long-term growth, else
/// (mean of the furthest estimated fiscal year ÷ adjusted eps of fy0)^(1/k) − 1, k years apart, both > 0.
pub(crate) fn growth(c: &CompanyAt<'_>) -> Num {
    if let Ok(e) = c.estimate(Metric::LongTermGrowth, None) {
        return Ok(e.mean);
    }
    let year0 = c.year0()?;
    let label = c.label(year0).0;
    let furthest = c.estimates().filter(|e| e.metric == Metric::Eps && e.period.is_none()).filter_map(|e| e.fiscal_year).max();
    let year = furthest.filter(|y| *y > label).ok_or(Why::NoEstimate)?;
    let estimate = c.estimate(Metric::Eps, Some(year))?.mean;
    let actual = c.find_period(label, Period::FY).and_then(|p| c.item(p, Item::EpsAdjusted)).ok_or(Why::NoItem(Item::EpsAdjusted))?;
    if estimate <= 0.0 || actual <= 0.0 {
        return Err(Why::NotPositive);
    }
    Ok((estimate / actual).powf(1.0 / f64::from(year - label)) - 1.0)
}

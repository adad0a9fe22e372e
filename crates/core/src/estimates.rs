//! What analysts expect.

use crate::{
    Num, Why,
    domain::{Day, EventKind, Item, Metric, Period, Span},
    formula::Args,
    panel::{CompanyAt, EstimateRow, PeriodIndex},
    stats,
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
    weighted(c, metric, year_in_progress(c)?)
}

fn weighted(c: &CompanyAt<'_>, metric: Metric, (year, months): (i32, u32)) -> Num {
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

/// Forward operating income in the base currency.
pub(crate) fn forward_ebit(c: &CompanyAt<'_>, _: &Args) -> Num {
    Ok(forward(c, Metric::Ebit)? * c.reporting_to_base()?)
}

/// Forward eps ÷ (the same fiscal years and weights with the means known `count` days ago) − 1, on one split basis.
pub(crate) fn revision(c: &CompanyAt<'_>, args: &Args) -> Num {
    let years = year_in_progress(c)?;
    let then = c.at(c.t().plus_days(-args.count.cast_signed()));
    let before = weighted(&then, Metric::Eps, years)? / c.splits_since(then.t());
    if before > 0.0 { Ok(weighted(c, Metric::Eps, years)? / before - 1.0) } else { Err(Why::NotPositive) }
}

fn next_eps(c: &CompanyAt<'_>) -> Result<EstimateRow, Why> {
    c.estimate(Metric::Eps, Some(year_in_progress(c)?.0))
}

/// The mean estimate of FY1 eps, a traded unit in the reporting currency.
pub(crate) fn next_year_eps(c: &CompanyAt<'_>) -> Num {
    Ok(next_eps(c)?.mean)
}

/// (High − low) ÷ |mean| of the estimates of FY1 eps.
pub(crate) fn spread(c: &CompanyAt<'_>, _: &Args) -> Num {
    let e = next_eps(c)?;
    let width = e.high.zip(e.low).map(|(high, low)| high - low).ok_or(Why::NoEstimate)?;
    if e.mean == 0.0 { Err(Why::NoAnswer) } else { Ok(width / e.mean.abs()) }
}

/// How many analysts estimate FY1 eps.
pub(crate) fn analysts(c: &CompanyAt<'_>, _: &Args) -> Num {
    next_eps(c)?.analysts.ok_or(Why::NoEstimate)
}

/// Mean rating, 1 (strongest buy) to 5 (strongest sell).
pub(crate) fn rating(c: &CompanyAt<'_>, _: &Args) -> Num {
    Ok(c.estimate(Metric::Rating, None)?.mean)
}

/// Price target ÷ P − 1.
pub(crate) fn target_upside(c: &CompanyAt<'_>, _: &Args) -> Num {
    Ok(c.estimate(Metric::PriceTarget, None)?.mean / c.price()? - 1.0)
}

/// Median over k = 1…n of |target known k years ago ÷ close k − 1 years ago − 1|.
pub(crate) fn target_error(c: &CompanyAt<'_>, args: &Args) -> Num {
    let error = |k: u32| {
        let (said, came) = (c.at(c.t().minus(Span::years(k))), c.at(c.t().minus(Span::years(k - 1))));
        let target = said.estimate(Metric::PriceTarget, None)?.mean / came.splits_since(said.t());
        Ok((target / came.price()? - 1.0).abs())
    };
    let errors: Vec<f64> = (1..=args.count).map(error).collect::<Result<_, Why>>()?;
    stats::median(&errors).ok_or(Why::NoEstimate)
}

/// (Mean of fy0 + n ÷ actual of fy0)^(1/n) − 1, both > 0; eps against the company's adjusted figure.
pub(crate) fn estimated_growth(c: &CompanyAt<'_>, args: &Args) -> Num {
    let label = c.label(c.year0()?).0;
    let (metric, item) = match args.metric {
        Some(Metric::Revenue) => (Metric::Revenue, Item::Revenue),
        Some(Metric::Ebit) => (Metric::Ebit, Item::OperatingIncome),
        _ => (Metric::Eps, Item::EpsAdjusted),
    };
    growth_to(c, metric, item, label + args.count.cast_signed(), args.count)
}

fn growth_to(c: &CompanyAt<'_>, metric: Metric, item: Item, year: i32, n: u32) -> Num {
    let estimate = c.estimate(metric, Some(year))?.mean;
    let actual = c.item(c.year0()?, item).ok_or(Why::NoItem(item))?;
    if estimate <= 0.0 || actual <= 0.0 {
        return Err(Why::NotPositive);
    }
    Ok((estimate / actual).powf(1.0 / f64::from(n)) - 1.0)
}

/// What a quarter brought against what was expected of it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Surprise {
    /// As first reported.
    pub reported: f64,
    /// The last mean estimate before the announcement.
    pub expected: f64,
    /// The day of the announcement.
    pub announced: Day,
    /// Fiscal year and number of the quarter.
    pub quarter: (i32, u8),
    /// The day on which it was first filed.
    pub filed: Day,
    /// The day on which the estimate was published.
    pub estimated: Day,
}

/// The k-th newest reported quarter against the estimate: the first filing, not a later restatement, and the last
/// estimate strictly before the earliest earnings event between period end and filing, else before the filing.
pub fn surprise(c: &CompanyAt<'_>, metric: Metric, k: u32) -> Result<Surprise, Why> {
    let item = if metric == Metric::Revenue { Item::Revenue } else { Item::EpsAdjusted };
    let (year, quarter) = c.quarter_back(k)?;
    let period = c.quarter_end((year, quarter)).ok_or(Why::HistoryTooShort)?;
    let (end, filed_on) = (c.period_end(period), c.first_filed(period));
    let at_filing = c.at(filed_on);
    let then = at_filing.quarter((year, quarter), item).ok_or(Why::NoItem(item))?;
    let reported = if metric == Metric::Eps { then / c.splits_since(filed_on) } else { then };
    let is_announcement = |e: &&crate::domain::Event| e.kind == EventKind::Earnings && e.date > end && e.date <= filed_on;
    let announced = c.events().iter().find(is_announcement).map_or(filed_on, |e| e.date);
    let before = c.at(announced.plus_days(-1));
    let is_it = |e: &EstimateRow| e.metric == metric && e.fiscal_year == Some(year) && e.period == Some(Period::quarter(quarter));
    let estimate = before.find_estimate(is_it)?;
    let expected = estimate.mean * at_filing.fx(before.reporting_currency(), at_filing.reporting_currency())?;
    let basis = if metric == Metric::Eps { c.splits_since(before.t()) } else { 1.0 };
    Ok(Surprise {
        reported,
        expected: expected / basis,
        announced,
        quarter: (year, quarter),
        filed: filed_on,
        estimated: estimate.published_on,
    })
}

/// (Reported − estimate) ÷ |estimate| of the k-th newest quarter.
pub(crate) fn surprise_rate(c: &CompanyAt<'_>, metric: Metric, k: u32) -> Num {
    let s = surprise(c, metric, k)?;
    if s.expected == 0.0 { Err(Why::NoAnswer) } else { Ok((s.reported - s.expected) / s.expected.abs()) }
}

/// Reported − estimated earnings per share of the k-th newest quarter, in the listing's currency.
pub(crate) fn surprise_amount(c: &CompanyAt<'_>, args: &Args) -> Num {
    let s = surprise(c, Metric::Eps, args.count)?;
    Ok((s.reported - s.expected) * c.reporting_to_listing()?)
}

/// Growth that analysts expect, as a fraction a year: the newest long-term growth, else
/// (mean of the furthest estimated fiscal year ÷ adjusted eps of fy0)^(1/k) − 1, k years apart, both > 0.
pub(crate) fn growth(c: &CompanyAt<'_>) -> Num {
    if let Ok(e) = c.estimate(Metric::LongTermGrowth, None) {
        return Ok(e.mean);
    }
    let year0 = c.year0()?;
    let label = c.label(year0).0;
    let furthest = c.furthest_estimate(Metric::Eps);
    let year = furthest.filter(|y| *y > label).ok_or(Why::NoEstimate)?;
    growth_to(c, Metric::Eps, Item::EpsAdjusted, year, (year - label).unsigned_abs())
}

/// Periods of rising or falling rates that make a run.
const LEAST_RUN: usize = 3;

/// To which run of acceleration the rate of each period belongs, the newest first: the number of consecutive periods each above the
/// one before, negative for deceleration, 0 for fewer than three. An undefined rate ends a run.
#[must_use]
pub fn runs(rates: &[Num]) -> Vec<i32> {
    let sign = |i: usize| match (rates.get(i), rates.get(i + 1)) {
        (Some(Ok(now)), Some(Ok(before))) if now > before => 1,
        (Some(Ok(now)), Some(Ok(before))) if now < before => -1,
        _ => 0,
    };
    let mut out = vec![0; rates.len()];
    let mut start = 0;
    while start < rates.len() {
        let of = sign(start);
        let length = (start..rates.len()).take_while(|i| sign(*i) == of).count().max(1);
        if of != 0 && length >= LEAST_RUN {
            let run = of * i32::try_from(length).unwrap_or_default();
            out[start..start + length].fill(run);
        }
        start += length;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Newest first: 9 > 7 > 5 > 2 are three accelerations, 2 < 3 is one deceleration alone, 3 > none is nothing.
    #[test]
    fn runs_count_from_three_on() {
        let rates = [Ok(9.0), Ok(7.0), Ok(5.0), Ok(2.0), Ok(3.0), Err(Why::NoAnswer), Ok(1.0), Ok(2.0), Ok(3.0), Ok(4.0)];
        assert_eq!(runs(&rates), [3, 3, 3, 0, 0, 0, -3, -3, -3, 0]);
        assert_eq!(runs(&[Ok(1.0), Ok(1.0), Ok(1.0), Ok(1.0)]), [0; 4]);
        assert_eq!(runs(&[]), [] as [i32; 0]);
    }
}

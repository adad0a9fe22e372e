//! What was expected, what came, and what is expected next: by quarter or by year.

use super::statements::{At, StatementTable, TableLine, reports_quarters, table};
use crate::{
    AppError, Ctx,
    figures::figure::{Figure, number},
};
use artemon_core::{
    Num, Why,
    domain::{Day, Item, Metric, Period},
    estimates,
    panel::{CompanyAt, EstimateRow},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Periods shown at most.
const MOST: u32 = 20;
/// Periods looked at for runs of acceleration.
const LOOKED_AT: u32 = 28;
/// Months of which revisions are shown.
const MONTHS: i32 = 12;
/// Quarters ahead that are looked for.
const AHEAD: u32 = 8;
/// Years over which the error of targets is measured.
const TARGET_YEARS: &str = "target_error(5)";

/// Which periods.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct QuartersRequest {
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// Fiscal years instead of quarters; when absent, of a company that reports no quarters by themselves.
    #[serde(default)]
    pub years: Option<bool>,
    /// How many reported periods, 20 at most.
    pub count: u32,
}

/// Reported periods against what had been expected, and those ahead.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct QuartersAnswer {
    /// Whether the periods are fiscal years.
    pub years: bool,
    /// Newest first; without columns for a company that does not report such periods.
    pub reported: StatementTable,
    /// By column: the length of the run of acceleration to which its growth of earnings belongs, negative for deceleration; 0 when
    /// that is shorter than three.
    pub runs: Vec<i32>,
    /// Soonest first.
    pub ahead: Vec<ExpectedPeriod>,
    /// The mean estimates of earnings of the next two fiscal years over the last twelve months, oldest first.
    pub revisions: Vec<RevisionPoint>,
    /// The fiscal years that are estimated there.
    pub revised_years: [Option<i32>; 2],
    pub target: Option<TargetAnswer>,
    /// How far targets were from the price a year later, in the middle of five years.
    pub target_error: Figure,
}

/// A period that is not reported yet.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ExpectedPeriod {
    pub label: String,
    /// A share, in the listing's currency.
    pub eps: Option<ExpectedRange>,
    /// In the base currency.
    pub revenue: Option<ExpectedRange>,
}

/// What analysts expect of one figure.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ExpectedRange {
    pub mean: f64,
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub analysts: Option<f64>,
    /// Against the same period a year before, where that is reported or expected.
    pub growth: Option<f64>,
    #[schema(value_type = String)]
    pub published_on: Day,
}

/// The mean estimates known at a month's end, on the split basis of the date.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RevisionPoint {
    #[schema(value_type = String)]
    pub date: Day,
    pub first: Option<f64>,
    pub second: Option<f64>,
}

/// The price that analysts see in a year, in the listing's currency.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TargetAnswer {
    pub mean: f64,
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub analysts: Option<f64>,
    #[schema(value_type = String)]
    pub published_on: Day,
}

/// The reported periods of a company against what had been expected, and what is expected next.
///
/// # Errors
/// An unknown company, a date outside the data, too many periods.
pub fn quarters(ctx: &Ctx, symbol: &str, request: QuartersRequest) -> Result<QuartersAnswer, AppError> {
    if request.count > MOST {
        let problem = format!("{MOST} are shown at most");
        return Err(AppError::Unusable { what: format!("{} periods", request.count), problem });
    }
    let c = ctx.company(symbol, ctx.date(request.as_of)?)?;
    let by_year = request.years.unwrap_or(!reports_quarters(&c));
    let at = if by_year { At::Year } else { At::Quarter };
    let known = (0..request.count).map(at).take_while(|at| at.period(&c).is_some());
    let columns: Vec<At> = if by_year || reports_quarters(&c) { known.collect() } else { Vec::new() };
    let mut runs = estimates::runs(&growths(ctx, &c, by_year));
    runs.resize(columns.len(), 0);
    let years = coming_years(&c);
    Ok(QuartersAnswer {
        years: by_year,
        reported: table(&ctx.engine, &c, &columns, lines(&columns)),
        runs,
        ahead: if by_year { years_ahead(&c) } else { quarters_ahead(&c) },
        revisions: revisions(&c, years),
        revised_years: years,
        target: c.estimate(Metric::PriceTarget, None).ok().map(target),
        target_error: number(&ctx.engine, &c, TARGET_YEARS).into(),
    })
}

/// The rows: what was earned and sold, against what had been expected and against a year before.
fn lines(columns: &[At]) -> Vec<TableLine> {
    let line = |id, label: &str, total, of: fn(At) -> Option<String>| {
        let formulas: Option<Vec<String>> = columns.iter().map(|at| of(*at)).collect();
        formulas.map(|formulas| (id, label.to_owned(), total, formulas))
    };
    let all = [
        line("eps", "Earnings a share", true, |at| Some(at.of("eps_adjusted"))),
        line("eps_surprise", "against what was expected", false, |at| at.quarter().map(|k| format!("eps_surprise({k})"))),
        line("eps_surprise_amount", "the same as an amount", false, |at| at.quarter().map(|k| format!("eps_surprise_amount({k})"))),
        line("eps_growth", "against a year before", false, |at| match at {
            At::Quarter(k) => Some(format!("eps_yoy({k})")),
            at => at.growth("eps_adjusted"),
        }),
        line("revenue", "Revenue", true, |at| Some(at.of("revenue"))),
        line("revenue_surprise", "against what was expected", false, |at| at.quarter().map(|k| format!("revenue_surprise({k})"))),
        line("revenue_growth", "against a year before", false, |at| match at {
            At::Quarter(k) => Some(format!("revenue_yoy({k})")),
            at => at.growth("revenue"),
        }),
    ];
    all.into_iter().flatten().collect()
}

/// The growth of earnings of each period, newest first.
fn growths(ctx: &Ctx, c: &CompanyAt<'_>, years: bool) -> Vec<Num> {
    let formula = |k: u32| if years { At::Year(k).growth("eps_adjusted").unwrap_or_default() } else { format!("eps_yoy({k})") };
    (0..LOOKED_AT).map(|k| number(&ctx.engine, c, &formula(k))).collect()
}

fn quarters_ahead(c: &CompanyAt<'_>) -> Vec<ExpectedPeriod> {
    let Some((year, quarter)) = c.quarter_back(0).ok().filter(|_| reports_quarters(c)) else { return Vec::new() };
    let start = 4 * year + i32::from(quarter) - 1;
    let period = |i: u32| {
        let of = start + i.cast_signed();
        (of.div_euclid(4), u8::try_from(of.rem_euclid(4) + 1).unwrap_or(1))
    };
    let expected = |(year, quarter): (i32, u8), metric| {
        let is_it = |e: &EstimateRow| e.metric == metric && e.fiscal_year == Some(year) && e.period == Some(Period::quarter(quarter));
        c.find_estimate(is_it)
    };
    let range = |(year, quarter): (i32, u8), metric: Metric, item: Item| {
        let before = c.quarter((year - 1, quarter), item).map_or_else(|| expected((year - 1, quarter), metric).map(|e| e.mean), Ok);
        shown(c, &expected((year, quarter), metric).ok()?, before)
    };
    let row = |of: (i32, u8)| ExpectedPeriod {
        label: format!("Q{} {}", of.1, of.0),
        eps: range(of, Metric::Eps, Item::EpsAdjusted),
        revenue: range(of, Metric::Revenue, Item::Revenue),
    };
    (1..=AHEAD).map(|i| row(period(i))).take_while(|p| p.eps.is_some() || p.revenue.is_some()).collect()
}

fn years_ahead(c: &CompanyAt<'_>) -> Vec<ExpectedPeriod> {
    let Ok(year0) = c.year0() else { return Vec::new() };
    let label = c.label(year0).0;
    let before = |year: i32, metric, item| {
        let reported = || c.item(year0, item).ok_or(Why::NoItem(item));
        if year == label { reported() } else { c.estimate(metric, Some(year)).map(|e| e.mean) }
    };
    let range = |year, metric, item| shown(c, &c.estimate(metric, Some(year)).ok()?, before(year - 1, metric, item));
    let row = |year: i32| ExpectedPeriod {
        label: year.to_string(),
        eps: range(year, Metric::Eps, Item::EpsAdjusted),
        revenue: range(year, Metric::Revenue, Item::Revenue),
    };
    (1..=AHEAD.cast_signed()).map(|k| row(label + k)).take_while(|p| p.eps.is_some() || p.revenue.is_some()).collect()
}

/// An estimate as it is shown: earnings in the listing's currency, revenue in the base currency.
fn shown(c: &CompanyAt<'_>, e: &EstimateRow, before: Num) -> Option<ExpectedRange> {
    let factor = if e.metric == Metric::Eps { c.reporting_to_listing() } else { c.reporting_to_base() }.ok()?;
    let growth = before.ok().filter(|y| *y != 0.0).map(|y| (e.mean - y) / y.abs());
    Some(ExpectedRange {
        mean: e.mean * factor,
        low: e.low.map(|v| v * factor),
        high: e.high.map(|v| v * factor),
        analysts: e.analysts,
        growth,
        published_on: e.published_on,
    })
}

fn target(e: EstimateRow) -> TargetAnswer {
    TargetAnswer { mean: e.mean, low: e.low, high: e.high, analysts: e.analysts, published_on: e.published_on }
}

/// The next two fiscal years for which earnings are estimated.
fn coming_years(c: &CompanyAt<'_>) -> [Option<i32>; 2] {
    let Ok(year0) = c.year0() else { return [None; 2] };
    let label = c.label(year0).0;
    [1, 2].map(|k| Some(label + k).filter(|year| c.estimate(Metric::Eps, Some(*year)).is_ok()))
}

fn revisions(c: &CompanyAt<'_>, years: [Option<i32>; 2]) -> Vec<RevisionPoint> {
    if years == [None; 2] {
        return Vec::new();
    }
    let point = |months: i32| {
        let date = c.t().plus_months(-months);
        let then = c.at(date);
        let of = |year: Option<i32>| {
            let mean = then.estimate(Metric::Eps, Some(year?)).ok()?.mean;
            Some(mean / c.splits_since(date) * then.reporting_to_listing().ok()?)
        };
        RevisionPoint { date, first: of(years[0]), second: of(years[1]) }
    };
    (0..=MONTHS).rev().map(point).collect()
}

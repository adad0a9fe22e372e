//! A measure of a company over its own years: the path with its mean, median, quartiles and deviation, and where today's figure stands
//! among others.

use crate::{AppError, Ctx, figures::compact::six_digits, figures::figure::number};
use artemon_core::{
    domain::Day,
    engine::Context,
    formula::{Better, Unit},
    measures,
    panel::CompanyAt,
    stats,
    wording::label,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The years that a path may have.
const YEARS: [u32; 3] = [5, 10, 20];

/// Which measure, over how many years.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MultipleRequest {
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// A formula, as a user types it.
    pub formula: String,
    /// 5, 10 or 20.
    pub years: u32,
}

/// The measure month by month, each from what was known then.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MultiplePath {
    pub label: String,
    pub unit: Unit,
    pub lower_is_better: bool,
    /// The last session of each month, and the date.
    #[schema(value_type = Vec<String>)]
    pub dates: Vec<Day>,
    pub values: Vec<Option<f64>>,
    /// None when fewer than twelve months are known.
    pub statistics: Option<PathStatistics>,
    /// Where today's figure stands: in its own years, then among others. Empty when it is undefined.
    pub standings: Vec<Standing>,
    /// Why there is no figure today.
    pub reason: Option<String>,
}

/// The middle and the spread of a path.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PathStatistics {
    pub months: usize,
    pub mean: f64,
    pub median: f64,
    pub lower_quartile: f64,
    pub upper_quartile: f64,
    /// Sample standard deviation.
    pub deviation: f64,
    pub low: f64,
    pub high: f64,
}

/// A place between 0, the lowest, and 100.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Standing {
    /// "in its own 10 years", "in Industrials", "in its country", "among all companies".
    pub among: String,
    /// The formula of the place.
    pub formula: String,
    pub rank: f64,
}

/// Months that a path needs for statistics.
const FEWEST: usize = 12;

/// The path of a measure over a company's own years.
///
/// # Errors
/// An unknown company, a date outside the data, a mistake in the formula, one that gives no numbers, other years.
pub fn multiple_path(ctx: &Ctx, symbol: &str, request: &MultipleRequest) -> Result<MultiplePath, AppError> {
    let refused = |what: String, problem: &str| AppError::Unusable { what, problem: problem.to_owned() };
    if !YEARS.contains(&request.years) {
        return Err(refused(format!("{} years", request.years), "a path has 5, 10 or 20"));
    }
    let c = ctx.company(symbol, ctx.date(request.as_of)?)?;
    let formula = ctx.engine.compile(&request.formula).map_err(|e| AppError::formula(&request.formula, e))?;
    if matches!(formula.unit, Unit::Text | Unit::Flag | Unit::Date) {
        return Err(refused(format!("\"{}\"", request.formula), "it gives no number that could be drawn"));
    }
    let since = c.t().plus_months(-12 * request.years.cast_signed());
    let rows = ctx.engine.as_of(c.t()).company(c.index).month_rows(since);
    let column = ctx.engine.evaluate(&formula, &rows);
    let per_share = formula.unit == Unit::PerShare;
    let basis = |day: Day| if per_share { c.splits_since(day) } else { 1.0 };
    let value = |(i, row): (usize, &CompanyAt<'_>)| {
        let number = column.value(i).number().ok().filter(|v| v.is_finite())?;
        Some(number / basis(row.t()))
    };
    let values: Vec<Option<f64>> = rows.iter().enumerate().map(value).collect();
    let known: Vec<f64> = values.iter().copied().flatten().collect();
    Ok(MultiplePath {
        label: label(&request.formula, &ctx.settings().library),
        unit: formula.unit,
        lower_is_better: measures::find(&request.formula).is_some_and(|m| m.better == Better::Lower),
        dates: rows.iter().map(CompanyAt::t).collect(),
        values: values.into_iter().map(|v| v.map(six_digits)).collect(),
        statistics: statistics(&known),
        standings: standings(&ctx.engine, &c, request),
        reason: number(&ctx.engine, &c, &request.formula).err().map(|why| why.to_string()),
    })
}

fn statistics(of: &[f64]) -> Option<PathStatistics> {
    if of.len() < FEWEST {
        return None;
    }
    let at = |p| stats::percentile(of, p);
    Some(PathStatistics {
        months: of.len(),
        mean: stats::mean(of)?,
        median: at(0.5)?,
        lower_quartile: at(0.25)?,
        upper_quartile: at(0.75)?,
        deviation: stats::stdev(of)?,
        low: at(0.0)?,
        high: at(1.0)?,
    })
}

fn standings(context: &Context, c: &CompanyAt<'_>, request: &MultipleRequest) -> Vec<Standing> {
    let (x, years, company) = (&request.formula, request.years, c.company());
    let among = [
        (format!("in its own {years} years"), format!("own_rank({x}, {years}y)")),
        (format!("in {}", company.sector), format!("rank_in({x}, sector)")),
        ("in its country".to_owned(), format!("rank_in({x}, country)")),
        ("among all companies".to_owned(), format!("rank_in({x}, universe)")),
    ];
    let standing = |(among, formula): (String, String)| {
        let rank = number(context, c, &formula).ok()?;
        Some(Standing { among, formula, rank })
    };
    among.into_iter().filter_map(standing).collect()
}

//! A criterion as a person adds it: typed or picked, with a first bound.

use crate::{
    AppError, Ctx,
    figures::{DistributionRequest, distribution},
};
use artemon_core::{
    domain::Day,
    formula::{Better, Unit},
    measures,
    screening::Criterion,
    wording::read_criterion,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What was typed or picked.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CriterionRequest {
    /// A formula, or a comparison such as `pe < 15`.
    pub text: String,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// A number as typed.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NumberRequest {
    /// As typed: with separators, a sign, %, or k, m, bn.
    pub text: String,
    /// In which unit it is typed; percentages as such.
    #[serde(default)]
    pub unit: Option<Unit>,
}

/// What a typed number is.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct NumberAnswer {
    /// The number; none for an empty text, and for what is no number.
    pub value: Option<f64>,
    /// Why it is no number.
    pub problem: Option<String>,
}

/// The criterion that was meant. A figure without a bound gets a first one, at which half of the companies are on its better
/// side; a mistake in the formula is told when the screen runs.
///
/// # Errors
/// A date outside the data.
pub fn criterion(ctx: &Ctx, request: &CriterionRequest) -> Result<Criterion, AppError> {
    let t = ctx.date(request.as_of)?;
    let read = read_criterion(&request.text, &ctx.settings().library);
    let bounded = read.min.is_some() || read.max.is_some() || !read.one_of.is_empty();
    let Some(unit) = ctx.engine.compile(&read.formula).ok().map(|f| f.unit).filter(|unit| *unit != Unit::Flag && !bounded) else {
        return Ok(read);
    };
    let spread = distribution(ctx, &DistributionRequest { formula: read.formula.clone(), as_of: Some(t) })?;
    if unit == Unit::Text {
        return Ok(Criterion { one_of: spread.counts.into_keys().take(1).collect(), ..read });
    }
    let [p10, _, median, _, p90] = spread.percentiles.unwrap_or_default();
    let bound = Some(rounded(median, p90 - p10, unit));
    let lower = read.formula.starts_with("own_rank") || better(&read.formula) == Better::Lower;
    Ok(if lower { Criterion { max: bound, ..read } } else { Criterion { min: bound, ..read } })
}

fn better(formula: &str) -> Better {
    let name = formula.split('(').next().unwrap_or_default().trim();
    measures::find(name).map_or(Better::Neither, |m| m.better)
}

/// A round number near x, as fine as a hundredth of a width.
fn rounded(x: f64, width: f64, unit: Unit) -> f64 {
    if matches!(unit, Unit::Count | Unit::Rank | Unit::Days | Unit::Date) {
        return x.round();
    }
    let step = 10f64.powf((width.max(1e-9) / 100.0).log10().floor());
    let near = (x / step).round() * step;
    // Through text, so that 0.15 is not a bit beside it.
    format!("{near:.9e}").parse().unwrap_or(near)
}

/// Reads a number as it was typed.
#[must_use]
pub fn read_number(request: &NumberRequest) -> NumberAnswer {
    match artemon_core::wording::read_number(&request.text, request.unit.unwrap_or(Unit::Ratio)) {
        Ok(value) => NumberAnswer { value, problem: None },
        Err(e) => NumberAnswer { value: None, problem: Some(e.to_string()) },
    }
}

//! How a formula is distributed over the universe: for pickers and for sensible first bounds.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Day, Kind},
    formula::{Unit, Value},
    screening::Histogram,
    stats::percentile,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Which formula.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DistributionRequest {
    /// As a user types it.
    pub formula: String,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// The distribution over listed companies, funds left out.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Distribution {
    pub unit: Unit,
    pub defined: usize,
    pub undefined: usize,
    /// 10th, 25th, 50th, 75th and 90th percentile of numbers.
    pub percentiles: Option<[f64; 5]>,
    /// Companies by value, over the middle of the values.
    pub histogram: Option<Histogram>,
    /// How often each text or flag occurs.
    pub counts: BTreeMap<String, usize>,
}

/// The distribution of a formula at a date.
///
/// # Errors
/// A mistake in the formula, a date outside the data.
pub fn distribution(ctx: &Ctx, request: &DistributionRequest) -> Result<Distribution, AppError> {
    let t = ctx.date(request.as_of)?;
    let formula = ctx.engine.compile(&request.formula).map_err(|e| AppError::formula(&request.formula, e))?;
    let section = ctx.section(t);
    let is_fund = |place: &usize| ctx.snapshot().company(section.members()[*place]).kind == Kind::Fund;
    let places: Vec<usize> = (0..section.members().len()).filter(|p| !is_fund(p)).collect();
    let column = section.column(&formula);
    let (mut numbers, mut counts, mut undefined) = (Vec::new(), BTreeMap::new(), 0);
    for &place in &places {
        match column.value(place) {
            Value::Number(v) if v.is_finite() => numbers.push(v),
            Value::Number(_) => *counts.entry("no debt cost".to_owned()).or_default() += 1,
            Value::Flag(b) => *counts.entry(b.to_string()).or_default() += 1,
            Value::Text(t) => *counts.entry(t.to_string()).or_default() += 1,
            Value::Undefined(_) => undefined += 1,
        }
    }
    let at = |p| percentile(&numbers, p);
    let percentiles = (|| Some([at(0.1)?, at(0.25)?, at(0.5)?, at(0.75)?, at(0.9)?]))();
    let histogram = Histogram::of(numbers, std::iter::empty());
    Ok(Distribution { unit: formula.unit, defined: places.len() - undefined, undefined, percentiles, histogram, counts })
}

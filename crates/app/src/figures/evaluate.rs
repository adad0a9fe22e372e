//! Answers formulas for companies at a date.

use super::figure::Figure;
use crate::{AppError, Ctx};
use artemon_core::{
    Why,
    domain::Day,
    engine::Section,
    formula::{Column, Compiled},
    limits::{COMPARISONS, FORMULAS, NAMES, at_most},
    panel::CompanyIndex,
    screening::UniverseError,
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
use utoipa::ToSchema;

/// Which formulas for whom.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EvaluateRequest {
    /// Formulas as a user types them.
    #[serde(deserialize_with = "at_most::<_, _, FORMULAS>")]
    pub formulas: Vec<String>,
    /// Symbols, ISINs or ids; the whole universe when empty.
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>")]
    pub symbols: Vec<String>,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// The answers for one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Evaluated {
    /// The symbol.
    pub symbol: String,
    /// The date.
    #[schema(value_type = String)]
    pub as_of: Day,
    /// One a formula.
    pub values: Vec<FormulaValue>,
}

/// One answer.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct FormulaValue {
    /// The formula.
    pub formula: String,
    /// The answer, or null with the reason beside it.
    #[serde(flatten)]
    pub figure: Figure,
}

/// Answers the formulas for the companies asked for; those outside the universe with the reason.
///
/// # Errors
/// A mistake in a formula, an unknown company, a date outside the data.
pub fn evaluate(ctx: &Ctx, request: &EvaluateRequest) -> Result<Vec<Evaluated>, AppError> {
    let t = ctx.date(request.as_of)?;
    let compiled: Vec<Arc<Compiled>> =
        request.formulas.iter().map(|f| ctx.engine.compile(f).map_err(|e| AppError::formula(f, e))).collect::<Result<_, _>>()?;
    let comparisons = Compiled::comparisons(compiled.iter().map(|c| &**c));
    if comparisons > COMPARISONS {
        return Err(UniverseError::TooWide(comparisons).into());
    }
    let section = ctx.section(t);
    let companies: Vec<CompanyIndex> = if request.symbols.is_empty() {
        section.members().to_vec()
    } else {
        request.symbols.iter().map(|s| ctx.find(s)).collect::<Result<_, _>>()?
    };
    let answers: Vec<Column> = compiled.iter().map(|c| answers(&section, c, &companies)).collect();
    let one = |(i, company): (usize, &CompanyIndex)| {
        let value = |(formula, column): (&String, &Column)| FormulaValue { formula: formula.clone(), figure: column.value(i).into() };
        let values = request.formulas.iter().zip(&answers).map(value).collect();
        Evaluated { symbol: ctx.snapshot().symbol(*company).to_owned(), as_of: t, values }
    };
    Ok(companies.iter().enumerate().map(one).collect())
}

/// The answers for some companies; undefined for those outside the universe. For a few they are computed for these
/// alone, for many by the section's column.
fn answers(section: &Section<'_>, formula: &Compiled, companies: &[CompanyIndex]) -> Column {
    let places: Vec<Option<usize>> = companies.iter().map(|c| section.place(*c)).collect();
    if companies.len() * 4 > section.members().len() {
        return section.column(formula).at(&places, Why::NotListed);
    }
    let inside = companies.iter().zip(&places).filter(|(_, p)| p.is_some());
    let rows: Vec<_> = inside.map(|(c, _)| section.as_of.company(*c)).collect();
    let mut next = 0..rows.len();
    let numbered: Vec<_> = places.iter().map(|p| p.and_then(|_| next.next())).collect();
    section.context().evaluate(formula, &rows).at(&numbered, Why::NotListed)
}

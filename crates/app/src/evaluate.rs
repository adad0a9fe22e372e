//! Answers formulas for companies at a date.

use crate::{App, AppError};
use artemon_core::{
    Why,
    domain::Day,
    formula::{Compiled, Value, compile},
    panel::CompanyAt,
    screening::Columns,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Which formulas for whom.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EvaluateRequest {
    /// Formulas as a user types them.
    pub formulas: Vec<String>,
    /// Symbols, ISINs or ids; the whole universe when empty.
    #[serde(default)]
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

/// A figure: a number, flag or text; or null with the reason.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Figure {
    /// The value.
    #[schema(value_type = Option<FigureValue>)]
    pub value: Value,
    /// Why there is none.
    pub reason: Option<String>,
}

/// The value of a figure.
#[derive(Debug, Serialize, ToSchema)]
#[serde(untagged)]
#[allow(dead_code, missing_docs)] // describes `Value` in the API
pub enum FigureValue {
    Number(f64),
    Flag(bool),
    Text(String),
}

impl From<Value> for Figure {
    fn from(value: Value) -> Figure {
        let reason = value.why().map(|w| w.to_string());
        Figure { value, reason }
    }
}

impl From<artemon_core::Num> for Figure {
    fn from(n: artemon_core::Num) -> Figure {
        n.map_or_else(Value::Undefined, Value::Number).into()
    }
}

/// Answers the formulas for the companies asked for; those outside the universe with the reason.
///
/// # Errors
/// A mistake in a formula, an unknown company, a date outside the data.
pub fn evaluate(app: &App, request: &EvaluateRequest) -> Result<Vec<Evaluated>, AppError> {
    let panel = app.panel();
    let view = panel.view(request.as_of)?;
    let compiled: Vec<Compiled> =
        request.formulas.iter().map(|f| compile(f).map_err(|e| AppError::formula(f, e))).collect::<Result<_, _>>()?;
    let columns = app.columns.of(&panel, view);
    let rows: Vec<CompanyAt<'_>> = if request.symbols.is_empty() {
        columns.universe(view).to_vec()
    } else {
        request.symbols.iter().map(|s| panel.find(s).map(|i| view.company(i))).collect::<Result<_, _>>()?
    };
    let inside: Vec<CompanyAt<'_>> = rows.iter().filter(|r| r.in_universe()).copied().collect();
    let answers: Vec<_> = compiled.iter().map(|c| columns.column(c, &inside)).collect();
    let mut place = 0;
    let one = |row: &CompanyAt<'_>| {
        let listed = row.in_universe();
        let value = |i: usize| if listed { answers[i].value(place) } else { Value::Undefined(Why::NotListed) };
        let values =
            request.formulas.iter().enumerate().map(|(i, f)| FormulaValue { formula: f.clone(), figure: value(i).into() }).collect();
        place += usize::from(listed);
        Evaluated { symbol: row.symbol().to_owned(), as_of: view.t, values }
    };
    Ok(rows.iter().map(one).collect())
}

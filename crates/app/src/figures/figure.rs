//! A figure as every answer carries it.

use artemon_core::{
    Num, Why,
    engine::Context,
    formula::{FigureValue, Value},
    panel::CompanyAt,
};
use serde::Serialize;
use utoipa::ToSchema;

/// A figure: a number, flag or text; or null with the reason.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Figure {
    /// The value.
    #[schema(value_type = Option<FigureValue>)]
    pub value: Value,
    /// Why there is none.
    pub reason: Option<String>,
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

impl Figure {
    /// In full, for files; nothing when undefined. No cost of debt to divide by is said in words, as everywhere.
    #[must_use]
    pub fn written(&self) -> String {
        match &self.value {
            Value::Number(v) if v.is_infinite() => "no debt cost".to_owned(),
            Value::Number(v) => v.to_string(),
            Value::Flag(b) => b.to_string(),
            Value::Text(t) => t.to_string(),
            Value::Undefined(_) => String::new(),
        }
    }
}

/// A formula's answer for one company; undefined for a formula with a mistake.
pub(crate) fn number(context: &Context, c: &CompanyAt<'_>, formula: &str) -> Num {
    value(context, c, formula).map_or(Err(Why::NoAnswer), |v| v.number())
}

/// A formula's answer for one company; none for a formula with a mistake.
pub(crate) fn value(context: &Context, c: &CompanyAt<'_>, formula: &str) -> Option<Value> {
    let row = context.as_of(c.t()).company(c.index);
    Some(context.evaluate(&*context.compile(formula).ok()?, &[row]).value(0))
}

//! A value opened: its formula, its parts, the filing it comes from.

use crate::{
    Num, Why,
    domain::{Day, Period},
    formula::{catalogue::Unit, column::Value},
};
use serde::{Serialize, Serializer};

/// A value opened.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Explanation {
    /// This part as a user would write it, or what it is in words.
    pub formula: String,
    /// The name of a measure or item.
    pub label: Option<String>,
    /// For a measure with one: its own formula.
    pub definition: Option<String>,
    /// What the value is.
    pub unit: Unit,
    /// The value, null when undefined.
    #[cfg_attr(feature = "openapi", schema(value_type = Option<crate::formula::column::FigureValue>))]
    pub value: Value,
    /// Why it is undefined.
    #[serde(serialize_with = "as_text")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub reason: Option<Why>,
    /// Rules that were applied, each a sentence.
    pub notes: Vec<String>,
    /// The filing that a figure comes from.
    pub source: Option<Filing>,
    /// What it was made of.
    #[cfg_attr(feature = "openapi", schema(no_recursion))]
    pub inputs: Vec<Explanation>,
}

/// Where a figure was filed.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct Filing {
    /// The reference of the document.
    pub document: String,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub filed_on: Day,
    pub fiscal_year: Option<i32>,
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub period: Option<Period>,
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub period_end: Option<Day>,
    /// The figure as it stands there.
    pub as_filed: Option<f64>,
    pub currency: Option<String>,
}

#[allow(clippy::ref_option)] // as the serializer asks for it
fn as_text<S: Serializer>(why: &Option<Why>, s: S) -> Result<S::Ok, S::Error> {
    match why {
        Some(why) => s.collect_str(why),
        None => s.serialize_none(),
    }
}

impl Explanation {
    pub(super) fn new(formula: impl Into<String>, unit: Unit, value: Value) -> Explanation {
        let reason = value.why();
        Explanation {
            formula: formula.into(),
            label: None,
            definition: None,
            unit,
            value,
            reason,
            notes: Vec::new(),
            source: None,
            inputs: Vec::new(),
        }
    }

    pub(super) fn number(formula: impl Into<String>, unit: Unit, value: Num) -> Explanation {
        Explanation::new(formula, unit, value.map_or_else(Value::Undefined, Value::Number))
    }

    pub(super) fn flag(formula: impl Into<String>, value: Result<bool, Why>) -> Explanation {
        Explanation::new(formula, Unit::Flag, value.map_or_else(Value::Undefined, Value::Flag))
    }

    pub(super) fn labelled(self, label: impl Into<String>) -> Explanation {
        Explanation { label: Some(label.into()), ..self }
    }

    pub(super) fn of(self, inputs: Vec<Explanation>) -> Explanation {
        Explanation { inputs, ..self }
    }

    pub(super) fn noted(mut self, note: impl Into<String>) -> Explanation {
        self.notes.push(note.into());
        self
    }
}

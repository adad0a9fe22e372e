//! The answers of a formula, one a row.

use crate::{Num, Why};
use serde::{Serialize, Serializer};
use std::sync::Arc;

/// One answer.
#[derive(Clone, Debug, PartialEq)]
pub enum Value {
    /// A number (dates as days since 1970-01-01).
    Number(f64),
    /// True or false.
    Flag(bool),
    /// Text.
    Text(Arc<str>),
    /// Undefined, with the reason.
    Undefined(Why),
}

/// How a value is written in JSON.
#[cfg(feature = "openapi")]
#[derive(Debug, Serialize, utoipa::ToSchema)]
#[serde(untagged)]
#[allow(dead_code, missing_docs)] // describes `Value`
pub enum FigureValue {
    Number(f64),
    Flag(bool),
    Text(String),
}

impl Value {
    /// The number, or the reason why there is none.
    pub fn number(&self) -> Num {
        match self {
            Value::Number(v) => Ok(*v),
            Value::Flag(b) => Ok(f64::from(u8::from(*b))),
            Value::Text(_) => Err(Why::NoAnswer),
            Value::Undefined(why) => Err(*why),
        }
    }

    /// The reason why it is undefined.
    #[must_use]
    pub const fn why(&self) -> Option<Why> {
        match self {
            Value::Undefined(why) => Some(*why),
            _ => None,
        }
    }
}

/// Numbers, flags and text as themselves; undefined as null; the special value of no debt cost as that text.
impl Serialize for Value {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        match self {
            Value::Number(v) if v.is_infinite() => s.collect_str(&Why::NoDebtCost),
            Value::Number(v) => s.serialize_f64(*v),
            Value::Flag(b) => s.serialize_bool(*b),
            Value::Text(t) => s.serialize_str(t),
            Value::Undefined(_) => s.serialize_none(),
        }
    }
}

/// The answers of one formula for many rows.
#[derive(Clone, Debug, PartialEq)]
pub enum Column {
    /// Numbers.
    Number(Vec<Num>),
    /// Flags, three-valued.
    Flag(Vec<Result<bool, Why>>),
    /// Texts.
    Text(Vec<Result<Arc<str>, Why>>),
}

impl Column {
    /// The answer of one row.
    #[must_use]
    pub fn value(&self, row: usize) -> Value {
        match self {
            Column::Number(v) => v[row].map_or_else(Value::Undefined, Value::Number),
            Column::Flag(v) => v[row].map_or_else(Value::Undefined, Value::Flag),
            Column::Text(v) => v[row].clone().map_or_else(Value::Undefined, Value::Text),
        }
    }

    /// The answers of some rows, in the order asked for; `none` where there is no row.
    #[must_use]
    pub fn at(&self, rows: &[Option<usize>], none: Why) -> Column {
        fn picked<T: Clone>(all: &[Result<T, Why>], rows: &[Option<usize>], none: Why) -> Vec<Result<T, Why>> {
            rows.iter().map(|row| row.map_or(Err(none), |i| all[i].clone())).collect()
        }
        match self {
            Column::Number(v) => Column::Number(picked(v, rows, none)),
            Column::Flag(v) => Column::Flag(picked(v, rows, none)),
            Column::Text(v) => Column::Text(picked(v, rows, none)),
        }
    }

    /// How many rows.
    #[must_use]
    pub fn len(&self) -> usize {
        match self {
            Column::Number(v) => v.len(),
            Column::Flag(v) => v.len(),
            Column::Text(v) => v.len(),
        }
    }

    /// The reason why a row has no answer, if it has none.
    #[must_use]
    pub fn why(&self, row: usize) -> Option<Why> {
        match self {
            Column::Number(v) => v[row].err(),
            Column::Flag(v) => v[row].err(),
            Column::Text(v) => v[row].as_ref().err().copied(),
        }
    }

    /// Whether there are no rows.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// The numbers, when it is a column of numbers.
    #[must_use]
    pub fn numbers(&self) -> Option<&[Num]> {
        match self {
            Column::Number(v) => Some(v),
            _ => None,
        }
    }

    /// Adds an answer of another column of the same formula.
    pub(super) fn push_of(&mut self, other: &Column, row: usize) {
        match (self, other) {
            (Column::Number(a), Column::Number(b)) => a.push(b[row]),
            (Column::Flag(a), Column::Flag(b)) => a.push(b[row]),
            (Column::Text(a), Column::Text(b)) => a.push(b[row].clone()),
            _ => unreachable!("both columns are of the formula's type"),
        }
    }

    pub(super) fn concat(parts: Vec<Column>) -> Column {
        let mut parts = parts.into_iter();
        let mut all = parts.next().unwrap_or(Column::Number(Vec::new()));
        for part in parts {
            match (&mut all, part) {
                (Column::Number(a), Column::Number(b)) => a.extend(b),
                (Column::Flag(a), Column::Flag(b)) => a.extend(b),
                (Column::Text(a), Column::Text(b)) => a.extend(b),
                _ => unreachable!("all parts of a column are of the formula's type"),
            }
        }
        all
    }
}

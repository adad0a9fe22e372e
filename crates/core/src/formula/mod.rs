//! The formula language: text → tree → checked plan → columns.
//!
//! A measure is a function of (company, date); a formula is arithmetic over measures. [`compile`] checks one,
//! [`evaluate`] answers it for any rows of companies and dates.

mod ast;
mod calls;
mod check;
mod column;
mod error;
mod eval;
mod explain;
mod lexer;
mod library;
mod memo;
mod own_range;
mod parser;
mod peers;
mod plan;
mod prepare;
mod scalar;
mod series;
mod sheet;
mod spans;

pub(crate) mod kernels {
    //! The shapes of kernels.
    pub(crate) use super::plan::{FlagKernel, NumberKernel, TextKernel};
}

pub use ast::{Expr, Node, Operator};
pub(crate) use check::compile_internal;
pub use check::{Compiled, compile, compile_in};
#[cfg(feature = "openapi")]
pub use column::FigureValue;
pub use column::{Column, Value};
pub use error::{FormulaError, Position};
pub(crate) use eval::CHUNK;
pub use eval::{Evaluator, evaluate, evaluate_all};
pub use explain::{Explanation, Filing, explain};
pub use library::{Library, LibraryError, OwnMeasure};
pub use own_range::{OwnRange, own_ranges};
pub use parser::parse;
pub use plan::{Args, FiscalStat, Group, Judgement, Kinds, OwnStat, QualityField, QuarterStat, Unit, ValueField};
pub(crate) use sheet::{FromFilings, Sheet};

#[cfg(test)]
mod tests;

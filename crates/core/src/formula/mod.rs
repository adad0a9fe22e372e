//! The formula language: text → tree → checked plan → columns.
//!
//! A measure is a function of (company, date); a formula is arithmetic over measures. [`compile_in`] checks one,
//! [`evaluate`] answers it for any rows of companies and dates. Which measures there are, what is assumed and what is kept
//! between computations is not known here: [`Catalogue`] and [`Host`] bring it.

mod ast;
mod calls;
mod catalogue;
mod check;
mod column;
mod compile;
mod depends;
mod env;
mod error;
mod eval;
mod explain;
mod figures;
mod from_filings;
mod functions;
mod history;
mod host;
mod lexer;
mod library;
mod memo;
mod over_days;
mod own_measures;
mod own_range;
mod parser;
mod peers;
mod plan;
mod prepare;
mod scalar;
mod series;
mod sheet;
mod spans;

pub use ast::{Expr, Node, Operator};
pub(crate) use catalogue::FlagKernel;
pub use catalogue::{Args, Better, Body, Catalogue, Family, Kinds, Measure, Param, ParamKind, Unit};
#[cfg(feature = "openapi")]
pub use column::FigureValue;
pub use column::{Column, Value};
pub(crate) use compile::compile_internal;
pub use compile::{Compiled, compile_in};
pub use depends::{Depends, Fingerprint, Identity};
pub use error::{FormulaError, Position};
pub(crate) use eval::CHUNK;
pub use eval::{Evaluator, evaluate, evaluate_all};
pub use explain::{Explanation, Filing, explain};
pub use figures::{Judgement, Pillar, QualityField, ValueField};
pub use from_filings::FromFilings;
pub use functions::{Function, functions};
pub use history::History;
pub use host::{Answers, Host, MadeHistories, Reach, ValueTable, View};
pub use library::{Library, OwnMeasure};
pub use over_days::{OfDay, evaluate_days};
pub use own_measures::LibraryError;
pub use own_range::{OwnRange, own_ranges};
pub use parser::parse;
pub use plan::{FiscalStat, Group, InterimStat, OwnStat};

#[cfg(test)]
mod tests;

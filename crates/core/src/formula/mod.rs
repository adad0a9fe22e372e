//! The formula language: text → tree → checked plan → columns.
//!
//! A measure is a function of (company, date); a formula is arithmetic over measures. [`compile`] checks one,
//! [`evaluate`] answers it for any rows of companies and dates.

mod ast;
mod check;
mod column;
mod error;
mod eval;
mod lexer;
mod parser;
mod peers;
mod plan;
mod scalar;
mod series;

pub(crate) mod kernels {
    //! The shapes of kernels.
    pub(crate) use super::plan::{FlagKernel, NumberKernel, TextKernel};
}

pub use ast::{Expr, Node, Operator};
pub(crate) use check::compile_internal;
pub use check::{Compiled, compile};
pub use column::{Column, Value};
pub use error::{FormulaError, Position};
pub use eval::{Evaluator, OwnRange, evaluate, own_ranges};
pub use parser::parse;
pub use plan::{Args, FiscalStat, Group, Kinds, OwnStat, Unit, ValueField};

#[cfg(test)]
mod tests;

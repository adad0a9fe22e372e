//! The computation of Artemon: what is known about companies at a date, formulas over it, valuation, screens, ranking.
//!
//! Nothing here does input or output: dates, settings and data are arguments, results are values.
#![deny(missing_docs)]

pub mod alerts;
pub mod backtest;
pub mod calibration;
pub mod changes;
pub mod decisions;
pub mod domain;
pub mod engine;
pub mod estimates;
pub mod filings;
pub mod forecast;
pub mod formula;
pub mod index_levels;
pub mod insiders;
pub mod ledger;
pub mod limits;
pub mod measures;
pub mod panel;
pub mod plausibility;
pub mod price;
pub mod quality;
pub mod ranking;
pub mod screening;
pub mod stats;
pub mod today;
pub mod valuation;
pub mod wording;

mod why;

pub use why::{Num, Why};

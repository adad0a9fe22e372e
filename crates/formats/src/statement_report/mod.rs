//! Filings of the dataset as xBRL-JSON (OIM 1.0), a report each, and back without loss.
//!
//! A fact has the standard concept that by itself is its item, so that any processor reads it; an item without one has a concept of
//! [`NAMESPACE`]. Which row of the dataset a fact belongs to, and what such a row says of itself, stands beside in properties of that
//! namespace, as OIM lets a report be extended: by them alone it is read back. Values are in whole units, ratios as fractions. Spans are
//! a year, a half or a quarter to the end of the period, since the dataset does not keep their first days.

mod read;
mod write;

pub(crate) use read::is_report;
pub use read::read;
pub use write::{Reports, StatementReports};

/// What is not of a standard taxonomy.
const NAMESPACE: &str = "https://artemon.example/statements/1";

/// The property of a report's head with what its rows say of themselves, by their names.
const ROWS: &str = "artemon:rows";
/// The property of a fact with the name of its row.
const ROW: &str = "artemon:row";
/// The property of a fact with its item.
const ITEM: &str = "artemon:item";

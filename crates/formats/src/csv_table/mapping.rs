//! How a file's columns become a table's.

use crate::tables::{CellKind, columns, required};
use artemon_core::domain::Table;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// In which order a file writes its dates.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DateOrder {
    /// 2024-06-30, 2024/6/30 or 20240630.
    #[default]
    YearMonthDay,
    /// 30.6.2024 or 30/06/2024.
    DayMonthYear,
    /// 6/30/2024.
    MonthDayYear,
}

/// What a file writes before decimals.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DecimalMark {
    /// 1,234.5
    #[default]
    Point,
    /// 1.234,5
    Comma,
}

/// A column of the table filled from a column of the file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MappedColumn {
    /// The table's column.
    pub column: String,
    /// The file's header.
    pub from: String,
    /// Numbers are divided by this: 100 for prices in minor units.
    #[serde(default = "one")]
    pub divide: f64,
}

/// A column of the table with one value for all rows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FixedCell {
    /// The table's column.
    pub column: String,
    /// Its value in every row, as the dataset writes it.
    pub value: String,
}

/// How a file's columns become a table's.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Mapping {
    /// The table.
    #[schema(value_type = String)]
    pub table: Table,
    /// What separates cells.
    #[serde(default = "comma")]
    #[schema(value_type = String)]
    pub delimiter: char,
    /// The order of dates.
    #[serde(default)]
    pub dates: DateOrder,
    /// The decimal mark.
    #[serde(default)]
    pub decimal: DecimalMark,
    /// Columns filled from the file.
    pub columns: Vec<MappedColumn>,
    /// Columns with one value for all rows.
    #[serde(default)]
    pub fixed: Vec<FixedCell>,
}

const fn one() -> f64 {
    1.0
}

const fn comma() -> char {
    ','
}

impl Mapping {
    /// What keeps the mapping from being used on a file with these headers, as a sentence.
    ///
    /// # Errors
    /// The first thing that is wrong.
    pub fn check(&self, headers: &[String]) -> Result<(), String> {
        let known = |c: &str| columns(self.table).iter().any(|k| k.name == c);
        let named = self.columns.iter().map(|c| &c.column).chain(self.fixed.iter().map(|f| &f.column));
        if let Some(column) = named.into_iter().find(|c| !known(c)) {
            return Err(format!("the table {} has no column \"{column}\"", self.table));
        }
        if let Some(missing) = self.columns.iter().find(|c| !headers.contains(&c.from)) {
            return Err(format!("the file has no column \"{}\"", missing.from));
        }
        if let Some(bad) = self.columns.iter().find(|c| !(c.divide.is_finite() && c.divide > 0.0)) {
            return Err(format!("{} cannot be divided by {}", bad.column, bad.divide));
        }
        let filled = |c: &&str| self.columns.iter().any(|m| m.column == **c) || self.fixed.iter().any(|f| f.column == **c);
        match required(self.table).iter().find(|c| !filled(c)) {
            Some(column) => Err(format!("nothing is mapped to \"{column}\", without which a row of {} means nothing", self.table)),
            None if self.delimiter.is_ascii() => Ok(()),
            None => Err(format!("\"{}\" cannot separate cells", self.delimiter)),
        }
    }

    /// The kind of a column's cells.
    pub(super) fn kind(&self, column: &str) -> CellKind {
        columns(self.table).iter().find(|c| c.name == column).map_or(CellKind::Text, |c| c.kind)
    }
}

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
    /// Day and month cannot be told apart: a person must say.
    Ask,
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

/// Of which day a value in a wide file is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Dated {
    /// The day that is written.
    #[default]
    Day,
    /// The last day of the month that is written: an average is known when its month is over.
    MonthEnd,
    /// The last day of the month after it: a price level is known when it is published.
    NextMonthEnd,
}

/// A column of values in a wide file.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WideColumn {
    /// The file's header.
    pub from: String,
    /// What its values are of: the currency, the series.
    pub fixed: Vec<FixedCell>,
}

/// A file in which several columns hold values of one kind: of currencies, of maturities. Each filled cell is a row of the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wide {
    /// The table's column that the values fill.
    pub value: String,
    /// The columns of values.
    pub columns: Vec<WideColumn>,
    /// Values are divided by this: 100 for percent.
    #[serde(default = "one")]
    pub divide: f64,
    /// Of which day they are.
    #[serde(default)]
    pub dated: Dated,
    /// Whether they are levels of which the change over twelve months is taken.
    #[serde(default)]
    pub yearly_change: bool,
}

/// A row of a table that is turned on its side: the column of the table that its values fill.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LabelledRow {
    /// What stands in the column of labels.
    pub label: String,
    /// The table's column.
    pub column: String,
    /// Values are divided by this: 0.001 for thousands, below 0 where they count the other way.
    #[serde(default = "one")]
    pub divide: f64,
}

/// A table that is turned on its side, such as a record of ten years: items stand in rows, and each column of values is a row of the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Turned {
    /// The header of the column of labels.
    pub labels: String,
    /// The columns of values, with what holds for each: fiscal year, period, days.
    pub columns: Vec<WideColumn>,
    /// The rows that are taken.
    pub rows: Vec<LabelledRow>,
}

impl Turned {
    /// What keeps it from being used on a table, as a sentence.
    fn problem(&self, table: Table) -> Option<String> {
        let filled = self.columns.iter().flat_map(|c| &c.fixed).map(|f| &f.column).chain(self.rows.iter().map(|r| &r.column));
        let unknown = |c: &&String| !columns(table).iter().any(|k| k.name == **c);
        if let Some(column) = filled.into_iter().find(unknown) {
            return Some(format!("the table {table} has no column \"{column}\""));
        }
        let bad = self.rows.iter().find(|r| !r.divide.is_finite() || r.divide == 0.0);
        bad.map(|r| format!("{} cannot be divided by {}", r.column, r.divide))
    }

    /// Whether each of its columns says what stands in a column of the table.
    fn fills(&self, column: &str) -> bool {
        !self.columns.is_empty() && self.columns.iter().all(|c| c.fixed.iter().any(|f| f.column == column))
    }
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
    /// Columns of values, in a wide file.
    #[serde(default)]
    pub wide: Option<Wide>,
    /// How it is turned, where items stand in rows.
    #[serde(default)]
    pub turned: Option<Turned>,
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
        self.fits(headers)?;
        let by_wide = |c: &str| {
            self.wide.as_ref().is_some_and(|w| w.value == c || w.columns.iter().all(|column| column.fixed.iter().any(|f| f.column == c)))
        };
        let by_turned = |c: &str| self.turned.as_ref().is_some_and(|t| t.fills(c));
        let by_itself = |c: &str| self.columns.iter().any(|m| m.column == c) || self.fixed.iter().any(|f| f.column == c);
        let filled = |c: &&str| by_itself(c) || by_wide(c) || by_turned(c);
        let missing = required(self.table).iter().find(|c| !filled(c));
        missing
            .map_or(Ok(()), |column| Err(format!("nothing is mapped to \"{column}\", without which a row of {} means nothing", self.table)))
    }

    /// What is wrong between the mapping and these headers, whatever a person has still to say.
    ///
    /// # Errors
    /// The first thing that is wrong.
    pub fn fits(&self, headers: &[String]) -> Result<(), String> {
        let known = |c: &str| columns(self.table).iter().any(|k| k.name == c);
        let of_wide = || self.wide.iter().flat_map(|w| w.columns.iter().flat_map(|c| &c.fixed).map(|f| &f.column).chain([&w.value]));
        let named = self.columns.iter().map(|c| &c.column).chain(self.fixed.iter().map(|f| &f.column)).chain(of_wide());
        if let Some(column) = named.into_iter().find(|c| !known(c)) {
            return Err(format!("the table {} has no column \"{column}\"", self.table));
        }
        if let Some(problem) = self.turned.as_ref().and_then(|t| t.problem(self.table)) {
            return Err(problem);
        }
        if let Some(missing) = self.sources().find(|from| !headers.iter().any(|h| h == from)) {
            return Err(format!("the file has no column \"{missing}\""));
        }
        if let Some(twice) = self.sources().find(|from| headers.iter().filter(|h| h == from).count() > 1) {
            return Err(format!("two columns of the file are called \"{twice}\""));
        }
        if self.dates == DateOrder::Ask && self.columns.iter().any(|c| self.kind(&c.column) == CellKind::Date) {
            return Err("no row tells whether its dates are DD/MM/YYYY or MM/DD/YYYY; say which".to_owned());
        }
        if self.wide.as_ref().is_some_and(|w| w.columns.is_empty()) {
            return Err("no column of values is chosen".to_owned());
        }
        if let Some(bad) = self.columns.iter().find(|c| !(c.divide.is_finite() && c.divide > 0.0)) {
            return Err(format!("{} cannot be divided by {}", bad.column, bad.divide));
        }
        if self.delimiter.is_ascii() { Ok(()) } else { Err(format!("\"{}\" cannot separate cells", self.delimiter)) }
    }

    /// What holds for every file with these headers: not whose rows one of them held, nor, of a record of years, in which currency and
    /// when they became public.
    #[must_use]
    pub fn for_others(&self) -> Mapping {
        let mut mapping = self.clone();
        mapping.fixed.retain(|f| self.turned.is_none() && !["company_id", "symbol"].contains(&f.column.as_str()));
        for column in mapping.turned.iter_mut().flat_map(|t| &mut t.columns) {
            column.fixed.retain(|f| f.column != "filed_on");
        }
        mapping
    }

    /// Whether it takes the columns of a table as they are called there, each as it is.
    #[allow(clippy::float_cmp)] // exactly one: nothing to divide
    pub(super) fn is_as_it_is(&self, table: Table) -> bool {
        self.table == table
            && self.wide.is_none()
            && self.turned.is_none()
            && self.fixed.is_empty()
            && self.columns.iter().all(|c| c.column == c.from && c.divide == 1.0)
    }

    /// The headers of the file that are used.
    pub(super) fn sources(&self) -> impl Iterator<Item = &str> {
        let wide = self.wide.iter().flat_map(|w| w.columns.iter().map(|c| c.from.as_str()));
        let labels = self.turned.iter().map(|t| t.labels.as_str());
        let turned = self.turned.iter().flat_map(|t| t.columns.iter().map(|c| c.from.as_str()));
        let mut seen = std::collections::HashSet::new();
        self.columns.iter().map(|c| c.from.as_str()).chain(wide).chain(labels).chain(turned).filter(move |from| seen.insert(*from))
    }

    /// The kind of a column's cells.
    pub(super) fn kind(&self, column: &str) -> CellKind {
        columns(self.table).iter().find(|c| c.name == column).map_or(CellKind::Text, |c| c.kind)
    }
}

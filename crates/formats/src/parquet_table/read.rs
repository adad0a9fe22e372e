//! The rows of a file as text.

use super::columns::{Columns, Values};
use crate::{
    ReadError,
    table_rows::{Place, TableRows},
};
use csv::ByteRecord;
use std::path::Path;

/// Rows read at once.
const BATCH: usize = 4_096;

/// The rows of a file, its columns' names being the first.
pub(crate) struct ParquetRows {
    columns: Columns,
    batch: Vec<Values>,
    at: usize,
    /// The number of the row before, 0 being that of the names.
    number: Option<u64>,
    cell: String,
}

impl ParquetRows {
    pub(crate) fn open(path: &Path) -> Result<ParquetRows, ReadError> {
        Ok(ParquetRows { columns: Columns::open(path)?, batch: Vec::new(), at: 0, number: None, cell: String::new() })
    }
}

impl TableRows for ParquetRows {
    fn next(&mut self, row: &mut ByteRecord, typed: &mut Vec<bool>) -> Result<Option<Place>, ReadError> {
        row.clear();
        typed.clear();
        let Some(before) = self.number else {
            self.columns.names().chain(self.columns.nested.iter().map(String::as_str)).for_each(|name| row.push_field(name.as_bytes()));
            self.number = Some(0);
            return Ok(Some(Place::default()));
        };
        if self.batch.first().is_none_or(|values| self.at == values.len()) {
            self.batch = self.columns.next(BATCH)?;
            self.at = 0;
            if self.batch.is_empty() {
                return Ok(None);
            }
        }
        for values in &self.batch {
            self.cell.clear();
            typed.push(values.write(self.at, &mut self.cell));
            row.push_field(self.cell.as_bytes());
        }
        self.at += 1;
        self.number = Some(before + 1);
        Ok(Some(Place { line: before + 1, byte: 0 }))
    }
}

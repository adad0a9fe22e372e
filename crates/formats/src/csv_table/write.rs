//! Writes one table as CSV.

use crate::{
    problem::WriteError,
    tables::{columns, write_cells},
};
use artemon_core::domain::{Record, Table};
use csv::Writer;
use std::io::{self, Write};

/// Writes the rows of one table, in the dataset's own form.
pub struct TableWriter<W: Write> {
    out: Writer<W>,
    scratch: String,
}

impl<W: Write> TableWriter<W> {
    /// Begins with the header.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn new(out: W, table: Table) -> Result<TableWriter<W>, WriteError> {
        let mut out = Writer::from_writer(out);
        out.write_record(columns(table).iter().map(|c| c.name)).map_err(stream)?;
        Ok(TableWriter { out, scratch: String::new() })
    }

    /// Writes one row.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn write(&mut self, record: &Record) -> Result<(), WriteError> {
        write_cells(&mut self.out, record, &mut self.scratch).map_err(stream)
    }

    /// Writes what waits.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn finish(mut self) -> Result<(), WriteError> {
        self.out.flush().map_err(|source| WriteError::Stream { source })
    }
}

fn stream(e: csv::Error) -> WriteError {
    WriteError::Stream { source: io::Error::other(e) }
}

//! Tables → a workbook, a sheet a table, written to the disk row by row.

use super::sheet_of;
use crate::{
    WriteError,
    tables::{Block, CellKind, columns},
};
use artemon_core::domain::Table;
use csv::ByteRecord;
use rust_xlsxwriter::{ExcelDateTime, Format, Workbook, Worksheet, XlsxError};
use std::{
    io::{self, Seek, Write},
    path::Path,
};

/// Rows that fit a sheet, its header left out.
const MOST_ROWS: u32 = 1_048_575;

/// A workbook while it is written. What does not fit a sheet goes on in the next.
pub struct WorkbookWriter {
    book: Workbook,
    day: Format,
    header: Format,
    /// The table of the last sheet, how many sheets it has, and the rows in the last.
    open: Option<(Table, usize, u32)>,
    most_rows: u32,
}

impl WorkbookWriter {
    /// An empty workbook; its rows wait in `folder` until it is saved.
    ///
    /// # Errors
    /// When the folder cannot be written.
    pub fn create(folder: &Path) -> Result<WorkbookWriter, WriteError> {
        let mut book = Workbook::new();
        book.set_tempdir(folder).map_err(failed)?;
        let day = Format::new().set_num_format("yyyy-mm-dd");
        Ok(WorkbookWriter { book, day, header: Format::new().set_bold(), open: None, most_rows: MOST_ROWS })
    }

    /// Adds the rows of a block. Rows of one table must follow one another.
    ///
    /// # Errors
    /// A text that fits no cell; a disk that is full.
    pub fn write(&mut self, block: &Block) -> Result<(), WriteError> {
        if block.begins {
            self.begin(block.table, 1).map_err(failed)?;
        }
        block.for_each_row(|row| self.row(block.table, row).map_err(|e| at(block.table, row, e)))
    }

    fn begin(&mut self, table: Table, nth: usize) -> Result<(), XlsxError> {
        let sheet = self.book.add_worksheet_with_constant_memory()?;
        sheet.set_name(sheet_of(table, nth))?.set_freeze_panes(1, 0)?;
        for (c, column) in (0..).zip(columns(table)) {
            sheet.set_column_width(c, if column.kind == CellKind::Text { 16 } else { 12 })?;
            sheet.write_with_format(0, c, column.name, &self.header)?;
        }
        self.open = Some((table, nth, 0));
        Ok(())
    }

    fn row(&mut self, table: Table, row: &ByteRecord) -> Result<(), XlsxError> {
        if let Some((_, nth, _)) = self.open.filter(|open| open.2 == self.most_rows) {
            self.begin(table, nth + 1)?;
        }
        let Some((_, _, rows)) = &mut self.open else { return Ok(()) };
        *rows += 1;
        let (at, last) = (*rows, self.book.worksheets().len() - 1);
        let sheet = self.book.worksheet_from_index(last)?;
        for (c, (cell, column)) in (0..).zip(row.iter().zip(columns(table))) {
            let text = String::from_utf8_lossy(cell);
            if !text.is_empty() {
                put(sheet, (at, c), &text, column.kind, &self.day)?;
            }
        }
        Ok(())
    }

    /// Saves the workbook.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn finish(mut self, out: impl Write + Seek + Send) -> Result<(), WriteError> {
        if self.open.is_none() {
            // A workbook has a sheet.
            self.book.add_worksheet();
        }
        self.book.save_to_writer(out).map_err(failed)
    }
}

/// Writes a cell as what it is; what a workbook cannot hold so, as text.
fn put(sheet: &mut Worksheet, (row, column): (u32, u16), text: &str, kind: CellKind, day: &Format) -> Result<(), XlsxError> {
    let done = match kind {
        CellKind::Number | CellKind::Whole => match text.parse::<f64>() {
            Ok(number) if number.is_finite() => sheet.write_number(row, column, number),
            _ => sheet.write_string(row, column, text),
        },
        CellKind::Flag => sheet.write_boolean(row, column, text == "true"),
        // In 1900 programs do not agree which day a number is.
        CellKind::Date => match ExcelDateTime::parse_from_str(text).ok().filter(|_| text >= "1901") {
            Some(date) => sheet.write_datetime_with_format(row, column, &date, day),
            None => sheet.write_string(row, column, text),
        },
        CellKind::Text | CellKind::Moment => sheet.write_string(row, column, text),
    };
    done.map(drop)
}

fn failed(e: XlsxError) -> WriteError {
    let source = match e {
        XlsxError::IoError(e) => e,
        other => io::Error::other(other),
    };
    WriteError::Stream { source }
}

/// What is wrong with a row, by its first cell.
fn at(table: Table, row: &ByteRecord, e: XlsxError) -> WriteError {
    match e {
        XlsxError::MaxStringLengthExceeded => {
            let key = String::from_utf8_lossy(row.get(0).unwrap_or_default()).into_owned();
            WriteError::TooLong { table, key }
        }
        other => failed(other),
    }
}

//! The cells of one row, parsed on demand with an error that names the cell.

use artemon_core::domain::{CodeError, Day};
use csv::ByteRecord;
use std::{str::FromStr, sync::Arc};

/// A cell that cannot be taken.
#[derive(Debug)]
pub(super) struct CellError {
    pub(super) column: usize,
    pub(super) value: String,
    pub(super) expected: String,
    pub(super) remedy: &'static str,
}

type Cell<T> = Result<T, CellError>;

/// One row; columns are numbered as in the table's list of columns.
pub(super) struct Fields<'a> {
    pub(super) record: &'a ByteRecord,
    /// Where each column of the table stands in the file.
    pub(super) places: &'a [Option<usize>],
}

impl Fields<'_> {
    fn raw(&self, column: usize) -> Cell<&str> {
        let bytes = self.places[column].and_then(|p| self.record.get(p)).unwrap_or_default();
        std::str::from_utf8(bytes).map(str::trim).map_err(|_| CellError {
            column,
            value: String::from_utf8_lossy(bytes).into_owned(),
            expected: "UTF-8 text".to_owned(),
            remedy: "Save the file in the encoding UTF-8.",
        })
    }

    pub(super) fn bad(&self, column: usize, expected: impl Into<String>, remedy: &'static str) -> CellError {
        CellError { column, value: self.raw(column).unwrap_or_default().to_owned(), expected: expected.into(), remedy }
    }

    pub(super) fn text(&self, column: usize) -> Cell<String> {
        self.raw(column).map(str::to_owned)
    }

    pub(super) fn key(&self, column: usize) -> Cell<&str> {
        match self.raw(column)? {
            "" => Err(self.bad(column, "a key", "Fill in the key; it may not be empty.")),
            key => Ok(key),
        }
    }

    pub(super) fn shared(&self, column: usize) -> Cell<Arc<str>> {
        self.key(column).map(Arc::from)
    }

    pub(super) fn optional_number(&self, column: usize) -> Cell<Option<f64>> {
        match self.raw(column)? {
            "" => Ok(None),
            text => match text.parse::<f64>() {
                Ok(v) if v.is_finite() => Ok(Some(v)),
                _ => Err(self.bad(column, "a number", "Write it like 1250.5, with a point and without separators, or leave it empty.")),
            },
        }
    }

    pub(super) fn number(&self, column: usize) -> Cell<f64> {
        self.optional_number(column)?.ok_or_else(|| self.bad(column, "a number", "Fill in the number; this column may not be empty."))
    }

    pub(super) fn optional_day(&self, column: usize) -> Cell<Option<Day>> {
        match self.raw(column)? {
            "" => Ok(None),
            text => parse_day(text).map(Some).ok_or_else(|| self.bad(column, "a date", "Write it like 2024-06-30.")),
        }
    }

    pub(super) fn day(&self, column: usize) -> Cell<Day> {
        self.optional_day(column)?.ok_or_else(|| self.bad(column, "a date", "Fill in the date like 2024-06-30; it may not be empty."))
    }

    pub(super) fn code<T: FromStr<Err = CodeError>>(&self, column: usize) -> Cell<T> {
        self.raw(column)?.parse().map_err(|e: CodeError| self.bad(column, e.expected, "Use one of the codes of the format."))
    }

    pub(super) fn optional_code<T: FromStr<Err = CodeError>>(&self, column: usize) -> Cell<Option<T>> {
        if self.raw(column)?.is_empty() { Ok(None) } else { self.code(column).map(Some) }
    }

    pub(super) fn flag(&self, column: usize, when_empty: bool) -> Cell<bool> {
        match self.raw(column)? {
            "true" => Ok(true),
            "false" => Ok(false),
            "" => Ok(when_empty),
            _ => Err(self.bad(column, "true or false", "Write true or false.")),
        }
    }

    pub(super) fn optional_whole(&self, column: usize) -> Cell<Option<i32>> {
        match self.raw(column)? {
            "" => Ok(None),
            text => text.parse().map(Some).map_err(|_| self.bad(column, "a whole number", "Write it without decimals.")),
        }
    }

    pub(super) fn whole(&self, column: usize) -> Cell<i32> {
        self.optional_whole(column)?.ok_or_else(|| self.bad(column, "a whole number", "Fill in the number; it may not be empty."))
    }
}

/// `2024-06-30`, exactly.
fn parse_day(text: &str) -> Option<Day> {
    let b = text.as_bytes();
    let number = |r: std::ops::Range<usize>| b[r].iter().try_fold(0u32, |n, c| c.is_ascii_digit().then(|| n * 10 + u32::from(c - b'0')));
    if b.len() != 10 || b[4] != b'-' || b[7] != b'-' {
        return None;
    }
    Day::from_ymd(number(0..4)?.cast_signed(), number(5..7)?, number(8..10)?)
}

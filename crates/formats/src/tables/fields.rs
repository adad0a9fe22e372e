//! The cells of one row, parsed on demand with an error that names the cell.

use crate::text::shortened;
use artemon_core::domain::{CodeError, Day};
use csv::ByteRecord;
use std::{str::FromStr, sync::Arc};

/// Characters of a cell that a report quotes.
const QUOTED: usize = 80;

/// A cell that cannot be taken.
#[derive(Debug)]
pub(crate) struct CellError {
    pub(crate) column: usize,
    pub(crate) value: String,
    pub(crate) expected: String,
    pub(crate) remedy: &'static str,
}

type Cell<T> = Result<T, CellError>;

/// One row; columns are numbered as in the table's list of columns.
pub(crate) struct Fields<'a> {
    pub(crate) record: &'a ByteRecord,
    /// Where each column of the table stands in the file.
    pub(crate) places: &'a [Option<usize>],
}

impl Fields<'_> {
    fn bytes(&self, column: usize) -> &[u8] {
        self.places[column].and_then(|p| self.record.get(p)).unwrap_or_default()
    }

    fn raw(&self, column: usize) -> Cell<&str> {
        let bytes = self.bytes(column);
        let refused = |expected: &str, remedy| CellError {
            column,
            value: shortened(&String::from_utf8_lossy(bytes), QUOTED),
            expected: expected.to_owned(),
            remedy,
        };
        let text = std::str::from_utf8(bytes).map_err(|_| refused("UTF-8 text", "Save the file in the encoding UTF-8."))?;
        if text.contains('\0') {
            return Err(refused("text without NUL bytes", "The file is damaged or not plain text; write it anew."));
        }
        Ok(text.trim())
    }

    pub(crate) fn bad(&self, column: usize, expected: impl Into<String>, remedy: &'static str) -> CellError {
        CellError { column, value: shortened(self.raw(column).unwrap_or_default(), QUOTED), expected: expected.into(), remedy }
    }

    pub(crate) fn text(&self, column: usize) -> Cell<String> {
        self.raw(column).map(str::to_owned)
    }

    pub(crate) fn key(&self, column: usize) -> Cell<&str> {
        match self.raw(column)? {
            "" => Err(self.bad(column, "a key", "Fill in the key; it may not be empty.")),
            key => Ok(key),
        }
    }

    pub(crate) fn shared(&self, column: usize) -> Cell<Arc<str>> {
        self.key(column).map(Arc::from)
    }

    pub(crate) fn optional_number(&self, column: usize) -> Cell<Option<f64>> {
        let bytes = self.bytes(column);
        if bytes.is_empty() {
            return Ok(None);
        }
        if let Some(plain) = plain_number(bytes) {
            return Ok(Some(plain));
        }
        match self.raw(column)? {
            "" => Ok(None),
            text => match text.parse::<f64>() {
                Ok(v) if v.is_finite() => Ok(Some(v)),
                _ => Err(self.bad(column, "a number", "Write it like 1250.5, with a point and without separators, or leave it empty.")),
            },
        }
    }

    pub(crate) fn number(&self, column: usize) -> Cell<f64> {
        self.optional_number(column)?.ok_or_else(|| self.bad(column, "a number", "Fill in the number; this column may not be empty."))
    }

    pub(crate) fn optional_day(&self, column: usize) -> Cell<Option<Day>> {
        if let Some(day) = plain_day(self.bytes(column)) {
            return Ok(Some(day));
        }
        match self.raw(column)? {
            "" => Ok(None),
            text => parse_day(text).map(Some).ok_or_else(|| self.bad(column, "a date", "Write it like 2024-06-30.")),
        }
    }

    pub(crate) fn day(&self, column: usize) -> Cell<Day> {
        self.optional_day(column)?.ok_or_else(|| self.bad(column, "a date", "Fill in the date like 2024-06-30; it may not be empty."))
    }

    pub(crate) fn code<T: FromStr<Err = CodeError>>(&self, column: usize) -> Cell<T> {
        self.raw(column)?.parse().map_err(|e: CodeError| self.bad(column, e.expected, "Use one of the codes of the format."))
    }

    pub(crate) fn optional_code<T: FromStr<Err = CodeError>>(&self, column: usize) -> Cell<Option<T>> {
        if self.raw(column)?.is_empty() { Ok(None) } else { self.code(column).map(Some) }
    }

    /// A moment like `2024-06-30T08:00:00Z`, kept as written.
    pub(crate) fn moment(&self, column: usize) -> Cell<String> {
        let text = self.raw(column)?;
        let day = text.get(..10).and_then(parse_day);
        let clock = text.get(10..).is_some_and(is_clock);
        if day.is_some() && clock { Ok(text.to_owned()) } else { Err(self.bad(column, "a moment", "Write it like 2024-06-30T08:00:00Z.")) }
    }

    pub(crate) fn flag(&self, column: usize, when_empty: bool) -> Cell<bool> {
        match self.raw(column)? {
            "true" | "TRUE" | "True" | "1" => Ok(true),
            "false" | "FALSE" | "False" | "0" => Ok(false),
            "" => Ok(when_empty),
            _ => Err(self.bad(column, "true or false", "Write true or false.")),
        }
    }

    pub(crate) fn optional_whole(&self, column: usize) -> Cell<Option<i32>> {
        match self.raw(column)? {
            "" => Ok(None),
            text => text.parse().map(Some).map_err(|_| self.bad(column, "a whole number", "Write it without decimals.")),
        }
    }

    pub(crate) fn whole(&self, column: usize) -> Cell<i32> {
        self.optional_whole(column)?.ok_or_else(|| self.bad(column, "a whole number", "Fill in the number; it may not be empty."))
    }
}

/// `-1250.5` with at most fifteen digits: whole number and power of ten are both exact, so their quotient is the nearest
/// number (Clinger 1990). Everything else is left to the standard library.
fn plain_number(bytes: &[u8]) -> Option<f64> {
    const EXACT: [f64; 16] = [1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15];
    let (negative, digits) = bytes.strip_prefix(b"-").map_or((false, bytes), |rest| (true, rest));
    let (mut whole, mut decimals, mut seen, mut point) = (0u64, 0, 0, false);
    for &b in digits {
        match b {
            b'0'..=b'9' => {
                whole = whole * 10 + u64::from(b - b'0');
                seen += 1;
                decimals += usize::from(point);
            }
            b'.' if !point => point = true,
            _ => return None,
        }
        if seen > 15 {
            return None;
        }
    }
    if seen == 0 || (point && decimals == 0) {
        return None;
    }
    #[allow(clippy::cast_precision_loss)] // below 10^15
    let value = whole as f64 / EXACT[decimals];
    Some(if negative { -value } else { value })
}

/// `2024-06-30`, exactly.
fn plain_day(b: &[u8]) -> Option<Day> {
    let number = |r: std::ops::Range<usize>| b[r].iter().try_fold(0u32, |n, c| c.is_ascii_digit().then(|| n * 10 + u32::from(c - b'0')));
    if b.len() != 10 || b[4] != b'-' || b[7] != b'-' {
        return None;
    }
    Day::from_ymd(number(0..4)?.cast_signed(), number(5..7)?, number(8..10)?)
}

fn parse_day(text: &str) -> Option<Day> {
    plain_day(text.as_bytes())
}

/// `T08:00:00Z`, with decimals of the second and an offset allowed (RFC 3339).
fn is_clock(text: &str) -> bool {
    let b = text.as_bytes();
    let two =
        |i: usize, most: u8| b.get(i..i + 2).is_some_and(|d| d.iter().all(u8::is_ascii_digit) && (d[0] - b'0') * 10 + d[1] - b'0' <= most);
    let head = b.len() >= 10 && matches!(b[0], b'T' | b't' | b' ') && b[3] == b':' && b[6] == b':';
    if !(head && two(1, 23) && two(4, 59) && two(7, 60)) {
        return false;
    }
    let rest = text.get(9..).unwrap_or_default();
    let rest = rest.strip_prefix('.').map_or(rest, |r| r.trim_start_matches(|c: char| c.is_ascii_digit()));
    matches!(rest, "Z" | "z") || (rest.len() == 6 && rest.starts_with(['+', '-']) && rest.as_bytes()[3] == b':')
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// What the fast way takes is what the standard library makes of it, to the last bit.
        #[test]
        fn plain_numbers_are_the_nearest(text in "-?[0-9]{1,17}(\\.[0-9]{1,16})?") {
            if let Some(v) = plain_number(text.as_bytes()) {
                prop_assert_eq!(v.to_bits(), text.parse::<f64>().unwrap().to_bits());
            }
        }

        #[test]
        fn days_are_those_of_the_calendar(text in "[0-9]{4}-[0-9]{2}-[0-9]{2}") {
            prop_assert_eq!(plain_day(text.as_bytes()), text.parse::<Day>().ok());
        }
    }

    #[test]
    fn moments_need_date_clock_and_offset() {
        for good in ["T08:00:00Z", "T23:59:60.125+02:00", "t00:00:00z"] {
            assert!(is_clock(good), "{good}");
        }
        for bad in ["", "T08:00", "T25:00:00Z", "T08:00:00", "T08:00:00+2"] {
            assert!(!is_clock(bad), "{bad}");
        }
    }
}

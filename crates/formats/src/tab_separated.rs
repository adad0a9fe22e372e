//! Tab-separated text as regulators give it out: no quoting, a line a row, columns by the names in the first line.

use crate::{ReadError, text::utf8};
use std::io::{BufRead, BufReader, Read};

/// The most bytes of a line.
const LONGEST: usize = 1 << 20;
/// Bytes read at once.
const CHUNK: usize = 256 << 10;

/// A file while it is read.
pub(crate) struct TabSeparated<R> {
    file: String,
    read: BufReader<R>,
    header: Vec<String>,
    line: Vec<u8>,
    /// Where the cells of the line end.
    ends: Vec<usize>,
    number: u64,
    /// Bytes so far.
    pub(crate) bytes: u64,
}

/// A row while it stands in the buffer.
#[derive(Clone, Copy)]
pub(crate) struct Row<'l> {
    text: &'l str,
    ends: &'l [usize],
    /// The line in the file, the header being line 1.
    pub(crate) line: u64,
}

impl<'l> Row<'l> {
    /// A cell, empty where the line is too short or the column is not there.
    pub(crate) fn cell(&self, column: Option<usize>) -> &'l str {
        let Some(column) = column else { return "" };
        let Some(end) = self.ends.get(column) else { return "" };
        let start = column.checked_sub(1).map_or(0, |before| self.ends[before] + 1);
        &self.text[start..*end]
    }
}

impl<R: Read> TabSeparated<R> {
    /// Reads the header.
    ///
    /// # Errors
    /// A file without a line of text.
    pub(crate) fn open(read: R, file: &str) -> Result<TabSeparated<R>, ReadError> {
        let read = BufReader::with_capacity(CHUNK, read);
        let mut all =
            TabSeparated { file: file.to_owned(), read, header: Vec::new(), line: Vec::new(), ends: Vec::new(), number: 0, bytes: 0 };
        if !all.read_line()? {
            return Err(ReadError::Unusable { file: file.to_owned(), problem: "it is empty".to_owned() });
        }
        let line = all.line.strip_prefix(b"\xEF\xBB\xBF").unwrap_or(&all.line);
        let header = utf8(line).map_err(|problem| ReadError::Csv { file: file.to_owned(), line: 1, problem })?;
        all.header = header.split('\t').map(|name| name.trim().to_lowercase()).collect();
        Ok(all)
    }

    /// Where columns stand, by their names in lower case.
    pub(crate) fn columns<const N: usize>(&self, names: [&str; N]) -> [Option<usize>; N] {
        names.map(|name| self.header.iter().position(|h| h == name))
    }

    /// Where columns stand whose names end so.
    pub(crate) fn columns_ending(&self, end: &str) -> Vec<usize> {
        self.header.iter().enumerate().filter(|(_, h)| h.ends_with(end)).map(|(at, _)| at).collect()
    }

    /// As [`TabSeparated::columns`], where none of the first may be missing.
    ///
    /// # Errors
    /// The first that is missing.
    pub(crate) fn need(&self, names: &[&'static str]) -> Result<(), ReadError> {
        let missing = names.iter().find(|name| !self.header.iter().any(|h| h == *name));
        missing.map_or(Ok(()), |column| Err(ReadError::MissingColumn { file: self.file.clone(), column }))
    }

    /// The next row that is not empty.
    ///
    /// # Errors
    /// A line that is no text, or longer than any honest one.
    pub(crate) fn next(&mut self) -> Result<Option<Row<'_>>, ReadError> {
        loop {
            if !self.read_line()? {
                return Ok(None);
            }
            if !self.line.is_empty() {
                break;
            }
        }
        let problem = |problem: String| ReadError::Csv { file: self.file.clone(), line: self.number, problem };
        let text = std::str::from_utf8(&self.line).map_err(|e| {
            let at = e.valid_up_to();
            problem(format!("not UTF-8 (byte {:02X} at column {})", self.line[at], at + 1))
        })?;
        if memchr::memchr(0, &self.line).is_some() {
            return Err(problem("a NUL character".to_owned()));
        }
        self.ends.clear();
        self.ends.extend(memchr::memchr_iter(b'\t', &self.line));
        self.ends.push(self.line.len());
        Ok(Some(Row { text, ends: &self.ends, line: self.number }))
    }

    /// Reads a line without its end; false at the end of the file.
    fn read_line(&mut self) -> Result<bool, ReadError> {
        self.line.clear();
        let io = |source| ReadError::Io { file: self.file.clone(), source };
        let read = (&mut self.read).take(LONGEST as u64 + 1).read_until(b'\n', &mut self.line).map_err(io)?;
        self.number += 1;
        self.bytes += read as u64;
        if read > LONGEST {
            let problem = "a line is longer than 1 MB".to_owned();
            return Err(ReadError::Csv { file: self.file.clone(), line: self.number, problem });
        }
        while matches!(self.line.last(), Some(b'\n' | b'\r')) {
            self.line.pop();
        }
        Ok(read > 0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn cells_are_taken_as_they_stand() {
        let text = "\u{feff}A\tb \tC\r\n1\t\"two\t\r\n\n3\n";
        let mut rows = TabSeparated::open(text.as_bytes(), "x.txt").unwrap();
        let [c, a, b, none] = rows.columns(["c", "a", "b", "d"]);
        let row = rows.next().unwrap().unwrap();
        assert_eq!((row.line, row.cell(a), row.cell(b), row.cell(c), row.cell(none)), (2, "1", "\"two", "", ""));
        let row = rows.next().unwrap().unwrap();
        assert_eq!((row.line, row.cell(a), row.cell(b)), (4, "3", ""));
        assert!(rows.next().unwrap().is_none());
    }

    #[test]
    fn what_is_no_text_is_refused_with_its_line() {
        let refused = |bytes: &[u8]| {
            let mut rows = TabSeparated::open(bytes, "x.txt")?;
            while rows.next()?.is_some() {}
            Ok::<_, ReadError>(())
        };
        let says = |bytes: &[u8]| refused(bytes).unwrap_err().to_string();
        assert!(says(b"").contains("is empty"));
        assert!(says(b"a\tb\n1\t2\n3\t\xFF\n").starts_with("x.txt, line 3: not UTF-8 (byte FF at column 3)"));
        assert!(says(b"a\n\0\n").contains("line 2: a NUL character"));
        assert!(says(&[&b"a\n"[..], &vec![b'x'; LONGEST + 9]].concat()).contains("longer than 1 MB"));
    }
}

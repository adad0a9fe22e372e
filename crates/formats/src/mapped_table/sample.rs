//! The head of a file: headers, first rows, and what separates them.

use super::guess::names_columns;
use crate::{ReadError, archive, parquet_table, table_rows::TableFile, text::TextReader};
use csv::ByteRecord;
use std::{collections::HashSet, fs::File, io::Read, path::Path};

/// Rows looked at.
const ROWS: usize = 300;
/// Rows among which the header is looked for.
const HEADER_WITHIN: usize = 30;
/// Bytes looked at to find the delimiter.
const HEAD: u64 = 64 << 10;
/// What usually separates cells.
const DELIMITERS: [u8; 4] = [b',', b';', b'\t', b'|'];
/// Columns that are shown of a row.
const MOST_COLUMNS: usize = 1_024;

/// The head of a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sample {
    /// Where the table is.
    pub table: TableFile,
    /// How reports call it.
    pub file: String,
    /// What separates cells.
    pub delimiter: char,
    /// The row that names the columns.
    pub headers: Vec<String>,
    /// Some rows after it.
    pub rows: Vec<Vec<String>>,
}

impl Sample {
    /// Looks at the head of a file that is one table.
    ///
    /// # Errors
    /// When it cannot be read or is no table.
    pub fn of(path: &Path) -> Result<Sample, ReadError> {
        Sample::of_table(&TableFile::of(path))
    }

    /// Looks at the head of a table. Its header is the first row that names at least two columns of one table, else the first row with two
    /// cells or more: rows before it are titles.
    ///
    /// # Errors
    /// When it cannot be read or is no table.
    pub fn of_table(table: &TableFile) -> Result<Sample, ReadError> {
        let file = table.name();
        let delimiter = delimiter_of(&table.path, &file)?;
        let mut source = table.rows(delimiter)?;
        let (mut rows, mut record, mut typed) = (Vec::new(), ByteRecord::new(), Vec::new());
        while rows.len() < ROWS && source.next(&mut record, &mut typed)?.is_some() {
            rows.push(texts(&record));
        }
        let within = &rows[..rows.len().min(HEADER_WITHIN)];
        let is_wide = |row: &Vec<String>| row.iter().filter(|c| !c.is_empty()).count() >= 2;
        let header = within.iter().position(|row| names_columns(row)).or_else(|| within.iter().position(is_wide)).unwrap_or(0);
        let rows = rows.split_off((header + 1).min(rows.len()).max(1) - 1);
        let mut rows = rows.into_iter();
        let headers = rows.next().unwrap_or_default();
        if headers.iter().all(String::is_empty) {
            return Err(ReadError::Table { file, problem: "its first line has no headers".to_owned() });
        }
        Ok(Sample { table: table.clone(), file, delimiter: delimiter.into(), headers, rows: rows.collect() })
    }

    /// Equal for files with equal headers: by it a mapping is remembered.
    #[must_use]
    pub fn signature(&self) -> String {
        let headers: Vec<_> = self.headers.iter().map(|h| h.to_lowercase()).collect();
        format!("{}{}", self.delimiter, headers.join("\u{1f}"))
    }

    /// What the rows are called by a column, each once.
    #[must_use]
    pub fn labels(&self, header: &str) -> Vec<String> {
        let mut seen = HashSet::new();
        self.column(header).filter(|label| seen.insert(*label)).map(str::to_owned).collect()
    }

    /// The non-empty cells of a column.
    pub(super) fn column<'s>(&'s self, header: &str) -> impl Iterator<Item = &'s str> + use<'s> {
        let place = self.headers.iter().position(|h| h == header);
        self.rows.iter().filter_map(move |r| r.get(place?)).map(String::as_str).filter(|c| !c.is_empty())
    }
}

/// The cells of a row as text, without the spaces around them.
pub(super) fn texts(record: &ByteRecord) -> Vec<String> {
    record.iter().take(MOST_COLUMNS).map(|c| String::from_utf8_lossy(c).trim().to_owned()).collect()
}

/// What separates the cells of a file of text; a comma for others.
fn delimiter_of(path: &Path, file: &str) -> Result<u8, ReadError> {
    let io = |source| ReadError::Io { file: file.to_owned(), source };
    let mut magic = Vec::new();
    File::open(path).and_then(|f| f.take(4).read_to_end(&mut magic)).map_err(io)?;
    if magic == archive::MAGIC || magic == parquet_table::MAGIC {
        return Ok(b',');
    }
    let mut head = Vec::new();
    let read = File::open(path).and_then(TextReader::new).and_then(|text| text.take(HEAD).read_to_end(&mut head));
    match read {
        // What cannot be read further on is told when it is reached.
        Err(e) if head.is_empty() && e.kind() == std::io::ErrorKind::InvalidData => {
            Err(ReadError::Unusable { file: file.to_owned(), problem: e.to_string() })
        }
        Err(e) if e.kind() != std::io::ErrorKind::InvalidData => Err(io(e)),
        _ => {
            let first = head.split(|b| *b == b'\n').next().unwrap_or_default();
            // Titles before the header have none.
            Ok(delimiter(&head, if first.iter().any(|b| DELIMITERS.contains(b)) { 1 } else { HEADER_WITHIN }))
        }
    }
}

/// Of the usual delimiters the one that the first lines have most of.
pub(crate) fn delimiter(text: &[u8], lines: usize) -> u8 {
    let count = |d: u8| text.split(|b| *b == b'\n').take(lines).flatten().filter(|b| **b == d).count();
    DELIMITERS.into_iter().rev().max_by_key(|d| count(*d)).unwrap_or(b',')
}

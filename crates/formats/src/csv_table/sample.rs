//! The head of a CSV file: headers, first rows, and what separates them.

use crate::{data_package::csv_error, problem::ReadError, tables::Bounded};
use csv::{ByteRecord, ReaderBuilder};
use std::{fs::File, io::Read, path::Path};

/// Rows looked at.
const ROWS: usize = 300;
/// Bytes looked at to find the delimiter.
const HEAD: u64 = 64 << 10;

/// The head of a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sample {
    /// The file's name.
    pub file: String,
    /// What separates cells.
    pub delimiter: char,
    /// The first row.
    pub headers: Vec<String>,
    /// Some rows after it.
    pub rows: Vec<Vec<String>>,
}

impl Sample {
    /// Looks at the head of a file.
    ///
    /// # Errors
    /// When it cannot be read or is no text.
    pub fn of(path: &Path) -> Result<Sample, ReadError> {
        let file = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let open = || File::open(path).map_err(|source| ReadError::Io { file: file.clone(), source });
        let mut head = Vec::new();
        open()?.take(HEAD).read_to_end(&mut head).map_err(|source| ReadError::Io { file: file.clone(), source })?;
        if head.starts_with(&[0xFF, 0xFE]) || head.starts_with(&[0xFE, 0xFF]) {
            return Err(ReadError::Encoding { file });
        }
        if head.contains(&0) {
            return Err(ReadError::Table { file, problem: "it is no text. Choose a CSV file".to_owned() });
        }
        let delimiter = delimiter(&head, 1);
        let (bounded, since_record) = Bounded::new(open()?);
        let mut csv = ReaderBuilder::new().delimiter(delimiter).flexible(true).from_reader(bounded);
        let text = |r: &ByteRecord| r.iter().map(|c| String::from_utf8_lossy(c).trim().to_owned()).collect::<Vec<_>>();
        let mut headers = text(csv.byte_headers().map_err(|e| csv_error(&file, &e))?);
        if let Some(first) = headers.first_mut() {
            *first = first.trim_start_matches('\u{feff}').to_owned();
        }
        let (mut rows, mut record) = (Vec::new(), ByteRecord::new());
        while rows.len() < ROWS {
            since_record.set(0);
            if !csv.read_byte_record(&mut record).map_err(|e| csv_error(&file, &e))? {
                break;
            }
            rows.push(text(&record));
        }
        if headers.iter().all(String::is_empty) {
            return Err(ReadError::Table { file, problem: "its first line has no headers".to_owned() });
        }
        Ok(Sample { file, delimiter: delimiter.into(), headers, rows })
    }

    /// Equal for files with equal headers: by it a mapping is remembered.
    #[must_use]
    pub fn signature(&self) -> String {
        let headers: Vec<_> = self.headers.iter().map(|h| h.to_lowercase()).collect();
        format!("{}{}", self.delimiter, headers.join("\u{1f}"))
    }

    /// The non-empty cells of a column.
    pub(super) fn column<'s>(&'s self, header: &str) -> impl Iterator<Item = &'s str> + use<'s> {
        let place = self.headers.iter().position(|h| h == header);
        self.rows.iter().filter_map(move |r| r.get(place?)).map(String::as_str).filter(|c| !c.is_empty())
    }
}

/// Of the usual delimiters the one that the first lines have most of.
pub(crate) fn delimiter(text: &[u8], lines: usize) -> u8 {
    let count = |d: u8| text.split(|b| *b == b'\n').take(lines).flatten().filter(|b| **b == d).count();
    [b',', b';', b'\t', b'|'].into_iter().rev().max_by_key(|d| count(*d)).unwrap_or(b',')
}

//! All of a file: headers, and rows as text.

use crate::{mapped_table::delimiter, statement::StatementError};
use csv::ReaderBuilder;
use encoding_rs::{UTF_8, WINDOWS_1252};

/// Rows of a statement at most.
const MOST_ROWS: usize = 100_000;

/// A file as rows of text.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct StatementHead {
    pub delimiter: char,
    pub headers: Vec<String>,
    /// With their lines, the header being line 1.
    pub rows: Vec<(u64, Vec<String>)>,
}

impl StatementHead {
    /// Reads a file. Lines before the header, such as a title or the account's number, are passed over: the header is the first line with
    /// as many cells as most lines have.
    ///
    /// # Errors
    /// A file that is no text or has no table.
    pub fn of(bytes: &[u8]) -> Result<StatementHead, StatementError> {
        if bytes.contains(&0) {
            return Err(StatementError::Not("it is no text; save it as CSV in UTF-8".to_owned()));
        }
        let (text, _, malformed) = UTF_8.decode(bytes);
        let text = if malformed { WINDOWS_1252.decode(bytes).0 } else { text };
        // Lines before the header may have none.
        let delimiter = delimiter(text.as_bytes(), 20);
        let mut csv = ReaderBuilder::new().delimiter(delimiter).flexible(true).has_headers(false).from_reader(text.as_bytes());
        let mut all: Vec<(u64, Vec<String>)> = Vec::new();
        for record in csv.records() {
            let record = record.map_err(|e| StatementError::Bad { place: "A line".to_owned(), problem: e.to_string() })?;
            if all.len() > MOST_ROWS {
                return Err(StatementError::Not(format!("it has more than {MOST_ROWS} lines; bring it in parts")));
            }
            let line = record.position().map_or(0, csv::Position::line);
            all.push((line, record.iter().map(|c| c.trim().to_owned()).collect()));
        }
        let wide = usual_width(&all);
        let header = all.iter().position(|r| r.1.len() == wide && r.1.iter().filter(|c| !c.is_empty()).count() * 2 > wide);
        let Some(header) = header.filter(|_| wide >= 2) else {
            return Err(StatementError::Not("it has no table with headers".to_owned()));
        };
        let rows = all.split_off(header + 1);
        let headers = all.pop().map(|r| r.1).unwrap_or_default();
        let rows = rows.into_iter().filter(|r| r.1.len() * 2 > wide && r.1.iter().any(|c| !c.is_empty())).collect();
        Ok(StatementHead { delimiter: delimiter.into(), headers, rows })
    }

    /// Equal for files with equal headers: by it a mapping is remembered.
    #[must_use]
    pub fn signature(&self) -> String {
        let headers: Vec<_> = self.headers.iter().map(|h| h.to_lowercase()).collect();
        format!("statement{}{}", self.delimiter, headers.join("\u{1f}"))
    }

    /// The non-empty cells of a column.
    pub fn column<'s>(&'s self, header: &str) -> impl Iterator<Item = &'s str> + use<'s> {
        let place = self.headers.iter().position(|h| h == header);
        self.rows.iter().filter_map(move |r| r.1.get(place?)).map(String::as_str).filter(|c| !c.is_empty())
    }
}

/// How many cells most lines have.
fn usual_width(all: &[(u64, Vec<String>)]) -> usize {
    let mut widths: Vec<usize> = all.iter().map(|r| r.1.len()).collect();
    widths.sort_unstable();
    let count = |w: &usize| widths.iter().filter(|x| *x == w).count();
    widths.iter().copied().max_by_key(|w| (count(w), *w)).unwrap_or(0)
}

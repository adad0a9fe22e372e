//! Reads a mapped file.

use super::{convert, mapping::Mapping};
use crate::{
    data_package::csv_error,
    problem::{BadCell, ReadError, ReadReport},
    reading::{Progress, Reading, Take},
    tables::{Bounded, CellKind, Checker, Fields, Known, columns, parse},
};
use csv::{ByteRecord, Reader, ReaderBuilder};
use serde::Serialize;
use std::{cell::Cell, fs::File, path::Path, rc::Rc, sync::Arc};
use utoipa::ToSchema;

/// Reads one table from a file; every good row goes to the reading, bad ones into the report. Rows may refer to the keys
/// in `known`, to which those of the file are added.
///
/// # Errors
/// When the file as a whole cannot be read or mapped, or the reading refuses a row or is cancelled.
pub fn read(path: &Path, mapping: &Mapping, known: &mut Known, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let mut rows = Rows::open(path, mapping)?;
    let mut take = Take::new(reading);
    take.progress.bytes_in_all = std::fs::metadata(path).map_or(0, |m| m.len());
    let (mut checker, places, mut symbol, mut good) = (Checker::new(std::mem::take(known)), rows.places(), Arc::from(""), 0);
    while let Some((line, byte)) = rows.next()? {
        let fields = Fields { record: &rows.mapped, places: &places };
        match parse(mapping.table, &fields, &mut symbol).and_then(|row| checker.check(&fields, &row).map(|()| row)) {
            Ok(row) => {
                good += 1;
                take.good(row, Progress { table: mapping.table, ..take.progress.at(byte) })?;
            }
            Err(cell) => {
                let (header, value) = rows.original(cell.column).unwrap_or((columns(mapping.table)[cell.column].name, &cell.value));
                take.bad(BadCell { value: value.to_owned(), column: header.to_owned(), ..BadCell::of(&rows.file, line, "", cell) });
            }
        }
    }
    let used: Vec<&String> = mapping.columns.iter().map(|c| &c.from).collect();
    let unused = rows.headers.iter().filter(|h| !h.is_empty() && !used.contains(h));
    take.report.kept_out = unused.map(|h| format!("{}: column {h}", rows.file)).collect();
    take.report.rows.push((mapping.table, good));
    (*known, take.report.odd_codes) = checker.end();
    Ok(take.report)
}

/// A row as it will be taken.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct PreviewRow {
    /// The line in the file.
    pub line: u64,
    /// The cells of the table's columns, in the dataset's form.
    pub cells: Vec<String>,
    /// What is wrong with it.
    pub problem: Option<String>,
}

/// The first rows as they would be taken.
///
/// # Errors
/// When the file cannot be read or mapped.
pub fn preview(path: &Path, mapping: &Mapping, most: usize) -> Result<Vec<PreviewRow>, ReadError> {
    let mut rows = Rows::open(path, mapping)?;
    let (places, mut symbol, mut out) = (rows.places(), Arc::from(""), Vec::new());
    while out.len() < most {
        let Some((line, _)) = rows.next()? else { break };
        let fields = Fields { record: &rows.mapped, places: &places };
        let problem = parse(mapping.table, &fields, &mut symbol).err().map(|cell| {
            let column = columns(mapping.table)[cell.column].name;
            format!("{column} is not {}. {}", cell.expected, cell.remedy)
        });
        out.push(PreviewRow { line, cells: rows.mapped.iter().map(|c| String::from_utf8_lossy(c).into_owned()).collect(), problem });
    }
    Ok(out)
}

/// The rows of a file, brought into the dataset's form one by one.
struct Rows<'m> {
    mapping: &'m Mapping,
    file: String,
    headers: Vec<String>,
    csv: Reader<Bounded<File>>,
    since_record: Rc<Cell<u64>>,
    record: ByteRecord,
    /// The row with all columns of the table.
    mapped: ByteRecord,
    /// Where each column of the table comes from.
    sources: Vec<From>,
}

enum From {
    Nowhere,
    Fixed(String),
    Column { place: usize, kind: CellKind, divide: f64 },
}

impl<'m> Rows<'m> {
    fn open(path: &Path, mapping: &'m Mapping) -> Result<Rows<'m>, ReadError> {
        let file = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let open = File::open(path).map_err(|source| ReadError::Io { file: file.clone(), source })?;
        let (bounded, since_record) = Bounded::new(open);
        let delimiter = u8::try_from(mapping.delimiter).unwrap_or(b',');
        let mut csv = ReaderBuilder::new().delimiter(delimiter).flexible(true).buffer_capacity(1 << 18).from_reader(bounded);
        let header = csv.byte_headers().map_err(|e| csv_error(&file, &e))?;
        let name = |h: &[u8]| String::from_utf8_lossy(h).trim().trim_start_matches('\u{feff}').to_owned();
        let headers: Vec<String> = header.iter().map(name).collect();
        mapping.check(&headers).map_err(|problem| ReadError::Table { file: file.clone(), problem })?;
        let sources = columns(mapping.table).iter().map(|c| source(mapping, &headers, c.name)).collect();
        let (record, mapped) = (ByteRecord::new(), ByteRecord::new());
        Ok(Rows { mapping, file, headers, csv, since_record, record, mapped, sources })
    }

    /// Every column of the table stands at its own place.
    fn places(&self) -> Vec<Option<usize>> {
        (0..self.sources.len()).map(Some).collect()
    }

    /// The line and byte of the next row, which then stands in `mapped`.
    fn next(&mut self) -> Result<Option<(u64, u64)>, ReadError> {
        self.since_record.set(0);
        if !self.csv.read_byte_record(&mut self.record).map_err(|e| csv_error(&self.file, &e))? {
            return Ok(None);
        }
        self.mapped.clear();
        for source in &self.sources {
            match source {
                From::Nowhere => self.mapped.push_field(b""),
                From::Fixed(value) => self.mapped.push_field(value.as_bytes()),
                From::Column { place, kind, divide } => {
                    let cell = self.record.get(*place).unwrap_or_default();
                    match converted(cell, *kind, *divide, self.mapping) {
                        Some(text) => self.mapped.push_field(text.as_bytes()),
                        None => self.mapped.push_field(cell),
                    }
                }
            }
        }
        let place = self.record.position();
        Ok(Some((place.map_or(0, csv::Position::line), place.map_or(0, csv::Position::byte))))
    }

    /// Header and cell of the file behind a column of the table.
    fn original(&self, column: usize) -> Option<(&str, &str)> {
        let From::Column { place, .. } = &self.sources[column] else { return None };
        let cell = std::str::from_utf8(self.record.get(*place)?).ok()?;
        Some((&self.headers[*place], cell))
    }
}

fn source(mapping: &Mapping, headers: &[String], column: &str) -> From {
    if let Some(fixed) = mapping.fixed.iter().find(|f| f.column == column) {
        return From::Fixed(fixed.value.clone());
    }
    let Some(mapped) = mapping.columns.iter().find(|c| c.column == column) else { return From::Nowhere };
    let place = headers.iter().position(|h| *h == mapped.from);
    place.map_or(From::Nowhere, |place| From::Column { place, kind: mapping.kind(column), divide: mapped.divide })
}

/// The cell in the dataset's form; `None` when it stays as it is.
fn converted(cell: &[u8], kind: CellKind, divide: f64, mapping: &Mapping) -> Option<String> {
    let text = std::str::from_utf8(cell).ok()?.trim();
    match kind {
        _ if text.is_empty() => None,
        CellKind::Number => convert::number(text, mapping.decimal, divide),
        CellKind::Date => convert::date(text, mapping.dates),
        CellKind::Flag => convert::flag(text),
        CellKind::Text | CellKind::Whole | CellKind::Moment => None,
    }
}

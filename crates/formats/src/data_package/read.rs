//! Reads a package table by table, streaming, every bad cell reported with its place.

use super::{
    descriptor::{Resource, resources},
    source::Source,
};
use crate::{
    problem::{BadCell, ReadError, ReadReport},
    reading::{Progress, Reading, Take},
    tables::{Bounded, Checker, Column, Fields, Known, columns, parse, required},
};
use artemon_core::domain::Table;
use csv::{ByteRecord, ReaderBuilder};
use std::{io::Read, path::Path, sync::Arc};

/// Reads the package at `path`, a folder or a zip; every good row goes to the reading, bad ones into the report. Rows may
/// refer to the keys in `known`, to which those of the package are added.
///
/// # Errors
/// When the package as a whole cannot be read, or the reading refuses a row or is cancelled.
pub fn read(path: &Path, known: &mut Known, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    read_tables(path, Table::ALL, known, reading)
}

/// Reads some tables of a package, in the order given; see [`read`]. Several threads may each read some.
///
/// # Errors
/// As [`read`].
pub fn read_tables(path: &Path, tables: &[Table], known: &mut Known, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let mut source = Source::open(path)?;
    let resources = resources(&mut source, path)?;
    let mut reader = PackageReader { take: Take::new(reading), checker: Checker::new(std::mem::take(known)) };
    reader.take.progress.bytes_in_all = resources.iter().map(|r| source.size(r.file())).sum();
    if tables.contains(&Table::Companies) {
        let unknown = resources.iter().filter(|r| r.name.parse::<Table>().is_err());
        reader.take.report.kept_out.extend(unknown.map(|r| r.file().to_owned()));
    }
    for &table in tables {
        if let Some(resource) = resources.iter().find(|r| r.name == table.code()) {
            let (file, size) = source.file(resource.file())?;
            reader.table(table, resource, file)?;
            reader.take.finished_file(size);
        }
    }
    (*known, reader.take.report.odd_codes) = reader.checker.end();
    Ok(reader.take.report)
}

struct PackageReader<'r> {
    take: Take<'r>,
    checker: Checker,
}

impl PackageReader<'_> {
    fn table(&mut self, table: Table, resource: &Resource, input: impl Read) -> Result<(), ReadError> {
        let file = resource.file();
        let (bounded, since_record) = Bounded::new(input);
        let mut csv = ReaderBuilder::new().delimiter(resource.delimiter()).buffer_capacity(1 << 18).from_reader(bounded);
        let header = csv.byte_headers().map_err(|e| csv_error(file, &e))?.clone();
        let places = self.places(table, file, &header)?;
        self.checker.begin_table();
        let (mut record, mut symbol, mut good) = (ByteRecord::new(), Arc::from(""), 0);
        loop {
            since_record.set(0);
            if !csv.read_byte_record(&mut record).map_err(|e| csv_error(file, &e))? {
                break;
            }
            let fields = Fields { record: &record, places: &places };
            let checked = parse(table, &fields, &mut symbol).and_then(|row| self.checker.check(&fields, &row).map(|()| row));
            let place = record.position();
            match checked {
                Ok(row) => {
                    good += 1;
                    self.take.good(row, Progress { table, ..self.take.progress.at(place.map_or(0, csv::Position::byte)) })?;
                }
                Err(cell) => self.take.bad(BadCell::of(file, place.map_or(0, csv::Position::line), columns(table)[cell.column].name, cell)),
            }
        }
        self.take.report.rows.push((table, good));
        Ok(())
    }

    /// Where each column of the table stands in the file.
    fn places(&mut self, table: Table, file: &str, header: &ByteRecord) -> Result<Vec<Option<usize>>, ReadError> {
        if header.get(0).is_some_and(|h| h.starts_with(&[0xFF, 0xFE]) || h.starts_with(&[0xFE, 0xFF])) {
            return Err(ReadError::Encoding { file: file.to_owned() });
        }
        let name = |h: &[u8]| String::from_utf8_lossy(h).trim().trim_start_matches('\u{feff}').to_owned();
        let names: Vec<String> = header.iter().map(name).collect();
        if let Some(column) = required(table).iter().copied().find(|c| !names.iter().any(|n| n == c)) {
            return Err(ReadError::MissingColumn { file: file.to_owned(), column });
        }
        let known = |n: &str| columns(table).iter().any(|c| c.name == n);
        let unknown = names.iter().filter(|n| !known(n));
        self.take.report.kept_out.extend(unknown.map(|n| format!("{file}: column {n}")));
        Ok(columns(table).iter().map(|Column { name, .. }| names.iter().position(|n| n == name)).collect())
    }
}

pub(crate) fn csv_error(file: &str, error: &csv::Error) -> ReadError {
    let line = error.position().map_or(0, csv::Position::line);
    // What the disk or the archive refuses is no mistake in a line.
    let io = |e: &std::io::Error| std::io::Error::new(e.kind(), e.to_string());
    let problem = match error.kind() {
        csv::ErrorKind::Io(e) if e.kind() != std::io::ErrorKind::InvalidData => {
            return ReadError::Io { file: file.to_owned(), source: io(e) };
        }
        csv::ErrorKind::Io(e) => return ReadError::Unusable { file: file.to_owned(), problem: e.to_string() },
        csv::ErrorKind::UnequalLengths { expected_len, len, .. } => format!("it has {len} cells where the header has {expected_len}"),
        _ => error.to_string(),
    };
    ReadError::Csv { file: file.to_owned(), line, problem }
}

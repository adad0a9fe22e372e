//! Reads a package table by table, streaming, every bad cell reported with its place.

use super::{
    columns::{columns, required},
    fields::{CellError, Fields},
    rows,
};
use crate::problem::{BadCell, ReadError, ReadReport};
use artemon_core::domain::{Record, Table};
use csv::{ByteRecord, ReaderBuilder};
use serde::Deserialize;
use std::{
    collections::HashSet,
    fs::File,
    io::BufReader,
    path::{Component, Path, PathBuf},
    sync::Arc,
};

/// Bad cells that a report keeps in full.
const MAX_REPORTED: usize = 1000;

/// The keys that rows may refer to beside those of the package itself.
#[derive(Clone, Debug, Default)]
pub struct Known {
    /// Company ids.
    pub companies: HashSet<Arc<str>>,
    /// Symbols.
    pub symbols: HashSet<Arc<str>>,
}

#[derive(Deserialize)]
struct Descriptor {
    #[serde(default)]
    resources: Vec<Resource>,
}

#[derive(Deserialize)]
struct Resource {
    name: String,
    path: String,
}

/// Reads the package in the folder `path`; every good row goes to `take`, bad ones into the report.
///
/// # Errors
/// When the package as a whole cannot be read, or `take` refuses.
pub fn read(
    path: &Path,
    known: Known,
    mut take: impl FnMut(Record) -> Result<(), Box<dyn std::error::Error + Send + Sync>>,
) -> Result<ReadReport, ReadError> {
    let resources = resources(path)?;
    let mut reader = Reader { report: ReadReport::default(), known, seen: HashSet::new() };
    for resource in &resources {
        if resource.name.parse::<Table>().is_err() {
            reader.report.kept_out.push(resource.path.clone());
        }
    }
    for &table in Table::ALL {
        if let Some(resource) = resources.iter().find(|r| r.name == table.code()) {
            reader.table(table, &file_of(path, resource)?, &resource.path, &mut take)?;
        }
    }
    Ok(reader.report)
}

fn resources(path: &Path) -> Result<Vec<Resource>, ReadError> {
    if !path.exists() {
        return Err(ReadError::Missing { path: path.to_owned() });
    }
    let descriptor = path.join("datapackage.json");
    let text = std::fs::read(&descriptor).map_err(|_| ReadError::NoDescriptor { path: path.to_owned() })?;
    let parsed: Result<Descriptor, _> = serde_json::from_slice(&text);
    parsed.map(|d| d.resources).map_err(|e| ReadError::BadDescriptor { path: descriptor, problem: e.to_string() })
}

fn file_of(package: &Path, resource: &Resource) -> Result<PathBuf, ReadError> {
    let relative = Path::new(&resource.path);
    if !relative.components().all(|c| matches!(c, Component::Normal(_))) {
        return Err(ReadError::Outside { file: resource.path.clone() });
    }
    let file = package.join(relative);
    if file.is_file() { Ok(file) } else { Err(ReadError::MissingFile { file: resource.path.clone() }) }
}

struct Reader {
    report: ReadReport,
    known: Known,
    /// Keys met so far in the table being read, for those tables whose keys are few.
    seen: HashSet<String>,
}

type Take<'t> = dyn FnMut(Record) -> Result<(), Box<dyn std::error::Error + Send + Sync>> + 't;

impl Reader {
    fn table(&mut self, table: Table, path: &Path, file: &str, take: &mut Take<'_>) -> Result<(), ReadError> {
        let open = File::open(path).map_err(|source| ReadError::Io { file: file.to_owned(), source })?;
        let mut csv = ReaderBuilder::new().from_reader(BufReader::with_capacity(1 << 20, open));
        let places = self.places(table, file, csv.byte_headers().map_err(|e| csv_error(file, &e))?)?;
        self.seen.clear();
        let (mut record, mut symbol, mut good) = (ByteRecord::new(), Arc::from(""), 0);
        while csv.read_byte_record(&mut record).map_err(|e| csv_error(file, &e))? {
            let fields = Fields { record: &record, places: &places };
            match rows::parse(table, &fields, &mut symbol).and_then(|r| self.checked(&fields, r)) {
                Ok(row) => {
                    good += 1;
                    take(row).map_err(ReadError::Taking)?;
                }
                Err(cell) => self.refuse(table, file, record.position().map_or(0, csv::Position::line), cell),
            }
        }
        self.report.rows.push((table, good));
        Ok(())
    }

    fn places(&mut self, table: Table, file: &str, header: &ByteRecord) -> Result<Vec<Option<usize>>, ReadError> {
        let names: Vec<String> =
            header.iter().map(|h| String::from_utf8_lossy(h).trim().trim_start_matches('\u{feff}').to_owned()).collect();
        if let Some(column) = required(table).iter().copied().find(|c| !names.iter().any(|n| n == c)) {
            return Err(ReadError::MissingColumn { file: file.to_owned(), column });
        }
        let unknown = names.iter().filter(|n| !columns(table).contains(&n.as_str()));
        self.report.kept_out.extend(unknown.map(|n| format!("{file}: column {n}")));
        Ok(columns(table).iter().map(|c| names.iter().position(|n| n == c)).collect())
    }

    /// Checks a row against the rows before it: references and double keys.
    fn checked(&mut self, f: &Fields<'_>, record: Record) -> Result<Record, CellError> {
        match &record {
            Record::Company(c) => {
                self.unique(f, 0, c.id.to_string())?;
                self.known.companies.insert(c.id.clone());
            }
            Record::Listing(l) => {
                self.company(f, 1, &l.company_id)?;
                self.unique(f, 0, l.symbol.to_string())?;
                self.known.symbols.insert(l.symbol.clone());
            }
            Record::Statement(s) => {
                self.company(f, 0, &s.company_id)?;
                self.unique(f, 4, format!("{}|{}|{}|{}", s.company_id, s.fiscal_year, s.period, s.filed_on))?;
            }
            Record::Price { symbol, .. } => self.symbol(f, symbol)?,
            Record::Action(a) => self.symbol(f, &a.symbol)?,
            Record::Estimate(e) => self.company(f, 0, &e.company_id)?,
            Record::InsiderTrade(t) => self.company(f, 0, &t.company_id)?,
            Record::Ownership(o) => self.company(f, 0, &o.company_id)?,
            Record::Rate(_) | Record::Fx(_) => {}
        }
        Ok(record)
    }

    fn unique(&mut self, f: &Fields<'_>, column: usize, key: String) -> Result<(), CellError> {
        if self.seen.insert(key) {
            Ok(())
        } else {
            Err(f.bad(column, "a new key: the file has this row already", "Remove one of the two rows."))
        }
    }

    fn company(&self, f: &Fields<'_>, column: usize, id: &Arc<str>) -> Result<(), CellError> {
        if self.known.companies.contains(id) {
            return Ok(());
        }
        Err(f.bad(column, "the key of a known company", "Add the company to companies.csv, or correct the key."))
    }

    fn symbol(&self, f: &Fields<'_>, symbol: &Arc<str>) -> Result<(), CellError> {
        if self.known.symbols.contains(symbol) {
            return Ok(());
        }
        Err(f.bad(0, "the symbol of a known listing", "Add the listing to listings.csv, or correct the symbol."))
    }

    fn refuse(&mut self, table: Table, file: &str, line: u64, cell: CellError) {
        self.report.bad_rows += 1;
        if self.report.bad.len() < MAX_REPORTED {
            self.report.bad.push(BadCell {
                file: file.to_owned(),
                line,
                column: columns(table)[cell.column].to_owned(),
                value: cell.value,
                expected: cell.expected,
                remedy: cell.remedy.to_owned(),
            });
        }
    }
}

fn csv_error(file: &str, error: &csv::Error) -> ReadError {
    let line = error.position().map_or(0, csv::Position::line);
    ReadError::Csv { file: file.to_owned(), line, problem: error.to_string() }
}

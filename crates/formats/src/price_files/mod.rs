//! Files of prices that belong together: one a symbol or one a day, in a folder or a zip. What a row does not say its file's name does.

mod shape;

pub use shape::looks_like_prices;

use crate::{
    BadCell, Progress, ReadError, ReadNote, ReadReport, Reading,
    archive::Archive,
    filings::{file_name, file_size},
    mapped_table::{FixedCell, Mapping, Sample, each_row},
    reading::Take,
    table_rows::TableFile,
};
use artemon_core::domain::{Bar, Record, Table};
use serde::{Deserialize, Serialize};
use shape::{Shape, day_in, shape};
use std::{
    collections::{BTreeMap, HashMap},
    io::{self, Write},
    path::PathBuf,
    sync::Arc,
};

/// What to do about a day that a file has twice.
const REMEDY: &str = "Keep the right row of the day, or skip bad rows: then the day is left out.";

/// Files of prices.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum PriceFiles {
    /// Of a folder.
    Files(Vec<PathBuf>),
    /// In a zip.
    Zip(PathBuf),
}

/// What a person says of files of prices.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PriceAnswers {
    /// Prices are divided by these, by the names of files: 100 for prices in minor units.
    #[serde(default)]
    pub divide: BTreeMap<String, f64>,
}

/// Listings as files of prices name them.
pub trait Listings {
    /// The symbol of a listing by its symbol, with or without its market, or by its ISIN, in any case.
    fn symbol(&self, key: &str) -> Option<Arc<str>>;
}

/// Reads the files by name.
///
/// # Errors
/// A file that cannot be read or whose dates can be read in two ways; a reading that refuses a row or ends it.
pub fn read(
    files: &PriceFiles,
    answers: &PriceAnswers,
    listings: &dyn Listings,
    reading: &mut dyn Reading,
) -> Result<ReadReport, ReadError> {
    let mut run = Run { answers, listings, take: Take::new(reading), rows: 0, unknown: BTreeMap::new() };
    run.take.progress = Progress { table: Table::Prices, ..run.take.progress };
    match files {
        PriceFiles::Files(paths) => {
            let mut paths = paths.clone();
            paths.sort();
            run.take.progress.bytes_in_all = paths.iter().map(|p| file_size(p)).sum();
            for path in paths {
                run.file(&file_name(&path), &TableFile::of(&path))?;
                run.done(file_size(&path))?;
            }
            run.end("price files")
        }
        PriceFiles::Zip(path) => {
            let mut archive = Archive::open(path)?;
            let mut names: Vec<String> = archive.names().iter().filter(|n| !n.ends_with('/')).cloned().collect();
            names.sort();
            run.take.progress.bytes_in_all = names.iter().map(|n| archive.sizes(n).1).sum();
            for name in names {
                let (last, io) = (name.rsplit('/').next().unwrap_or(&name), |source| ReadError::Io { file: name.clone(), source });
                let mut unpacked = tempfile::NamedTempFile::new().map_err(io)?;
                if let Some(mut entry) = archive.entry(&name)? {
                    io::copy(&mut entry, &mut unpacked).and_then(|_| unpacked.flush()).map_err(io)?;
                }
                run.file(last, &TableFile::of(unpacked.path()))?;
                run.done(archive.sizes(&name).1)?;
            }
            run.end(&file_name(path))
        }
    }
}

struct Run<'r> {
    answers: &'r PriceAnswers,
    listings: &'r dyn Listings,
    take: Take<'r>,
    rows: u64,
    /// Rows of symbols that are no listing's, in files of a day.
    unknown: BTreeMap<String, u64>,
}

/// A row of a file before days are compared.
struct Found {
    symbol: Arc<str>,
    bar: Bar,
    line: u64,
}

impl Run<'_> {
    fn note(&mut self, file: &str, what: &str, count: u64, detail: &str) {
        if count > 0 {
            self.take.report.note(ReadNote { file: file.to_owned(), what: what.to_owned(), count, detail: detail.to_owned() });
        }
    }

    fn done(&mut self, size: u64) -> Result<(), ReadError> {
        self.take.finished_file(size);
        self.take.tell()
    }

    fn end(mut self, files: &str) -> Result<ReadReport, ReadError> {
        for (symbol, rows) in std::mem::take(&mut self.unknown) {
            self.note(files, "unknown symbol", rows, &symbol);
        }
        self.take.report.rows.push((Table::Prices, self.rows));
        Ok(self.take.report)
    }

    fn file(&mut self, name: &str, table: &TableFile) -> Result<(), ReadError> {
        let stem = name.rsplit_once('.').map_or(name, |(stem, _)| stem);
        let sample = match Sample::of_table(table) {
            Ok(sample) => sample,
            Err(e @ ReadError::Io { .. }) => return Err(e),
            Err(_) => {
                self.note(name, "not a price file", 1, "");
                return Ok(());
            }
        };
        let mut mapping = match shape(&sample, stem) {
            Shape::None => {
                self.note(name, "not a price file", 1, "");
                return Ok(());
            }
            Shape::AdjustedOnly(header) => {
                self.note(name, "only adjusted closes", 1, &header);
                return Ok(());
            }
            Shape::OfSymbol(mut mapping) => {
                let Some(symbol) = self.listings.symbol(stem) else {
                    self.note(name, "unknown symbol", 1, stem);
                    return Ok(());
                };
                mapping.fixed.push(FixedCell { column: "symbol".to_owned(), value: symbol.to_string() });
                mapping
            }
            Shape::OfDay(mapping) | Shape::OfBoth(mapping) => mapping,
        };
        self.divide(name, &mut mapping);
        let found = self.rows(name, stem, table, &mapping)?;
        self.take_days(name, found)
    }

    fn divide(&self, name: &str, mapping: &mut Mapping) {
        let divide = self.answers.divide.get(name).or_else(|| self.answers.divide.get("*")).copied().unwrap_or(1.0);
        for column in mapping.columns.iter_mut().filter(|c| matches!(c.column.as_str(), "open" | "high" | "low" | "close")) {
            column.divide = divide;
        }
    }

    fn rows(&mut self, name: &str, stem: &str, table: &TableFile, mapping: &Mapping) -> Result<Vec<Found>, ReadError> {
        let named = day_in(stem);
        let (mut found, mut not_traded) = (Vec::new(), 0);
        let (listings, unknown, take) = (self.listings, &mut self.unknown, &mut self.take);
        let mut known: HashMap<Arc<str>, Option<Arc<str>>> = HashMap::new();
        let mut report = each_row(table, mapping, |place, row| match row {
            Ok(Record::Price { symbol, bar }) => {
                if let Some(day) = named.filter(|day| *day != bar.date) {
                    let (value, expected) = (bar.date.to_string(), format!("the day of the file's name, {day}"));
                    take.bad(BadCell::at(name, place.line, "date", &value, &expected, "Rename the file, or correct the date."));
                    return;
                }
                match known.entry(symbol.clone()).or_insert_with(|| listings.symbol(&symbol)) {
                    Some(symbol) => {
                        not_traded += u64::from(bar.volume == 0.0 && bar.open.is_nan());
                        found.push(Found { symbol: symbol.clone(), bar, line: place.line });
                    }
                    None => *unknown.entry(symbol.to_string()).or_default() += 1,
                }
            }
            Ok(_) => {}
            Err(bad) => take.bad(BadCell { file: name.to_owned(), ..bad }),
        })?;
        report.kept_out.iter_mut().for_each(|column| *column = column.replacen(&table.name(), name, 1));
        report.notes.iter_mut().for_each(|note| name.clone_into(&mut note.file));
        self.take.report.add(report);
        self.note(name, "day without trading", not_traded, "");
        Ok(found)
    }

    /// Of a day twice the rows count once where they are equal; where they differ none does.
    fn take_days(&mut self, name: &str, mut found: Vec<Found>) -> Result<(), ReadError> {
        found.sort_by(|a, b| (&a.symbol, a.bar.date, a.line).cmp(&(&b.symbol, b.bar.date, b.line)));
        let mut repeated = 0;
        for same in found.chunk_by(|a, b| a.symbol == b.symbol && a.bar.date == b.bar.date) {
            if same.iter().all(|f| equal(&f.bar, &same[0].bar)) {
                repeated += same.len() as u64 - 1;
                self.rows += 1;
                let now = self.take.progress;
                self.take.good(Record::Price { symbol: same[0].symbol.clone(), bar: same[0].bar }, now)?;
                continue;
            }
            for row in same {
                let value = row.bar.date.to_string();
                self.take.bad(BadCell::at(name, row.line, "date", &value, "one row for a day: others of it differ", REMEDY));
            }
        }
        self.note(name, "repeated row", repeated, "");
        Ok(())
    }
}

/// Whether two bars say the same, what is not known among it.
fn equal(a: &Bar, b: &Bar) -> bool {
    let bits = |b: &Bar| [b.open, b.high, b.low, b.close, b.volume].map(f64::to_bits);
    bits(a) == bits(b)
}

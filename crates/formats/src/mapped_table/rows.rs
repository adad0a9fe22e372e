//! The rows of a file, brought into the dataset's form one by one.

use super::{
    convert,
    mapping::{DateOrder, Dated, DecimalMark, Mapping},
    sample::texts,
    wide::dated,
};
use crate::{
    filings::file_name,
    problem::{BadCell, ReadError, ReadNote, ReadReport},
    table_rows::{Place, TableFile, TableRows},
    tables::{CellError, CellKind, columns},
};
use artemon_core::domain::{Day, Table};
use csv::ByteRecord;
use rust_decimal::Decimal;
use std::collections::VecDeque;

/// Rows among which the header is looked for.
const HEADER_WITHIN: usize = 200;
/// Rows that a note names.
const NAMED: usize = 20;

/// A mapped file while it is read.
pub(super) struct Rows<'m> {
    table: &'m TableFile,
    pub(super) mapping: &'m Mapping,
    pub(super) file: String,
    pub(super) headers: Vec<String>,
    pub(super) source: Box<dyn TableRows>,
    pub(super) record: ByteRecord,
    pub(super) typed: Vec<bool>,
    /// The row with all columns of the table.
    pub(super) mapped: ByteRecord,
    /// Where each column of the table comes from.
    pub(super) sources: Vec<From>,
    /// How many columns of the file are used.
    used: usize,
    /// The column of the file that holds the value of a row that was spread.
    pub(super) value_at: Option<usize>,
    /// The row that is spread, and the place of its next column of values.
    pub(super) spread: Option<(Place, usize)>,
    /// Levels of which the changes are taken, by column: month, level, place.
    pub(super) levels: Vec<Vec<(i32, Decimal, Place)>>,
    /// Rows that wait to be given.
    pub(super) waiting: VecDeque<(Place, ByteRecord)>,
    /// Rows with at most one cell.
    left_out: Vec<u64>,
    pub(super) not_known: u64,
    pub(super) bad: Vec<BadCell>,
}

/// Where a column of the table comes from.
pub(super) enum From {
    Nowhere,
    Fixed(String),
    Column { place: usize, kind: CellKind, divide: f64 },
}

impl<'m> Rows<'m> {
    pub(super) fn open(table: &'m TableFile, mapping: &'m Mapping) -> Result<Rows<'m>, ReadError> {
        let file = table.name();
        let mut source = table.rows(u8::try_from(mapping.delimiter).unwrap_or(b','))?;
        let (mut record, mut typed) = (ByteRecord::new(), Vec::new());
        let (mut headers, mut first) = (Vec::new(), None);
        for _ in 0..HEADER_WITHIN {
            if source.next(&mut record, &mut typed)?.is_none() {
                break;
            }
            let row = texts(&record);
            first.get_or_insert_with(|| row.clone());
            if mapping.sources().all(|from| row.iter().any(|cell| cell == from)) {
                headers = row;
                break;
            }
        }
        let headers = if headers.is_empty() { first.unwrap_or_default() } else { headers };
        mapping.check(&headers).map_err(|problem| ReadError::Table { file: file.clone(), problem })?;
        let mut sources: Vec<From> = columns(mapping.table).iter().map(|c| source_of(mapping, &headers, c.name)).collect();
        // Where statements do not say what they are from, they are from the file.
        let source_at = columns(mapping.table).iter().position(|c| mapping.table == Table::Statements && c.name == "source");
        if let Some(nowhere) = source_at.map(|at| &mut sources[at]).filter(|s| matches!(s, From::Nowhere)) {
            *nowhere = From::Fixed(file_name(&table.path));
        }
        let used = mapping.columns.len();
        let levels = vec![Vec::new(); mapping.wide.as_ref().map_or(0, |w| w.columns.len())];
        Ok(Rows {
            table,
            mapping,
            file,
            headers,
            source,
            record,
            typed,
            mapped: ByteRecord::new(),
            sources,
            used,
            value_at: None,
            spread: None,
            levels,
            waiting: VecDeque::new(),
            left_out: Vec::new(),
            not_known: 0,
            bad: Vec::new(),
        })
    }

    /// Every column of the table stands at its own place.
    pub(super) fn places(&self) -> Vec<Option<usize>> {
        (0..self.sources.len()).map(Some).collect()
    }

    /// The place of the next row, which then stands in `mapped`.
    pub(super) fn next(&mut self) -> Result<Option<Place>, ReadError> {
        loop {
            if let Some((place, row)) = self.waiting.pop_front() {
                self.mapped = row;
                return Ok(Some(place));
            }
            if let Some(place) = self.spread()? {
                return Ok(Some(place));
            }
            let Some(place) = self.source.next(&mut self.record, &mut self.typed)? else {
                if self.levels.iter().all(Vec::is_empty) {
                    return Ok(None);
                }
                self.changes();
                continue;
            };
            if let Some(turned) = &self.mapping.turned {
                self.turn(turned, place)?;
                continue;
            }
            if self.is_left_out(place) {
                continue;
            }
            self.map();
            match &self.mapping.wide {
                None => return Ok(Some(place)),
                Some(_) => self.spread = Some((place, 0)),
            }
        }
    }

    /// Rows of which at most one cell is used say nothing; empty ones need no word.
    fn is_left_out(&mut self, place: Place) -> bool {
        let cell = |from: &From| match from {
            From::Column { place, .. } => self.record.get(*place).is_some_and(|c| !c.trim_ascii().is_empty()),
            _ => false,
        };
        let mut filled = self.sources.iter().filter(|from| cell(from)).count();
        if self.used < 2 && self.mapping.wide.is_none() {
            filled *= 2;
        }
        if self.mapping.wide.is_some() {
            return filled == 0;
        }
        if filled == 1 {
            self.left_out.push(place.line);
        }
        filled < 2
    }

    fn map(&mut self) {
        self.mapped.clear();
        for source in &self.sources {
            match source {
                From::Nowhere => self.mapped.push_field(b""),
                From::Fixed(value) => self.mapped.push_field(value.as_bytes()),
                From::Column { place, kind, divide } => {
                    let cell = self.record.get(*place).unwrap_or_default();
                    let typed = self.typed.get(*place).copied().unwrap_or(false);
                    match converted(cell, *kind, *divide, typed, self.mapping) {
                        Some(text) => self.mapped.push_field(text.as_bytes()),
                        None => self.mapped.push_field(cell),
                    }
                }
            }
        }
    }

    pub(super) fn header(&self, source: usize) -> String {
        self.headers.get(source).cloned().unwrap_or_default()
    }

    /// A cell that cannot be taken as the file calls and writes it.
    pub(super) fn bad_cell(&self, place: Place, cell: CellError) -> BadCell {
        let name = columns(self.mapping.table)[cell.column].name;
        let (column, value) = self.original(cell.column, place.line).unwrap_or_else(|| (name.to_owned(), cell.value.clone()));
        BadCell { value, column, ..BadCell::of(&self.file, place.line, "", cell) }
    }

    /// Header and cell of the file behind a column of the table.
    fn original(&self, column: usize, line: u64) -> Option<(String, String)> {
        let is_value = self.mapping.wide.as_ref().is_some_and(|w| w.value == columns(self.mapping.table)[column].name);
        let place = match &self.sources[column] {
            From::Column { place, .. } => place,
            _ => self.value_at.as_ref().filter(|_| is_value)?,
        };
        let cell = std::str::from_utf8(self.record.get(*place)?).ok()?;
        let header = self.header(*place);
        Some((self.table.cell(line, *place).map_or_else(|| header.clone(), |name| format!("{header} ({name})")), cell.to_owned()))
    }

    /// What a person should know of the file.
    pub(super) fn report(&self, report: &mut ReadReport) {
        let used: Vec<&str> = self.mapping.sources().collect();
        let unused = self.headers.iter().filter(|h| !h.is_empty() && !used.contains(&h.as_str()));
        report.kept_out = unused.map(|h| format!("{}: column {h}", self.file)).collect();
        let note = |what: &str, count: u64, detail: String| ReadNote { file: self.file.clone(), what: what.to_owned(), count, detail };
        if !self.left_out.is_empty() {
            let lines: Vec<String> = self.left_out.iter().take(NAMED).map(u64::to_string).collect();
            let more = if self.left_out.len() > NAMED { ", …" } else { "" };
            report.note(note("row with one cell", self.left_out.len() as u64, format!("line {}{more}", lines.join(", "))));
        }
        if self.not_known > 0 {
            report.note(note("not known", self.not_known, String::new()));
        }
        if let Some(remark) = self.source.remark() {
            report.note(note(&remark, 1, String::new()));
        }
    }
}

fn source_of(mapping: &Mapping, headers: &[String], column: &str) -> From {
    if let Some(fixed) = mapping.fixed.iter().find(|f| f.column == column) {
        return From::Fixed(fixed.value.clone());
    }
    let Some(mapped) = mapping.columns.iter().find(|c| c.column == column) else { return From::Nowhere };
    let place = headers.iter().position(|h| *h == mapped.from);
    place.map_or(From::Nowhere, |place| From::Column { place, kind: mapping.kind(column), divide: mapped.divide })
}

/// The cell in the dataset's form; `None` when it stays as it is.
pub(super) fn converted(cell: &[u8], kind: CellKind, divide: f64, typed: bool, mapping: &Mapping) -> Option<String> {
    let text = std::str::from_utf8(cell).ok()?.trim();
    match kind {
        _ if text.is_empty() => None,
        CellKind::Number if text == "-" => Some(String::new()),
        // A number is written in the dataset's form already, whatever the texts beside it look like.
        CellKind::Number if typed => convert::number(text, DecimalMark::Point, divide),
        CellKind::Number => convert::number(text, mapping.decimal, divide),
        CellKind::Date if typed && text.parse::<Day>().is_ok() => of_day(text.parse().ok()?, mapping),
        // A plain number is no date, however it may be counted.
        CellKind::Date if typed => None,
        CellKind::Date => day(text, mapping),
        CellKind::Flag => convert::flag(text),
        CellKind::Text | CellKind::Whole | CellKind::Moment => None,
    }
}

fn day(text: &str, mapping: &Mapping) -> Option<String> {
    let is_of_months = mapping.wide.as_ref().is_some_and(|w| w.dated != Dated::Day);
    let order = if mapping.dates == DateOrder::Ask { DateOrder::YearMonthDay } else { mapping.dates };
    let day = convert::day(text, order).or_else(|| convert::month_end(text).filter(|_| is_of_months))?;
    of_day(day, mapping)
}

fn of_day(day: Day, mapping: &Mapping) -> Option<String> {
    Some(dated(day, mapping.wide.as_ref().map_or(Dated::Day, |w| w.dated)).to_string())
}

//! Reads a mapped table.

use super::{
    convert,
    mapping::{DateOrder, Dated, Mapping, Turned, Wide},
    sample::texts,
};
use crate::{
    filings::file_name,
    parquet_table::read_prices,
    problem::{BadCell, ReadError, ReadNote, ReadReport},
    reading::{Progress, Reading, Take},
    table_rows::{Place, TableFile, TableRows},
    tables::{CellError, CellKind, Checker, Fields, Known, columns, parse},
};
use artemon_core::domain::{Day, Record, Table};
use csv::ByteRecord;
use rust_decimal::{Decimal, RoundingStrategy};
use serde::Serialize;
use std::{collections::VecDeque, sync::Arc};
use utoipa::ToSchema;

/// Rows among which the header is looked for.
const HEADER_WITHIN: usize = 200;
/// Rows that a note names.
const NAMED: usize = 20;
/// How files of rates write that a value is not known.
const NOT_KNOWN: [&str; 6] = ["N/A", "NA", "n/a", "NaN", "-", "."];

/// Reads one table from a file; every good row goes to the reading, bad ones into the report. Rows may refer to the keys
/// in `known`, to which those of the file are added.
///
/// # Errors
/// When the file as a whole cannot be read or mapped, or the reading refuses a row or is cancelled.
pub fn read(table: &TableFile, mapping: &Mapping, known: &mut Known, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    if mapping.is_as_it_is(Table::Prices)
        && table.is_parquet()
        && let Some(report) = read_prices(&table.path, known, reading)?
    {
        return Ok(report);
    }
    let mut rows = Rows::open(table, mapping)?;
    let mut take = Take::new(reading);
    take.progress.bytes_in_all = std::fs::metadata(&table.path).map_or(0, |m| m.len());
    let (mut checker, places, mut symbol, mut good) = (Checker::new(std::mem::take(known)), rows.places(), Arc::from(""), 0);
    while let Some(place) = rows.next()? {
        let fields = Fields { record: &rows.mapped, places: &places };
        match parse(mapping.table, &fields, &mut symbol).and_then(|row| checker.check(&fields, &row).map(|()| row)) {
            Ok(row) => {
                good += 1;
                take.good(row, Progress { table: mapping.table, ..take.progress.at(place.byte) })?;
            }
            Err(cell) => take.bad(rows.bad_cell(place, cell)),
        }
    }
    for bad in std::mem::take(&mut rows.bad) {
        take.bad(bad);
    }
    rows.report(&mut take.report);
    take.report.rows.push((mapping.table, good));
    let (keys, odd_codes) = checker.end();
    (*known, take.report.odd_codes) = (keys, odd_codes);
    Ok(take.report)
}

/// Gives each row of a table without comparing it with others; what else a person should know is in the report.
///
/// # Errors
/// When the file as a whole cannot be read or mapped.
pub(crate) fn each_row(
    table: &TableFile,
    mapping: &Mapping,
    mut take: impl FnMut(Place, Result<Record, BadCell>),
) -> Result<ReadReport, ReadError> {
    let mut rows = Rows::open(table, mapping)?;
    let (places, mut symbol) = (rows.places(), Arc::from(""));
    while let Some(place) = rows.next()? {
        let parsed = parse(mapping.table, &Fields { record: &rows.mapped, places: &places }, &mut symbol);
        take(place, parsed.map_err(|cell| rows.bad_cell(place, cell)));
    }
    let mut report = ReadReport::default();
    rows.report(&mut report);
    Ok(report)
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
pub fn preview(table: &TableFile, mapping: &Mapping, most: usize) -> Result<Vec<PreviewRow>, ReadError> {
    let mut rows = Rows::open(table, mapping)?;
    let (places, mut symbol, mut out) = (rows.places(), Arc::from(""), Vec::new());
    while out.len() < most {
        let Some(place) = rows.next()? else { break };
        let fields = Fields { record: &rows.mapped, places: &places };
        let problem = parse(mapping.table, &fields, &mut symbol).err().map(|cell| {
            let column = columns(mapping.table)[cell.column].name;
            format!("{column} is not {}. {}", cell.expected, cell.remedy)
        });
        let cells = rows.mapped.iter().map(|c| String::from_utf8_lossy(c).into_owned()).collect();
        out.push(PreviewRow { line: place.line, cells, problem });
    }
    Ok(out)
}

/// The rows of a file, brought into the dataset's form one by one.
struct Rows<'m> {
    table: &'m TableFile,
    mapping: &'m Mapping,
    file: String,
    headers: Vec<String>,
    source: Box<dyn TableRows>,
    record: ByteRecord,
    typed: Vec<bool>,
    /// The row with all columns of the table.
    mapped: ByteRecord,
    /// Where each column of the table comes from.
    sources: Vec<From>,
    /// How many columns of the file are used.
    used: usize,
    /// The row that is spread, and the place of its next column of values.
    spread: Option<(Place, usize)>,
    /// Levels of which the changes are taken, by column: month, level, place.
    levels: Vec<Vec<(i32, Decimal, Place)>>,
    /// Rows that wait to be given.
    waiting: VecDeque<(Place, ByteRecord)>,
    /// Rows with at most one cell.
    left_out: Vec<u64>,
    not_known: u64,
    bad: Vec<BadCell>,
}

enum From {
    Nowhere,
    Fixed(String),
    Column { place: usize, kind: CellKind, divide: f64 },
}

impl<'m> Rows<'m> {
    fn open(table: &'m TableFile, mapping: &'m Mapping) -> Result<Rows<'m>, ReadError> {
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
            spread: None,
            levels,
            waiting: VecDeque::new(),
            left_out: Vec::new(),
            not_known: 0,
            bad: Vec::new(),
        })
    }

    /// Every column of the table stands at its own place.
    fn places(&self) -> Vec<Option<usize>> {
        (0..self.sources.len()).map(Some).collect()
    }

    /// The place of the next row, which then stands in `mapped`.
    fn next(&mut self) -> Result<Option<Place>, ReadError> {
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

    /// Takes all rows of a table that is turned on its side; each of its columns with a value makes a row, which then waits.
    fn turn(&mut self, turned: &Turned, first: Place) -> Result<(), ReadError> {
        let table = columns(self.mapping.table);
        let at = |header: &str| self.headers.iter().position(|h| h == header).unwrap_or(usize::MAX);
        let labels = at(&turned.labels);
        let places: Vec<usize> = turned.columns.iter().map(|c| at(&c.from)).collect();
        let mut values: Vec<Vec<Option<String>>> = vec![vec![None; table.len()]; places.len()];
        let mut next = Some(first);
        while next.is_some() {
            let row = texts(&self.record);
            let label = row.get(labels).map_or("", String::as_str);
            let of_label = turned.rows.iter().filter(|r| !label.is_empty() && r.label == label);
            for (taken, column) in of_label.filter_map(|r| Some((r, table.iter().position(|c| c.name == r.column)?))) {
                for (place, values) in places.iter().zip(&mut values) {
                    let cell = row.get(*place).map_or("", String::as_str);
                    if !cell.is_empty() && cell != "-" {
                        let typed = self.typed.get(*place).copied().unwrap_or(false);
                        values[column] = Some(self.turned_cell(cell, taken.divide, typed));
                    }
                }
            }
            next = self.source.next(&mut self.record, &mut self.typed)?;
        }
        for (column, values) in turned.columns.iter().zip(values).filter(|(_, values)| values.iter().any(Option::is_some)) {
            let fixed = |name: &str| column.fixed.iter().find(|f| f.column == name).map(|f| f.value.clone());
            let cell = |(i, value): (usize, Option<String>)| {
                let everywhere = if let From::Fixed(value) = &self.sources[i] { Some(value.clone()) } else { None };
                value.or_else(|| fixed(table[i].name)).or(everywhere).unwrap_or_default()
            };
            let row: Vec<String> = values.into_iter().enumerate().map(cell).collect();
            self.waiting.push_back((first, ByteRecord::from(row)));
        }
        Ok(())
    }

    /// A value of a turned table in the dataset's form, its sign turned over where it counts the other way; as it stands where it is none.
    fn turned_cell(&self, cell: &str, divide: f64, typed: bool) -> String {
        let number = converted(cell.as_bytes(), CellKind::Number, divide.abs(), typed, self.mapping);
        match number {
            None => cell.to_owned(),
            Some(number) if divide > 0.0 => number,
            Some(number) => number.strip_prefix('-').map_or_else(|| format!("-{number}"), str::to_owned),
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

    /// The next filled column of values of the row that is spread.
    fn spread(&mut self) -> Result<Option<Place>, ReadError> {
        let (Some(wide), Some((place, mut at))) = (&self.mapping.wide, self.spread.take()) else { return Ok(None) };
        while let Some(column) = wide.columns.get(at) {
            at += 1;
            let source = self.headers.iter().position(|h| *h == column.from).unwrap_or(usize::MAX);
            let cell = String::from_utf8_lossy(self.record.get(source).unwrap_or_default()).trim().to_owned();
            if cell.is_empty() || NOT_KNOWN.contains(&cell.as_str()) {
                self.not_known += 1;
                continue;
            }
            let typed = self.typed.get(source).copied().unwrap_or(false);
            let converted = converted(cell.as_bytes(), CellKind::Number, wide.divide, typed, self.mapping);
            if wide.yearly_change {
                self.level(at - 1, source, place, &cell, converted);
                continue;
            }
            let row = self.of_value(wide, at - 1, &converted.unwrap_or(cell));
            self.mapped = row;
            self.spread = Some((place, at));
            return Ok(Some(place));
        }
        Ok(None)
    }

    /// The row of one value.
    fn of_value(&self, wide: &Wide, at: usize, value: &str) -> ByteRecord {
        let table = columns(self.mapping.table);
        let fixed = |name: &str| wide.columns[at].fixed.iter().find(|f| f.column == name).map(|f| f.value.as_bytes());
        let cells = table
            .iter()
            .zip(&self.mapped)
            .map(|(column, cell)| if column.name == wide.value { value.as_bytes() } else { fixed(column.name).unwrap_or(cell) });
        cells.collect()
    }

    /// Keeps a level of a price index by its month.
    fn level(&mut self, at: usize, source: usize, place: Place, cell: &str, converted: Option<String>) {
        let date = columns(self.mapping.table).iter().position(|c| c.name == "date").and_then(|i| self.mapped.get(i));
        let month = date.and_then(|d| std::str::from_utf8(d).ok()?.parse::<Day>().ok());
        // The written month, whatever its values are dated by.
        let back = if self.mapping.wide.as_ref().is_some_and(|w| w.dated == Dated::NextMonthEnd) { -1 } else { 0 };
        match (month, converted.and_then(|c| c.parse::<Decimal>().ok())) {
            (Some(month), Some(level)) => self.levels[at].push((month.month_index() + back, level, place)),
            _ => self.bad.push(BadCell::at(&self.file, place.line, &self.header(source), cell, "a level of its month", WHAT_TO_DO)),
        }
    }

    /// The changes over twelve months of all levels.
    fn changes(&mut self) {
        let Some(wide) = &self.mapping.wide else { return };
        let date = columns(self.mapping.table).iter().position(|c| c.name == "date");
        for at in 0..self.levels.len() {
            let mut levels = std::mem::take(&mut self.levels[at]);
            levels.sort_by_key(|l| l.0);
            for (month, level, place) in &levels {
                let before = levels.binary_search_by_key(&(month - 12), |l| l.0).ok().map(|i| levels[i].1);
                let Some(before) = before.filter(|b| *b > Decimal::ZERO && *level > Decimal::ZERO) else { continue };
                let change = (level / before - Decimal::ONE).round_dp_with_strategy(6, RoundingStrategy::MidpointNearestEven);
                let day = dated(month_start(*month), wide.dated);
                let row = self.of_value(wide, at, &change.normalize().to_string());
                let row = row.iter().enumerate().map(|(i, c)| if Some(i) == date { day.to_string().into_bytes() } else { c.to_owned() });
                self.waiting.push_back((*place, row.collect()));
            }
        }
    }

    fn header(&self, source: usize) -> String {
        self.headers.get(source).cloned().unwrap_or_default()
    }

    /// A cell that cannot be taken as the file calls and writes it.
    fn bad_cell(&self, place: Place, cell: CellError) -> BadCell {
        let name = columns(self.mapping.table)[cell.column].name;
        let (column, value) = self.original(cell.column, place.line).unwrap_or_else(|| (name.to_owned(), cell.value.clone()));
        BadCell { value, column, ..BadCell::of(&self.file, place.line, "", cell) }
    }

    /// Header and cell of the file behind a column of the table.
    fn original(&self, column: usize, line: u64) -> Option<(String, String)> {
        let From::Column { place, .. } = &self.sources[column] else { return None };
        let cell = std::str::from_utf8(self.record.get(*place)?).ok()?;
        let header = self.header(*place);
        Some((self.table.cell(line, *place).map_or_else(|| header.clone(), |name| format!("{header} ({name})")), cell.to_owned()))
    }

    /// What a person should know of the file.
    fn report(&self, report: &mut ReadReport) {
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

const WHAT_TO_DO: &str = "Correct the cell, or leave it empty.";

fn month_start(index: i32) -> Day {
    Day::from_ymd(index.div_euclid(12), u32::try_from(index.rem_euclid(12) + 1).unwrap_or(1), 1).unwrap_or(Day::MIN)
}

/// The day by which a value is known.
fn dated(day: Day, how: Dated) -> Day {
    match how {
        Dated::Day => day,
        Dated::MonthEnd => day.month_end(),
        Dated::NextMonthEnd => day.month_start().plus_months(1).month_end(),
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
fn converted(cell: &[u8], kind: CellKind, divide: f64, typed: bool, mapping: &Mapping) -> Option<String> {
    let text = std::str::from_utf8(cell).ok()?.trim();
    match kind {
        _ if text.is_empty() => None,
        CellKind::Number if text == "-" => Some(String::new()),
        // A number is written in the dataset's form already, whatever the texts beside it look like.
        CellKind::Number if typed => convert::number(text, super::DecimalMark::Point, divide),
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

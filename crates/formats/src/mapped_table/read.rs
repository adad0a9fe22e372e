//! Reads a mapped table.

use super::{mapping::Mapping, rows::Rows};
use crate::{
    filings::file_size,
    parquet_table::read_prices,
    problem::{BadCell, ReadError, ReadReport},
    reading::{Progress, Reading, Take},
    table_rows::{Place, TableFile},
    tables::{Checker, Fields, Known, columns, parse},
};
use artemon_core::domain::{Record, Table};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

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
    take.progress.bytes_in_all = file_size(&table.path);
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

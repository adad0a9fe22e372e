//! Reports → rows of statements.

use super::{ITEM, NAMESPACE, ROW, ROWS};
use crate::{
    BadCell, Known, Progress, ReadError, ReadReport, Reading,
    filings::{LARGEST, LONGEST_PROBLEM, file_name, file_size},
    reading::Take,
    tables::{Checker, Fields, columns, parse},
    text::{decode, is_object, shortened},
    xbrl_json::json_problem,
};
use artemon_core::domain::{Item, Table};
use csv::ByteRecord;
use serde_json::{Map, Value};
use std::{
    collections::BTreeMap,
    fs,
    path::{Path, PathBuf},
    sync::Arc,
};

/// Whether the head of a text is that of such a report.
pub(crate) fn is_report(head: &str) -> bool {
    is_object(head) && head.contains("\"documentInfo\"") && head.contains(NAMESPACE) && head.contains(ROWS)
}

/// Reads reports; what they say of a company is checked as rows of any table are.
///
/// # Errors
/// A file that cannot be read; a fact of no row or of no item; a reading that refuses a row or ends it.
pub fn read(paths: &[PathBuf], known: &mut Known, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let (mut take, mut checker) = (Take::new(reading), Checker::new(std::mem::take(known)));
    take.progress = Progress { table: Table::Statements, bytes_in_all: paths.iter().map(|path| file_size(path)).sum(), ..take.progress };
    let places: Vec<Option<usize>> = (0..columns(Table::Statements).len()).map(Some).collect();
    let (mut good, mut symbol) = (0, Arc::from(""));
    for path in paths {
        let file = file_name(path);
        for (name, record) in rows_of(path, &file)? {
            let fields = Fields { record: &record, places: &places };
            match parse(Table::Statements, &fields, &mut symbol).and_then(|row| checker.check(&fields, &row).map(|()| row)) {
                Ok(row) => {
                    good += 1;
                    let now = take.progress;
                    take.good(row, now)?;
                }
                Err(cell) => {
                    let column = format!("{name}.{}", columns(Table::Statements)[cell.column].name);
                    take.bad(BadCell { column, ..BadCell::of(&file, 0, "", cell) });
                }
            }
        }
        take.finished_file(file_size(path));
        take.tell()?;
    }
    take.report.rows.push((Table::Statements, good));
    (*known, take.report.odd_codes) = checker.end();
    Ok(take.report)
}

fn rows_of(path: &Path, file: &str) -> Result<Vec<(String, ByteRecord)>, ReadError> {
    let unusable = |problem: String| ReadError::Filing { file: file.to_owned(), problem: shortened(&problem, LONGEST_PROBLEM) };
    if file_size(path) > LARGEST {
        return Err(unusable(format!("it is larger than {} MB, as no filing is", LARGEST >> 20)));
    }
    let bytes = fs::read(path).map_err(|source| ReadError::Io { file: file.to_owned(), source })?;
    let text = decode(&bytes).map_err(unusable)?;
    let report: Map<String, Value> = serde_json::from_str(&text).map_err(|e| unusable(json_problem(&e)))?;
    rows(&report).map_err(unusable)
}

/// The rows with their cells, in the order of their names.
fn rows(report: &Map<String, Value>) -> Result<Vec<(String, ByteRecord)>, String> {
    let part = |name: &str| report.get(name).and_then(Value::as_object).ok_or_else(|| format!("it has no {name}"));
    let said = part("documentInfo")?.get(ROWS).and_then(Value::as_object).ok_or_else(|| format!("its head has no {ROWS}"))?;
    let mut items: BTreeMap<(&str, Item), String> = BTreeMap::new();
    for (id, fact) in part("facts")? {
        let property = |name: &str| fact.get(name).and_then(Value::as_str);
        // What others added is no figure of the dataset.
        let Some(row) = property(ROW) else { continue };
        let item = property(ITEM).and_then(|code| code.parse().ok()).ok_or_else(|| format!("fact {id} has no {ITEM} that is known"))?;
        if !said.contains_key(row) {
            return Err(format!("fact {id} is of the row \"{row}\", which the head does not have"));
        }
        items.insert((row, item), cell(fact.get("value")));
    }
    let row = |(name, keys): (&String, &Value)| {
        let of = |column: &str| match column.parse() {
            Ok(item) => items.get(&(name.as_str(), item)).cloned().unwrap_or_default(),
            Err(_) => cell(keys.get(column)),
        };
        (name.clone(), columns(Table::Statements).iter().map(|c| of(c.name)).collect::<ByteRecord>())
    };
    Ok(said.iter().map(row).collect())
}

fn cell(value: Option<&Value>) -> String {
    match value {
        None | Some(Value::Null) => String::new(),
        Some(Value::String(text)) => text.clone(),
        Some(other) => other.to_string(),
    }
}

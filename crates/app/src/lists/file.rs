//! A list as a file, to be read by a spreadsheet and brought back.

use super::rows::{ListRow, ListRows, ListRowsRequest, list_rows};
use crate::{AppError, Ctx};
use artemon_core::formula::Value;
use artemon_formats::harmless;
use rust_xlsxwriter::{Format, Workbook, XlsxError};
use serde::Deserialize;
use utoipa::ToSchema;

/// In which format.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum ListFormat {
    Csv,
    Xlsx,
}

/// What stands in the first columns.
const HEADS: [&str; 15] = [
    "symbol",
    "name",
    "currency",
    "soundness",
    "my_soundness",
    "reason",
    "price",
    "price_to_pay",
    "price_to_pay_is",
    "verdict",
    "added_on",
    "price_then",
    "since",
    "universe_since",
    "from",
];

/// A list as a file, with its columns: what is undefined is empty.
///
/// # Errors
/// As [`list_rows`].
pub fn list_file(ctx: &Ctx, id: &str, format: ListFormat) -> Result<Vec<u8>, AppError> {
    let list = list_rows(ctx, id, &ListRowsRequest::default())?;
    let failed = |e: &dyn std::error::Error| AppError::Unusable { what: "The file".to_owned(), problem: e.to_string() };
    match format {
        ListFormat::Csv => separated(&list).map_err(|e| failed(&e)),
        ListFormat::Xlsx => workbook(&list).map_err(|e| failed(&e)),
    }
}

fn heads(list: &ListRows) -> Vec<String> {
    HEADS.iter().map(|h| (*h).to_owned()).chain(list.columns.iter().map(|c| c.formula.clone())).chain(["note".to_owned()]).collect()
}

/// A cell: a number or a text.
enum Cell {
    Number(f64),
    Text(String),
}

fn cells(row: &ListRow) -> Vec<Option<Cell>> {
    let text = |t: &str| Some(t).filter(|t| !t.is_empty()).map(|t| Cell::Text(t.to_owned()));
    let number = |x: Option<f64>| x.map(Cell::Number);
    let whole = |x: Option<u8>| x.map(|x| Cell::Number(f64::from(x)));
    let pay_is = if row.own.price.is_some() { "typed" } else { "computed" };
    let first = [
        text(&row.symbol),
        text(&row.name),
        text(&row.currency),
        whole(row.soundness),
        whole(row.mine),
        text(&row.reason),
        number(row.price),
        number(row.pay),
        row.pay.and_then(|_| text(pay_is)),
        text(&row.verdict),
        text(&row.added_on.to_string()),
        number(row.price_then),
        number(row.since),
        number(row.universe_since),
        text(&row.from),
    ];
    let value = |v: &Value| match v {
        Value::Number(x) if x.is_finite() => Some(Cell::Number(*x)),
        Value::Flag(b) => Some(Cell::Text(b.to_string())),
        Value::Text(t) => Some(Cell::Text(t.to_string())),
        _ => None,
    };
    first.into_iter().chain(row.cells.values.iter().map(value)).chain([text(&row.own.note)]).collect()
}

fn separated(list: &ListRows) -> Result<Vec<u8>, csv::Error> {
    let mut writer = csv::Writer::from_writer(Vec::new());
    writer.write_record(heads(list).iter().map(|head| harmless(head)))?;
    for row in &list.rows {
        let written = |cell: Option<Cell>| match cell {
            Some(Cell::Number(x)) => x.to_string(),
            Some(Cell::Text(t)) => harmless(&t),
            None => String::new(),
        };
        let mut line: Vec<String> = cells(row).into_iter().map(written).collect();
        line.resize(HEADS.len() + list.columns.len() + 1, String::new());
        writer.write_record(line)?;
    }
    writer.into_inner().map_err(|e| e.into_error().into())
}

fn workbook(list: &ListRows) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.set_name("List")?.set_freeze_panes(1, 2)?;
    for (i, head) in (0..).zip(heads(list)) {
        sheet.write_string_with_format(0, i, head, &Format::new().set_bold())?;
    }
    for (line, row) in (1..).zip(&list.rows) {
        for (i, cell) in (0..).zip(cells(row)) {
            match cell {
                Some(Cell::Number(x)) => drop(sheet.write_number(line, i, x)?),
                Some(Cell::Text(t)) => drop(sheet.write_string(line, i, t)?),
                None => {}
            }
        }
    }
    sheet.autofit();
    book.save_to_buffer()
}

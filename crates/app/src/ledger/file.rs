//! The ledger as a file: the journal to be read anywhere, a workbook that goes on computing, and everything as JSON.

use super::{
    LedgerPage, LedgerRequest, ResultsAnswer,
    books::own_ledger,
    page::{MOST_LINES, ledger_page},
    results::ledger_results,
};
use crate::{AppError, Ctx};
use artemon_core::ledger::JournalLine;
use artemon_formats::harmless;
use rust_xlsxwriter::{Format, Formula, Workbook, Worksheet, XlsxError};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

/// In which format.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LedgerFormat {
    /// The journal.
    Csv,
    /// Holdings, years and the journal.
    Xlsx,
    /// Everything.
    Json,
}

/// The columns of the journal.
const COLUMNS: [&str; 22] = [
    "n",
    "date",
    "account",
    "event",
    "order",
    "side",
    "symbol",
    "what",
    "kind",
    "quantity",
    "limit",
    "price",
    "multiplier",
    "ratio",
    "amount",
    "rate",
    "value",
    "fee",
    "left",
    "why",
    "cash",
    "realised",
];

/// Everything as JSON.
#[derive(Serialize)]
struct Whole<'w> {
    page: &'w LedgerPage,
    results: &'w ResultsAnswer,
    journal: &'w [JournalLine],
}

/// The ledger as a file, as of a day.
///
/// # Errors
/// As [`ledger_page`].
pub fn ledger_file(ctx: &Ctx, request: &LedgerRequest, format: LedgerFormat) -> Result<Vec<u8>, AppError> {
    let failed = |e: &dyn std::error::Error| AppError::Unusable { what: "The file".to_owned(), problem: e.to_string() };
    let t = ctx.date(request.as_of)?;
    let own = own_ledger(ctx)?;
    let journal: Vec<JournalLine> = own.ledger.journal().iter().take_while(|b| b.event.date <= t).map(JournalLine::of).collect();
    if format == LedgerFormat::Csv {
        return separated(&journal).map_err(|e| failed(&e));
    }
    let request = LedgerRequest { lines: Some(MOST_LINES), ..request.clone() };
    let (page, results) = (ledger_page(ctx, &request)?, ledger_results(ctx, &request)?);
    match format {
        LedgerFormat::Xlsx => workbook(&page, &results, &journal).map_err(|e| failed(&e)),
        _ => serde_json::to_vec_pretty(&Whole { page: &page, results: &results, journal: &journal }).map_err(|e| failed(&e)),
    }
}

/// The cells of a line, in the order of the columns.
fn cells(entry: &JournalLine) -> Vec<Value> {
    let json = serde_json::to_value(entry).unwrap_or_default();
    COLUMNS.iter().map(|c| json[*c].clone()).collect()
}

fn separated(journal: &[JournalLine]) -> Result<Vec<u8>, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record(COLUMNS)?;
    for line in journal {
        let text = |v: &Value| match v {
            Value::String(text) => harmless(text),
            Value::Null => String::new(),
            other => other.to_string(),
        };
        out.write_record(cells(line).iter().map(text))?;
    }
    out.into_inner().map_err(|e| csv::Error::from(e.into_error()))
}

fn workbook(page: &LedgerPage, results: &ResultsAnswer, journal: &[JournalLine]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let head = Format::new().set_bold();
    holdings(book.add_worksheet(), page, &head)?;
    years(book.add_worksheet(), results, &head)?;
    let sheet = book.add_worksheet();
    sheet.set_name("Journal")?.set_freeze_panes(1, 0)?;
    heads(sheet, &COLUMNS, &head)?;
    for (row, line) in (1..).zip(journal) {
        for (column, cell) in (0..).zip(cells(line)) {
            match cell {
                Value::Number(n) => sheet.write_number(row, column, n.as_f64().unwrap_or_default())?,
                Value::String(text) => sheet.write_string(row, column, text)?,
                _ => sheet,
            };
        }
    }
    book.save_to_buffer()
}

fn heads(sheet: &mut Worksheet, heads: &[&str], format: &Format) -> Result<(), XlsxError> {
    (0..).zip(heads).try_for_each(|(i, text)| sheet.write_string_with_format(0, i, *text, format).map(drop))
}

/// A formula with what it comes to, for programs that do not compute.
fn computed(formula: String, result: f64) -> Formula {
    Formula::new(formula).set_result(result.to_string())
}

const HOLDINGS: [&str; 13] = [
    "Account",
    "Symbol",
    "Name",
    "Sector",
    "Shares",
    "Price",
    "Of the price",
    "To the account's",
    "Worth",
    "Cost",
    "Gain",
    "Gain of cost",
    "Income",
];

/// Worth and gain are formulas of shares, price and cost, so that a price typed over is worked out.
fn holdings(sheet: &mut Worksheet, page: &LedgerPage, head: &Format) -> Result<(), XlsxError> {
    sheet.set_name("Holdings")?.set_freeze_panes(1, 3)?.set_column_width(2, 32)?;
    sheet.set_column_format(11, &Format::new().set_num_format("0.0%"))?;
    heads(sheet, &HOLDINGS, head)?;
    for (row, h) in (1..).zip(&page.holdings) {
        let line = row + 1;
        for (i, text) in (0..).zip([&h.account, &h.symbol, &h.name, &h.sector]) {
            sheet.write_string(row, i, text)?;
        }
        sheet.write_number(row, 4, h.quantity)?.write_string(row, 6, &h.price_currency)?;
        match h.price.filter(|p| *p > 0.0 && h.quantity > 0.0) {
            Some(price) => {
                sheet.write_number(row, 5, price)?.write_number(row, 7, h.value / h.quantity / price)?;
                sheet.write_formula(row, 8, computed(format!("=E{line}*F{line}*H{line}"), h.value))?;
            }
            None => drop(sheet.write_number(row, 8, h.value)?),
        }
        sheet.write_number(row, 9, h.cost)?;
        sheet.write_formula(row, 10, computed(format!("=I{line}-J{line}"), h.gain))?;
        sheet.write_formula(row, 11, computed(format!("=IF(J{line}>0,K{line}/J{line},\"\")"), h.gain_share.unwrap_or_default()))?;
        sheet.write_number(row, 12, h.income)?;
    }
    Ok(())
}

const YEARS: [&str; 9] = ["Year", "Start", "Paid in", "End", "Gain", "Time-weighted return", "Index", "Realised", "Income"];

fn years(sheet: &mut Worksheet, results: &ResultsAnswer, head: &Format) -> Result<(), XlsxError> {
    sheet.set_name("Years")?;
    let percent = Format::new().set_num_format("0.0%");
    sheet.set_column_format(5, &percent)?.set_column_format(6, &percent)?;
    heads(sheet, &YEARS, head)?;
    for (row, y) in (1..).zip(&results.years) {
        let line = row + 1;
        sheet.write_number(row, 0, f64::from(y.year))?.write_number(row, 1, y.start)?.write_number(row, 2, y.paid_in)?;
        sheet.write_number(row, 3, y.end)?.write_formula(row, 4, computed(format!("=D{line}-B{line}-C{line}"), y.gain))?;
        for (i, x) in (5..).zip([y.time_weighted, y.index, y.realised, y.income]) {
            if let Some(x) = x {
                sheet.write_number(row, i, x)?;
            }
        }
    }
    Ok(())
}

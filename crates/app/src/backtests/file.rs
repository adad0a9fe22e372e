//! A backtest as a file: its trades to be read anywhere, a workbook, and everything as JSON.

use super::{
    kept::{kept, settings_of},
    page::{names, outcome},
};
use crate::{AppError, Ctx};
use artemon_core::backtest::{Backtest, Outcome, Reason, words};
use artemon_formats::harmless;
use rust_xlsxwriter::{Format, Formula, Workbook, Worksheet, XlsxError};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// In which format.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum BacktestFormat {
    /// Every trade.
    Csv,
    /// Result, years, picks, trades and the curve.
    Xlsx,
    /// Settings and outcome.
    Json,
}

/// Everything as JSON.
#[derive(Serialize)]
struct Whole<'w> {
    backtest: &'w Backtest,
    result: &'w Outcome,
}

const TRADES: [&str; 6] = ["date", "symbol", "name", "amount", "price", "why"];
const PICKS: [&str; 10] = ["symbol", "name", "decision", "from", "to", "start", "end", "return", "benchmark_return", "ended_by"];

/// A backtest as a file.
///
/// # Errors
/// When there is none, or it has no outcome.
pub fn backtest_file(ctx: &Ctx, id: &str, format: BacktestFormat) -> Result<Vec<u8>, AppError> {
    let settings = settings_of(&kept(ctx, id)?)?;
    let outcome = outcome(ctx, id)?.ok_or_else(|| AppError::Missing { what: "What came of this backtest".to_owned() })?;
    let names = names(ctx, &outcome);
    let name = |symbol: &str| names.get(symbol).map(|n| n.name.clone()).unwrap_or_default();
    let failed = |e: &dyn std::error::Error| AppError::Unusable { what: "The file".to_owned(), problem: e.to_string() };
    match format {
        BacktestFormat::Csv => separated(&outcome, name).map_err(|e| failed(&e)),
        BacktestFormat::Xlsx => workbook(&settings, &outcome, name).map_err(|e| failed(&e)),
        BacktestFormat::Json => serde_json::to_vec_pretty(&Whole { backtest: &settings, result: &outcome }).map_err(|e| failed(&e)),
    }
}

fn why(reason: Reason) -> &'static str {
    match reason {
        Reason::Rebalance => "rebalance",
        Reason::FirstClose => "first close",
        Reason::Gain => "gain",
        Reason::AtValue => "at value",
        Reason::Months => "months",
        Reason::Delisted => "delisted",
        Reason::End => "end",
    }
}

fn separated(outcome: &Outcome, name: impl Fn(&str) -> String) -> Result<Vec<u8>, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record(TRADES)?;
    for t in &outcome.trades {
        let (amount, price) = (t.amount.to_string(), t.price.to_string());
        out.write_record([t.date.to_string(), harmless(&t.symbol), harmless(&name(&t.symbol)), amount, price, why(t.why).to_owned()])?;
    }
    out.into_inner().map_err(|e| csv::Error::from(e.into_error()))
}

fn workbook(settings: &Backtest, outcome: &Outcome, name: impl Fn(&str) -> String) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let (head, percent) = (Format::new().set_bold(), Format::new().set_num_format("0.0 %"));
    result(book.add_worksheet(), settings, outcome, &head, &percent)?;
    years(book.add_worksheet(), outcome, &head, &percent)?;
    let sheet = begun(book.add_worksheet(), "Picks", &PICKS, &head)?;
    for (row, p) in (1..).zip(&outcome.picks) {
        for (column, text) in (0..).zip([p.symbol.clone(), name(&p.symbol), p.decision.to_string(), p.from.to_string(), p.to.to_string()]) {
            sheet.write_string(row, column, text)?;
        }
        sheet.write_number(row, 5, p.start)?.write_number(row, 6, p.end)?;
        sheet.write_formula_with_format(
            row,
            7,
            Formula::new(format!("=G{0}/F{0}-1", row + 1)).set_result(p.returned.to_string()),
            &percent,
        )?;
        sheet.write_number_with_format(row, 8, p.benchmark_return, &percent)?.write_string(row, 9, why(p.ended_by))?;
    }
    let sheet = begun(book.add_worksheet(), "Trades", &TRADES, &head)?;
    for (row, t) in (1..).zip(&outcome.trades) {
        sheet.write_string(row, 0, t.date.to_string())?.write_string(row, 1, &t.symbol)?.write_string(row, 2, name(&t.symbol))?;
        sheet.write_number(row, 3, t.amount)?.write_number(row, 4, t.price)?.write_string(row, 5, why(t.why))?;
    }
    let sheet = begun(book.add_worksheet(), "Curve", &["date", "value", "benchmark"], &head)?;
    for (row, ((day, value), benchmark)) in (1..).zip(outcome.daily.dates.iter().zip(&outcome.daily.value).zip(&outcome.daily.benchmark)) {
        sheet.write_string(row, 0, day.to_string())?.write_number(row, 1, *value)?.write_number(row, 2, *benchmark)?;
    }
    book.save_to_buffer()
}

fn begun<'s>(sheet: &'s mut Worksheet, name: &str, heads: &[&str], head: &Format) -> Result<&'s mut Worksheet, XlsxError> {
    sheet.set_name(name)?.set_freeze_panes(1, 0)?;
    for (column, text) in (0..).zip(heads) {
        sheet.write_string_with_format(0, column, *text, head)?;
    }
    Ok(sheet)
}

fn result(sheet: &mut Worksheet, settings: &Backtest, outcome: &Outcome, head: &Format, percent: &Format) -> Result<(), XlsxError> {
    sheet.set_name("Result")?.set_column_width(0, 34)?;
    sheet.write_string_with_format(0, 0, words(settings), head)?;
    sheet.write_string(1, 0, format!("{} to {}, in {}", outcome.first, outcome.last, settings.base))?;
    let figures = [
        ("Annual return", Some(outcome.annualised_return)),
        ("Annual return of the benchmark", Some(outcome.benchmark_annualised_return)),
        ("Annual excess return", Some(outcome.excess)),
        ("Annual volatility", outcome.annual_volatility),
        ("Maximum drawdown", Some(outcome.max_drawdown)),
        ("Turnover a year", Some(outcome.turnover_a_year)),
        ("Better than so many random portfolios", Some(outcome.luck.percentile / 100.0)),
        ("Bootstrap, 5th percentile of the excess", outcome.bootstrap.map(|b| b.low)),
        ("Bootstrap, 95th percentile", outcome.bootstrap.map(|b| b.high)),
    ];
    for (row, (label, figure)) in (3..).zip(figures) {
        sheet.write_string(row, 0, label)?;
        if let Some(figure) = figure {
            sheet.write_number_with_format(row, 1, figure, percent)?;
        }
    }
    for (row, sentence) in (14..).zip(&outcome.said) {
        sheet.write_string(row, 0, sentence)?;
    }
    Ok(())
}

fn years(sheet: &mut Worksheet, outcome: &Outcome, head: &Format, percent: &Format) -> Result<(), XlsxError> {
    let sheet = begun(sheet, "Years", &["year", "return", "benchmark", "excess"], head)?;
    for (row, (year, value)) in (1..).zip(&outcome.by_year) {
        let benchmark = outcome.benchmark_by_year.get(year).copied().unwrap_or_default();
        sheet.write_string(row, 0, year)?.write_number_with_format(row, 1, *value, percent)?;
        sheet.write_number_with_format(row, 2, benchmark, percent)?;
        let excess = Formula::new(format!("=B{0}-C{0}", row + 1)).set_result((value - benchmark).to_string());
        sheet.write_formula_with_format(row, 3, excess, percent)?;
    }
    Ok(())
}

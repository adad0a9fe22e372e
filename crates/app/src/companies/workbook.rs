//! A company as a workbook: its answers, and its statements with years as columns and formulas for the ratios.

use super::page::{CompanyPage, company_page};
use super::statements::{Statement, StatementForm, StatementPeriod, StatementRequest, StatementTable, statement};
use crate::{AppError, Ctx};
use artemon_core::{
    domain::Day,
    formula::{Unit, Value},
};
use rust_xlsxwriter::{Color, Format, Formula, Workbook, Worksheet, XlsxError, utility::row_col_to_cell};

/// How a ratio follows from rows of the same sheet: what is added to and taken from what stands above and below the line.
type Ratio = (&'static str, &'static [(&'static str, f64)], &'static [(&'static str, f64)]);

const RATIOS: [Ratio; 12] = [
    ("gross_margin", &[("gross_profit", 1.0)], &[("revenue", 1.0)]),
    ("operating_margin", &[("operating_income", 1.0)], &[("revenue", 1.0)]),
    ("net_margin", &[("net_income", 1.0)], &[("revenue", 1.0)]),
    ("effective_tax", &[("income_tax", 1.0)], &[("pretax_income", 1.0)]),
    ("net_debt", &[("short_term_debt", 1.0), ("long_term_debt", 1.0), ("cash", -1.0), ("short_term_investments", -1.0)], &[]),
    ("current_ratio", &[("current_assets", 1.0)], &[("current_liabilities", 1.0)]),
    ("quick_ratio", &[("current_assets", 1.0), ("inventory", -1.0)], &[("current_liabilities", 1.0)]),
    ("debt_to_equity", &[("short_term_debt", 1.0), ("long_term_debt", 1.0)], &[("equity", 1.0), ("preferred_equity", -1.0)]),
    ("equity_ratio", &[("equity", 1.0)], &[("total_assets", 1.0)]),
    ("free_cash_flow", &[("operating_cash_flow", 1.0), ("capital_expenditure", -1.0)], &[]),
    ("net_buyback", &[("shares_repurchased", 1.0), ("shares_issued", -1.0)], &[]),
    ("dividend_cover", &[("free_cash_flow", 1.0)], &[("dividends_paid", 1.0)]),
];

/// As near to the program's figure as a formula must come, as a part of it: what is written has six digits.
const NEAR: f64 = 2e-5;

/// The workbook of a company.
///
/// # Errors
/// An unknown company, a date outside the data; when the workbook cannot be written.
pub fn company_xlsx(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<Vec<u8>, AppError> {
    let page = company_page(ctx, symbol, as_of)?;
    let table = |of| {
        let request = StatementRequest { statement: of, period: StatementPeriod::Year, form: StatementForm::Amount, as_of };
        statement(ctx, symbol, request)
    };
    let tables = [("Income", table(Statement::Income)?), ("Balance", table(Statement::Balance)?), ("Cash", table(Statement::Cash)?)];
    write(&page, &tables).map_err(|e| AppError::Unusable { what: "The workbook".to_owned(), problem: e.to_string() })
}

/// How cells look.
struct Looks {
    head: Format,
    percent: Format,
    amount: Format,
    ratio: Format,
    wrapped: Format,
}

fn write(page: &CompanyPage, tables: &[(&str, StatementTable)]) -> Result<Vec<u8>, XlsxError> {
    let looks = Looks {
        head: Format::new().set_bold().set_background_color(Color::RGB(0xF1_EA_DD)),
        percent: Format::new().set_num_format("0.0%"),
        amount: Format::new().set_num_format("#,##0"),
        ratio: Format::new().set_num_format("0.00"),
        wrapped: Format::new().set_text_wrap(),
    };
    let mut book = Workbook::new();
    answers(book.add_worksheet().set_name("Answers")?, page, &looks)?;
    for (name, table) in tables {
        sheet(book.add_worksheet().set_name(*name)?, table, page, &looks)?;
    }
    book.save_to_buffer()
}

fn answers(sheet: &mut Worksheet, page: &CompanyPage, looks: &Looks) -> Result<(), XlsxError> {
    sheet.set_column_width(0, 36)?.set_column_width(1, 110)?;
    let title = format!("{} ({}), as known on {}", page.company.name, page.company.symbol, page.as_of);
    sheet.write_with_format(0, 0, title, &looks.head)?;
    for (row, answer) in (2..).zip(&page.answers) {
        sheet.write(row, 0, answer.question)?.write_with_format(row, 1, &answer.sentence, &looks.wrapped)?;
    }
    Ok(())
}

/// A statement, the oldest year first.
fn sheet(sheet: &mut Worksheet, table: &StatementTable, page: &CompanyPage, looks: &Looks) -> Result<(), XlsxError> {
    sheet.set_column_width(0, 34)?.set_freeze_panes(2, 1)?;
    let what = format!("Amounts in {}, a share in {}, as known on {}", page.base, page.currency, page.as_of);
    sheet.write(0, 0, what)?;
    let years = table.columns.len();
    let column = |i: usize| u16::try_from(years - i).unwrap_or(u16::MAX);
    for (i, c) in table.columns.iter().enumerate() {
        sheet.write_with_format(1, column(i), &c.label, &looks.head)?;
    }
    for (row, line) in (2..).zip(&table.rows) {
        sheet.write(row, 0, &line.label)?;
        let look = match line.unit {
            Unit::Percent => &looks.percent,
            Unit::Money | Unit::Count => &looks.amount,
            _ => &looks.ratio,
        };
        for (i, value) in line.cells.values.iter().enumerate() {
            let Value::Number(figure) = value else { continue };
            if !figure.is_finite() {
                sheet.write(row, column(i), "no debt cost")?;
                continue;
            }
            match formula(table, &line.id, i, *figure, column(i)) {
                Some(text) => sheet.write_with_format(row, column(i), Formula::new(text).set_result(figure.to_string()), look)?,
                None => sheet.write_with_format(row, column(i), *figure, look)?,
            };
        }
    }
    Ok(())
}

/// The formula of a ratio in a column, where all that it needs stands in the sheet and it gives what the program gives.
fn formula(table: &StatementTable, id: &str, i: usize, figure: f64, column: u16) -> Option<String> {
    let (_, above, below) = RATIOS.into_iter().find(|r| r.0 == id)?;
    let sum = |parts: &[(&str, f64)]| {
        let mut total = 0.0;
        let mut text = String::new();
        for (item, sign) in parts {
            let at = table.rows.iter().position(|r| r.id == *item)?;
            let Value::Number(v) = table.rows[at].cells.values[i] else { return None };
            total += sign * v;
            text.push(if *sign < 0.0 { '-' } else { '+' });
            text.push_str(&row_col_to_cell(u32::try_from(at).ok()? + 2, column));
        }
        Some((total, text.trim_start_matches('+').to_owned()))
    };
    let (top, over) = sum(above)?;
    let (value, text) = match below {
        [] => (top, format!("={over}")),
        _ => {
            let (bottom, under) = sum(below)?;
            (top / bottom, format!("=({over})/({under})"))
        }
    };
    let near = (value - figure).abs() <= NEAR * figure.abs().max(top.abs() * 1e-9);
    near.then_some(text)
}

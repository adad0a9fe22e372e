//! Ranked candidates as a workbook with live formulas: the whole valuation can be followed and changed in a spreadsheet.
//!
//! Four sheets: *Candidates* (a row a company: one value, range, verdict), *Assumptions* (named cells), *Inputs* (a row a
//! company: starting figures, growth, rates) and *Valuation* (a row a cell of the grid with what counts of each year, as the
//! models tell it). Every formula carries the figure that Artemon computed, so that readers which do not calculate show it too.

mod columns;
mod expression;
mod grid;
mod inputs;
mod summary;

use super::rank::{RankRequest, Ranked, ranked};
use crate::{AppError, Ctx};
use artemon_core::{Num, domain::Day, engine::Context, ranking::Candidate, valuation::CompanyValue};
use rust_xlsxwriter::{Color, Format, Formula, Workbook, Worksheet, XlsxError};

/// Companies exported at most: each brings some thirty rows of formulas.
const MOST: usize = 200;

/// The first candidates as an XLSX workbook.
///
/// # Errors
/// As [`crate::rank()`]; when the workbook cannot be written.
pub fn candidates_xlsx(ctx: &Ctx, request: &RankRequest) -> Result<Vec<u8>, AppError> {
    let ranked = ranked(ctx, request)?;
    let most = request.rows.unwrap_or(MOST).min(MOST);
    let written = Book::new(&ranked, most).and_then(|mut book| book.write());
    written.map_err(|e| AppError::Unusable { what: "The workbook".to_owned(), problem: e.to_string() })
}

struct Book<'v> {
    book: Workbook,
    context: &'v Context,
    t: Day,
    candidates: &'v [Candidate],
    values: Vec<CompanyValue>,
    head: Format,
    percent: Format,
    money: Format,
    /// What a person may change.
    given: Format,
    given_percent: Format,
}

type Written = Result<(), XlsxError>;

impl<'v> Book<'v> {
    /// Of the first companies, `most` of them.
    fn new(ranked: &'v Ranked, most: usize) -> Result<Book<'v>, XlsxError> {
        let candidates = &ranked.candidates[..ranked.candidates.len().min(most)];
        let given = Format::new().set_font_color(Color::RGB(0xA9_7A_1E));
        Ok(Book {
            book: Workbook::new(),
            context: &ranked.context,
            t: ranked.t,
            candidates,
            values: candidates.iter().map(|c| ranked.context.value_company(ranked.t, c.company)).collect(),
            head: Format::new().set_bold().set_text_wrap().set_background_color(Color::RGB(0xF1_EA_DD)),
            percent: Format::new().set_num_format("0.0%"),
            money: Format::new().set_num_format("#,##0.00"),
            given_percent: given.clone().set_num_format("0.0%"),
            given,
        })
    }

    fn write(&mut self) -> Result<Vec<u8>, XlsxError> {
        let mut sheets = [Worksheet::new(), Worksheet::new(), Worksheet::new(), Worksheet::new()];
        for (sheet, name) in sheets.iter_mut().zip(["Candidates", "Assumptions", "Inputs", "Valuation"]) {
            sheet.set_name(name)?;
        }
        let [candidates, assumptions, inputs, valuation] = &mut sheets;
        self.assumptions(assumptions)?;
        self.inputs(inputs)?;
        let blocks = self.valuation(valuation)?;
        self.summary(candidates, &blocks)?;
        for sheet in sheets {
            self.book.push_worksheet(sheet);
        }
        self.book.save_to_buffer()
    }
}

/// A cell of *Inputs*, with the sheet's name where another sheet asks.
fn input(row: u32, column: u16, from_elsewhere: bool) -> String {
    let cell = format!("${}${}", letters(column), row + 1);
    if from_elsewhere { format!("Inputs!{cell}") } else { cell }
}

fn letters(column: u16) -> String {
    rust_xlsxwriter::utility::column_number_to_name(column)
}

/// A formula with the figure that Artemon computed; or why there is none.
fn formula(sheet: &mut Worksheet, row: u32, column: u16, text: &str, result: Num, format: &Format) -> Written {
    let result = result.map_or_else(|why| why.to_string(), |v| v.to_string());
    sheet.write_formula_with_format(row, column, Formula::new(text).set_result(result), format)?;
    Ok(())
}

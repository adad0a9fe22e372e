//! The companies that pass a screen as a file: every figure in full, in the screen's order.

use super::rows::{Row, ScreenList, listed, rows, whole_list};
use crate::{AppError, Ctx, figures::figure::Figure};
use artemon_core::{
    engine::Section,
    formula::{Unit, Value},
    screening::{Need, Screen},
    wording::{label, sentence},
};
use artemon_formats::WriteError;
use rust_xlsxwriter::{Color, Format, Formula, Workbook, Worksheet, XlsxError};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A format of tables.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TableFormat {
    /// Comma-separated, RFC 4180.
    Csv,
    /// Tab-separated, as spreadsheets paste it.
    Tsv,
    /// A workbook: the companies, with medians as formulas, and a sheet that says what was asked.
    Xlsx,
    /// What a screen comes to with all its companies, as the command line says it.
    Json,
}

/// Companies to be written.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ScreenFileRequest {
    /// The companies.
    pub list: ScreenList,
    /// How.
    pub format: TableFormat,
}

impl TableFormat {
    /// The media type of a file.
    #[must_use]
    pub const fn media_type(self) -> &'static str {
        match self {
            TableFormat::Csv => "text/csv; charset=utf-8",
            TableFormat::Tsv => "text/tab-separated-values; charset=utf-8",
            TableFormat::Xlsx => "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            TableFormat::Json => "application/json",
        }
    }

    /// The ending of a file's name.
    #[must_use]
    pub const fn ending(self) -> &'static str {
        match self {
            TableFormat::Csv => "csv",
            TableFormat::Tsv => "tsv",
            TableFormat::Xlsx => "xlsx",
            TableFormat::Json => "json",
        }
    }
}

/// The companies listed as a file.
///
/// # Errors
/// As [`super::screen_rows`].
pub fn screen_file(ctx: &Ctx, ScreenFileRequest { list, format }: &ScreenFileRequest) -> Result<Vec<u8>, AppError> {
    match format {
        TableFormat::Csv => separated(ctx, list, b','),
        TableFormat::Tsv => separated(ctx, list, b'\t'),
        TableFormat::Xlsx => workbook(ctx, list),
        TableFormat::Json => serde_json::to_vec_pretty(&whole_list(ctx, list)?).map_err(|e| failed(&e)),
    }
}

fn failed(e: &dyn std::error::Error) -> AppError {
    AppError::Unusable { what: "The file".to_owned(), problem: e.to_string() }
}

/// A text that no spreadsheet takes for a formula.
fn harmless(text: &str) -> String {
    if text.starts_with(['=', '+', '-', '@', '\t', '\r']) { format!("'{text}") } else { text.to_owned() }
}

/// Symbol, name, currency, and each column under its formula; what is undefined is empty.
fn separated(ctx: &Ctx, list: &ScreenList, by: u8) -> Result<Vec<u8>, AppError> {
    let section = ctx.section(ctx.date(list.screen.as_of)?);
    let headers = ["symbol", "name", "currency"].into_iter().chain(list.screen.columns.iter().map(String::as_str));
    let mut lines = vec![headers.map(str::to_owned).collect::<Vec<_>>()];
    for row in rows(&list.screen, &section, &listed(list, &section)?) {
        let written = |value: Value| match value {
            Value::Text(text) => harmless(&text),
            other => Figure::from(other).written(),
        };
        let who = [&row.symbol, &row.name, &row.currency].map(|text| harmless(text));
        lines.push(who.into_iter().chain(row.values.into_iter().map(written)).collect());
    }
    let mut writer = csv::WriterBuilder::new().delimiter(by).from_writer(Vec::new());
    let written = lines.iter().try_for_each(|line| writer.write_record(line));
    written.map_err(|e| failed(&e))?;
    writer.into_inner().map_err(|e| WriteError::Stream { source: e.into_error() }.into())
}

fn workbook(ctx: &Ctx, list: &ScreenList) -> Result<Vec<u8>, AppError> {
    let section = ctx.section(ctx.date(list.screen.as_of)?);
    let all: Vec<Row> = rows(&list.screen, &section, &listed(list, &section)?).collect();
    let mut book = Workbook::new();
    let written = companies(book.add_worksheet(), &list.screen, &section, &all)
        .and_then(|()| asked(book.add_worksheet(), ctx, &list.screen, &section, all.len()))
        .and_then(|()| book.save_to_buffer());
    written.map_err(|e| failed(&e))
}

/// The first columns: symbol, name, currency.
const WHO: u16 = 3;

fn companies(sheet: &mut Worksheet, screen: &Screen, section: &Section<'_>, all: &[Row]) -> Result<(), XlsxError> {
    let head = head();
    let library = &section.context().settings().library;
    sheet.set_name("Companies")?.set_freeze_panes(1, 2)?;
    for (i, text) in (0..).zip(["Symbol", "Name", "Currency"]) {
        sheet.write_string_with_format(0, i, text, &head)?;
    }
    sheet.set_column_width(1, 32)?;
    for (i, formula) in (WHO..).zip(&screen.columns) {
        sheet.write_string_with_format(0, i, label(formula, library), &head)?;
        let unit = section.compile(formula).map_or(Unit::Text, |c| c.unit);
        sheet.set_column_width(i, 15)?;
        sheet.set_column_format(i, &number_format(unit))?;
    }
    for (line, row) in (1..).zip(all) {
        for (i, text) in (0..).zip([&row.symbol, &row.name, &row.currency]) {
            sheet.write_string(line, i, text)?;
        }
        for (i, value) in (WHO..).zip(&row.values) {
            match value {
                Value::Number(v) if v.is_finite() => sheet.write_number(line, i, *v)?,
                Value::Flag(b) => sheet.write_boolean(line, i, *b)?,
                Value::Text(text) => sheet.write_string(line, i, &**text)?,
                Value::Number(_) => sheet.write_string(line, i, "no debt cost")?,
                Value::Undefined(_) => sheet,
            };
        }
    }
    medians(sheet, screen, section, all, &head)
}

/// The middle of each column of numbers, as a formula with what it comes to.
fn medians(sheet: &mut Worksheet, screen: &Screen, section: &Section<'_>, all: &[Row], head: &Format) -> Result<(), XlsxError> {
    let line = u32::try_from(all.len()).unwrap_or(u32::MAX) + 1;
    sheet.write_string_with_format(line, 1, "In the middle", head)?;
    for (i, formula) in screen.columns.iter().enumerate() {
        let numeric = section.compile(formula).is_ok_and(|c| !matches!(c.unit, Unit::Text | Unit::Flag));
        let numbers: Vec<f64> = all.iter().filter_map(|row| row.values[i].number().ok()).filter(|v| v.is_finite()).collect();
        let Some(middle) = artemon_core::stats::median(&numbers).filter(|_| numeric) else { continue };
        let column = WHO + u16::try_from(i).unwrap_or(0);
        let letters = rust_xlsxwriter::column_number_to_name(column);
        let text = format!("=MEDIAN({letters}2:{letters}{line})");
        sheet.write_formula_with_format(line, column, Formula::new(text).set_result(middle.to_string()), head)?;
    }
    Ok(())
}

/// What was asked, as of when, of whom.
fn asked(sheet: &mut Worksheet, ctx: &Ctx, screen: &Screen, section: &Section<'_>, found: usize) -> Result<(), XlsxError> {
    let library = &ctx.settings().library;
    sheet.set_name("Screen")?.set_column_width(0, 26)?.set_column_width(1, 70)?;
    let mut lines: Vec<(String, String)> = vec![
        ("Screen".to_owned(), screen.name.clone()),
        ("As known on".to_owned(), section.t().to_string()),
        ("Companies".to_owned(), found.to_string()),
        ("Assumptions".to_owned(), ctx.settings().assumptions.name.clone()),
        ("Base currency".to_owned(), ctx.settings().base.to_string()),
        ("Universe".to_owned(), serde_json::to_string(&screen.universe).unwrap_or_default()),
    ];
    for (b, block) in screen.blocks.iter().enumerate() {
        let need = match block.need {
            Need::All => "all of these".to_owned(),
            Need::Any => "any of these".to_owned(),
            Need::AtLeast(k) => format!("at least {k} of these"),
        };
        lines.push((format!("Block {}", b + 1), need));
        for c in block.criteria.iter().filter(|c| c.enabled) {
            let said = sentence(c, section.compile(&c.formula).ok().map(|f| f.unit), library);
            lines.push((String::new(), format!("{} {}", said.what, said.bound).trim_end().to_owned()));
        }
    }
    for (line, (what, text)) in (0..).zip(&lines) {
        sheet.write_string_with_format(line, 0, what, &Format::new().set_bold())?;
        sheet.write_string(line, 1, text)?;
    }
    Ok(())
}

fn head() -> Format {
    Format::new().set_bold().set_text_wrap().set_background_color(Color::RGB(0xF1_EA_DD))
}

fn number_format(unit: Unit) -> Format {
    Format::new().set_num_format(match unit {
        Unit::Percent => "0.0%",
        Unit::Money => "#,##0",
        Unit::Count | Unit::Days | Unit::Rank => "0",
        Unit::Text | Unit::Flag => "General",
        _ => "#,##0.00",
    })
}

#[cfg(test)]
mod tests {
    use super::harmless;

    #[test]
    fn texts_that_spreadsheets_would_calculate_are_quoted() {
        let said = ["=1+1", "+Plus", "-Minus", "@SUM", "\tTab", "Name = 3", "3-D"].map(harmless);
        assert_eq!(said, ["'=1+1", "'+Plus", "'-Minus", "'@SUM", "'\tTab", "Name = 3", "3-D"]);
    }
}

//! The companies left as a workbook: numbers as numbers, medians as formulas, and a sheet that says what was asked.

use super::Row;
use crate::Ctx;
use artemon_core::{
    engine::Section,
    formula::{Unit, Value},
    screening::{Need, Screen},
    wording::{label, sentence},
};
use rust_xlsxwriter::{Color, Format, Formula, Workbook, Worksheet, XlsxError};

/// The bytes of the file.
pub(super) fn write(ctx: &Ctx, screen: &Screen, section: &Section<'_>, all: &[Row]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    companies(book.add_worksheet(), screen, section, all)?;
    asked(book.add_worksheet(), ctx, screen, section, all.len())?;
    book.save_to_buffer()
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
        for (i, text) in (0..).zip(row.who()) {
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
    sheet.write_string_with_format(line, 1, "Median", head)?;
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

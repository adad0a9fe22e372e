//! The companies that pass a screen as a file: every figure in full, in the screen's order.

mod workbook;

use super::rows::{Row, ScreenList, listed, rows, whole_list};
use crate::{AppError, Ctx, figures::figure::Figure};
use artemon_core::{
    engine::Section,
    formula::{Unit, Value},
    screening::Screen,
};
use artemon_formats::{
    WriteError, harmless,
    parquet_table::{self, Cells, Column},
};
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
    /// Apache Parquet, one row group: numbers, flags and texts under their formulas.
    Parquet,
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
    /// The ending of a file's name.
    #[must_use]
    pub const fn ending(self) -> &'static str {
        match self {
            TableFormat::Csv => "csv",
            TableFormat::Tsv => "tsv",
            TableFormat::Xlsx => "xlsx",
            TableFormat::Parquet => "parquet",
            TableFormat::Json => "json",
        }
    }
}

/// The companies listed as a file.
///
/// # Errors
/// As [`super::screen_rows`].
pub fn screen_file(ctx: &Ctx, ScreenFileRequest { list, format }: &ScreenFileRequest) -> Result<Vec<u8>, AppError> {
    let (screen, section) = (&list.screen, ctx.section(ctx.date(list.screen.as_of)?));
    let all = || Ok::<Vec<Row>, AppError>(rows(screen, &section, &listed(list, &section)?).collect());
    match format {
        TableFormat::Csv => separated(screen, &all()?, b','),
        TableFormat::Tsv => separated(screen, &all()?, b'\t'),
        TableFormat::Xlsx => workbook::write(ctx, screen, &section, &all()?).map_err(|e| failed(&e)),
        TableFormat::Parquet => parquet(screen, &section, &all()?),
        TableFormat::Json => serde_json::to_vec_pretty(&whole_list(ctx, list)?).map_err(|e| failed(&e)),
    }
}

fn failed(e: &dyn std::error::Error) -> AppError {
    AppError::Unusable { what: "The file".to_owned(), problem: e.to_string() }
}

/// The first columns: who it is, and the currency of amounts a share.
const WHO: [&str; 3] = ["symbol", "name", "currency"];

impl Row {
    /// What stands under [`WHO`].
    fn who(&self) -> [&str; 3] {
        [&self.symbol, &self.name, &self.currency]
    }
}

/// Symbol, name, currency, and each column under its formula; what is undefined is empty.
fn separated(screen: &Screen, all: &[Row], by: u8) -> Result<Vec<u8>, AppError> {
    let headers = WHO.into_iter().chain(screen.columns.iter().map(String::as_str));
    let mut lines = vec![headers.map(harmless).collect::<Vec<_>>()];
    for row in all {
        let written = |value: &Value| match value {
            Value::Text(text) => harmless(text),
            other => Figure::from(other.clone()).written(),
        };
        let who = row.who().map(harmless);
        lines.push(who.into_iter().chain(row.values.iter().map(written)).collect());
    }
    let mut writer = csv::WriterBuilder::new().delimiter(by).from_writer(Vec::new());
    let written = lines.iter().try_for_each(|line| writer.write_record(line));
    written.map_err(|e| failed(&e))?;
    writer.into_inner().map_err(|e| WriteError::Stream { source: e.into_error() }.into())
}

/// The same columns, typed; what was asked and as of when stands beside them.
fn parquet(screen: &Screen, section: &Section<'_>, all: &[Row]) -> Result<Vec<u8>, AppError> {
    let who = |i: usize| Cells::Texts(all.iter().map(|row| Some(row.who()[i].to_owned())).collect());
    let whose = WHO.iter().enumerate().map(|(i, name)| Column { name: (*name).to_owned(), cells: who(i) });
    let figures = screen.columns.iter().enumerate().map(|(i, formula)| {
        let values = all.iter().map(|row| &row.values[i]);
        let cells = match section.compile(formula).map_or(Unit::Text, |c| c.unit) {
            Unit::Text => Cells::Texts(values.map(|v| if let Value::Text(t) = v { Some(t.to_string()) } else { None }).collect()),
            Unit::Flag => Cells::Flags(values.map(|v| if let Value::Flag(b) = v { Some(*b) } else { None }).collect()),
            _ => Cells::Numbers(values.map(|v| v.number().ok()).collect()),
        };
        Column { name: formula.clone(), cells }
    });
    let columns: Vec<Column> = whose.chain(figures).collect();
    let asked = serde_json::to_string(screen).map_err(|e| failed(&e))?;
    Ok(parquet_table::write(&columns, &[("as_of", section.t().to_string()), ("screen", asked)])?)
}

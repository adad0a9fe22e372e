//! Results as a table, CSV or JSON.

use crate::args::Format;
use artemon_app::harmless;
use serde::Serialize;
use std::io::{self, Write};

/// Prints JSON as it is, or rows under headers as a table or CSV.
pub(crate) fn print<T: Serialize>(format: Format, answer: &T, headers: &[&str], rows: &[Vec<String>]) -> anyhow::Result<()> {
    let mut out = io::stdout().lock();
    let printed = match format {
        Format::Json => writeln!(out, "{}", serde_json::to_string_pretty(answer)?),
        Format::Csv => csv(&mut out, headers, rows),
        Format::Table => table(&mut out, headers, rows),
    };
    match printed {
        Err(e) if e.kind() == io::ErrorKind::BrokenPipe => Ok(()),
        other => Ok(other?),
    }
}

fn csv(out: impl Write, headers: &[&str], rows: &[Vec<String>]) -> io::Result<()> {
    let mut writer = csv::Writer::from_writer(out);
    writer.write_record(headers.iter().map(|cell| harmless(cell)))?;
    for row in rows {
        writer.write_record(row.iter().map(|cell| harmless(cell)))?;
    }
    writer.flush()
}

/// Columns as wide as their widest cell; numbers to the right.
fn table(mut out: impl Write, headers: &[&str], rows: &[Vec<String>]) -> io::Result<()> {
    let width = |i: usize| rows.iter().map(|r| r[i].chars().count()).chain([headers[i].chars().count()]).max().unwrap_or(0);
    let widths: Vec<usize> = (0..headers.len()).map(width).collect();
    let numeric = |i: usize| rows.iter().all(|r| r[i].is_empty() || r[i].starts_with(|c: char| c.is_ascii_digit() || c == '-' || c == '('));
    let right: Vec<bool> = (0..headers.len()).map(numeric).collect();
    let line = |cells: &[&str]| {
        let cell = |(i, c): (usize, &&str)| {
            let pad = " ".repeat(widths[i].saturating_sub(c.chars().count()));
            if right[i] { format!("{pad}{c}") } else { format!("{c}{pad}") }
        };
        cells.iter().enumerate().map(cell).collect::<Vec<_>>().join("  ").trim_end().to_owned()
    };
    writeln!(out, "{}", line(headers))?;
    for row in rows {
        writeln!(out, "{}", line(&row.iter().map(String::as_str).collect::<Vec<_>>()))?;
    }
    Ok(())
}

/// A figure as text: its value, or its reason in parentheses. Full precision in CSV, six digits in tables.
pub(crate) fn figure(format: Format, f: &artemon_app::Figure) -> String {
    use artemon_core::formula::Value;
    match &f.value {
        Value::Number(v) if v.is_finite() && format == Format::Table => short(*v),
        Value::Undefined(why) if format == Format::Table => format!("({why})"),
        _ => f.written(),
    }
}

fn short(v: f64) -> String {
    if v == 0.0 || (v.fract() == 0.0 && v.abs() < 1e15) {
        return format!("{v}");
    }
    let digits = (5 - v.abs().log10().floor().clamp(-4.0, 5.0) as i32).max(0).unsigned_abs() as usize;
    format!("{v:.digits$}")
}

/// Shows the formula with its mistake underlined.
pub(crate) fn underlined(e: artemon_app::AppError) -> anyhow::Error {
    match &e {
        artemon_app::AppError::Formula { formula, error } => anyhow::anyhow!("{}", error.underlined(formula)),
        _ => e.into(),
    }
}

/// What to do about a refusal, in the words of the command line: the refusal itself is worded for anybody.
pub(crate) fn hint(error: &anyhow::Error) -> Option<&'static str> {
    use artemon_app::AppError;
    match error.downcast_ref::<AppError>()? {
        AppError::NoDataset { .. } => {
            Some("Import one with `artemon import FOLDER`; the demo world is started with `artemon demo` and asked with --demo.")
        }
        AppError::Empty => Some("Import a Data Package with `artemon import FOLDER`, or ask the demo world with --demo."),
        AppError::BadRows(_) => Some("The good rows alone are taken with --skip-bad-rows."),
        _ => None,
    }
}

//! Exports the dataset, some tables or some companies, as a Data Package or as CSV.

use crate::{App, AppError, TableRows};
use artemon_core::domain::{Record, Table};
use artemon_formats::{
    WriteError,
    csv_table::TableWriter,
    data_package::{FolderWriter, PackageWriter, ZipPackageWriter},
};
use artemon_store::Selection;
use serde::Serialize;
use std::{fs::File, io::Write, path::Path};
use utoipa::ToSchema;

/// What to export.
#[derive(Clone, Debug, Default)]
pub struct ExportRequest {
    /// Only these tables.
    pub tables: Vec<Table>,
    /// Only these companies, by symbol, ISIN or id.
    pub companies: Vec<String>,
}

/// What was exported.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ExportReport {
    pub rows: u64,
    /// Rows of each table.
    pub tables: Vec<TableRows>,
}

/// Exports into a new folder; into a zip when the path ends in .zip, into CSV when it ends in .csv (one table).
///
/// # Errors
/// A path that exists or cannot be written; unknown companies; a store that cannot be read.
pub fn export(app: &App, request: &ExportRequest, path: &Path) -> Result<ExportReport, AppError> {
    let create = || {
        let file = File::create_new(path);
        file.map_err(|source| AppError::Write(WriteError::Io { path: path.to_owned(), source }))
    };
    match path.extension().and_then(|e| e.to_str()) {
        Some("zip") => export_zip(app, request, create()?),
        Some("csv") => export_csv(app, request, create()?),
        _ => {
            let mut writer = FolderWriter::create(path)?;
            let report = copy(app, request, |r| writer.write(r))?;
            writer.finish()?;
            Ok(report)
        }
    }
}

/// Exports as a zipped package into anything that takes bytes.
///
/// # Errors
/// As [`export`].
pub fn export_zip(app: &App, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    let mut writer = ZipPackageWriter::new(out);
    let report = copy(app, request, |r| writer.write(r))?;
    writer.finish()?;
    Ok(report)
}

/// Exports one table as CSV into anything that takes bytes.
///
/// # Errors
/// As [`export`]; when not exactly one table is asked for.
pub fn export_csv(app: &App, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    let [table] = request.tables[..] else {
        let problem = "it holds one table; say which with --table, or export into a folder".to_owned();
        return Err(AppError::Unusable { what: "A CSV file".to_owned(), problem });
    };
    let mut writer = TableWriter::new(std::io::BufWriter::with_capacity(1 << 18, out), table)?;
    let report = copy(app, request, |r| writer.write(r))?;
    writer.finish()?;
    Ok(report)
}

fn copy(app: &App, request: &ExportRequest, mut write: impl FnMut(&Record) -> Result<(), WriteError>) -> Result<ExportReport, AppError> {
    let selection = selection(app, request)?;
    let mut counts = vec![0u64; Table::ALL.len()];
    let mut failed = None;
    app.store.read(&selection, |record| {
        if failed.is_none() {
            counts[record.table() as usize] += 1;
            failed = write(&record).err();
        }
    })?;
    if let Some(error) = failed {
        return Err(error.into());
    }
    let all = Table::ALL.iter().map(|t| TableRows { table: *t, rows: counts[*t as usize] });
    Ok(ExportReport { rows: counts.iter().sum(), tables: all.filter(|t| t.rows > 0).collect() })
}

fn selection(app: &App, request: &ExportRequest) -> Result<Selection, AppError> {
    let panel = app.panel();
    let ids = request.companies.iter().map(|key| Ok(panel.snapshot.company(panel.find(key)?).id.to_string()));
    let ids: Vec<String> = ids.collect::<Result<_, AppError>>()?;
    Ok(Selection { tables: (!request.tables.is_empty()).then(|| request.tables.clone()), companies: (!ids.is_empty()).then_some(ids) })
}

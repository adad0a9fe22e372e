//! Exports the dataset, some tables or some companies, in open forms.

mod measured;

use self::measured::measured;
use super::{damage, import::report::TableRows};
use crate::{AppError, Ctx, safety::made_whole};
use artemon_core::{
    domain::{Day, Table},
    filings::Taxonomy,
};
use artemon_formats::{
    Block, BlockWriter, WriteError,
    data_package::{FolderWriter, ZipPackageWriter},
    parquet_table::ParquetFolder,
    statement_report::{Reports, StatementReports},
    workbook::WorkbookWriter,
};
use artemon_store::{Dataset, PersonId, Selection, SetAside, has_dataset};
use serde::Serialize;
use std::{
    fs::File,
    io::{self, Seek, Write},
    ops::ControlFlow,
    path::Path,
    sync::{MutexGuard, PoisonError, mpsc::SyncSender},
};
use utoipa::ToSchema;

/// What to export.
#[derive(Clone, Debug, Default)]
pub struct ExportRequest {
    /// In which form.
    pub form: ExportForm,
    /// Only these tables.
    pub tables: Vec<Table>,
    /// Only these companies, by symbol, ISIN or id.
    pub companies: Vec<String>,
}

/// In which form an export is written.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub enum ExportForm {
    /// A Data Package: a folder, or a zip.
    #[default]
    Package,
    /// One table as CSV.
    Csv,
    /// A workbook, a sheet a table.
    Workbook,
    /// A folder of Parquet files.
    Parquet {
        /// With every measure of every company as of these days.
        measures: Vec<Day>,
    },
    /// The filings as xBRL-JSON, in a folder or a zip.
    XbrlJson(Taxonomy),
}

impl ExportForm {
    /// The form that the name of a file asks for.
    #[must_use]
    pub fn of(path: &Path) -> ExportForm {
        match path.extension().and_then(|e| e.to_str()) {
            Some("csv") => ExportForm::Csv,
            Some("xlsx") => ExportForm::Workbook,
            _ => ExportForm::Package,
        }
    }
}

/// What was exported.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ExportReport {
    pub rows: u64,
    /// Rows of each table.
    pub tables: Vec<TableRows>,
    /// What was left out because it is damaged.
    pub left_out: Vec<String>,
}

/// Exports that may run at once.
const AT_ONCE: usize = 4;

/// Exports from a data folder into a new file or folder; rows go from the database into it: nothing is loaded.
///
/// # Errors
/// A path that exists or cannot be written; unknown companies; a form that does not hold the tables; a store that cannot be read.
pub fn export(folder: &Path, request: &ExportRequest, path: &Path) -> Result<ExportReport, AppError> {
    if !has_dataset(folder) {
        return Err(AppError::NoDataset { folder: folder.to_owned() });
    }
    check(request)?;
    let store = Dataset::open_to_read(folder)?;
    let is_zip = path.extension().is_some_and(|e| e == "zip");
    made_whole(path, |part| {
        let create = || File::create_new(part).map_err(|source| WriteError::Io { path: path.to_owned(), source });
        match &request.form {
            ExportForm::Package if !is_zip => {
                let mut writer = FolderWriter::create(part)?;
                let report = copy(&store, request, |block| writer.write(block))?;
                writer.finish()?;
                Ok(report)
            }
            ExportForm::XbrlJson(taxonomy) if !is_zip => {
                filings(&store, request, StatementReports::new(Reports::in_folder(part), *taxonomy))
            }
            ExportForm::Parquet { measures } => {
                let mut writer = ParquetFolder::create(part)?;
                let report = copy(&store, request, |block| writer.write(block))?;
                writer.finish()?;
                if !measures.is_empty() {
                    measured(folder, measures, part)?;
                }
                Ok(report)
            }
            ExportForm::Package | ExportForm::Csv | ExportForm::Workbook | ExportForm::XbrlJson(_) => {
                into(&store, request, part.parent().unwrap_or(part), create()?)
            }
        }
    })
}

/// Exports the open dataset into anything that takes bytes: a package and filings as a zip.
///
/// # Errors
/// As [`export`]; for Parquet, which is a folder; when too many exports run.
pub fn export_into(ctx: &Ctx, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    check(request)?;
    let _turn = Turn::take(ctx)?;
    into(&ctx.home.store, request, &ctx.home.options.folder, out)
}

/// Writes one file; what has to wait on the disk waits in `folder`.
fn into(store: &Dataset, request: &ExportRequest, folder: &Path, mut out: impl Write) -> Result<ExportReport, AppError> {
    match &request.form {
        ExportForm::Package => {
            let mut writer = ZipPackageWriter::new(out);
            let report = copy(store, request, |block| writer.write(block))?;
            writer.finish()?;
            Ok(report)
        }
        ExportForm::Csv => {
            let report = copy(store, request, |block| out.write_all(&block.bytes).map_err(stream))?;
            out.flush().map_err(stream)?;
            Ok(report)
        }
        ExportForm::Workbook => {
            // A workbook is put together at its end, not from its start to its end.
            let mut whole = tempfile::tempfile_in(folder).map_err(stream)?;
            let mut writer = WorkbookWriter::create(folder)?;
            let report = copy(store, request, |block| writer.write(block))?;
            writer.finish(&mut whole)?;
            let copied = whole.rewind().and_then(|()| io::copy(&mut whole, &mut out)).and_then(|_| out.flush());
            copied.map_err(stream)?;
            Ok(report)
        }
        ExportForm::Parquet { .. } => Err(unusable("Parquet", "it is a folder of files; export it from the terminal")),
        ExportForm::XbrlJson(taxonomy) => filings(store, request, StatementReports::new(Reports::zipped(out), *taxonomy)),
    }
}

/// Refuses what a form cannot hold, before anything of it is written: a zip that was begun would be ended.
fn check(request: &ExportRequest) -> Result<(), AppError> {
    match request.form {
        ExportForm::Csv if request.tables.len() != 1 => {
            Err(unusable("A CSV file", "it holds one table; say which, or export into a folder"))
        }
        ExportForm::XbrlJson(_) if request.tables.iter().any(|t| *t != Table::Statements) => {
            Err(unusable("xBRL-JSON", "it holds statements only; export the other tables in another form"))
        }
        _ => Ok(()),
    }
}

fn unusable(what: &str, problem: &str) -> AppError {
    AppError::Unusable { what: what.to_owned(), problem: problem.to_owned() }
}

/// Filings hold statements, and of companies whose they are.
fn filings(store: &Dataset, request: &ExportRequest, mut writer: StatementReports<impl Write>) -> Result<ExportReport, AppError> {
    let request = ExportRequest { tables: vec![Table::Companies, Table::Statements], ..request.clone() };
    let mut report = copy(store, &request, |block| writer.write(block))?;
    writer.finish()?;
    report.tables.retain(|t| t.table == Table::Statements);
    report.rows = report.tables.iter().map(|t| t.rows).sum();
    Ok(report)
}

/// One of the exports that may run at once.
struct Turn<'c>(&'c Ctx);

impl Turn<'_> {
    fn take(ctx: &Ctx) -> Result<Turn<'_>, AppError> {
        let mut running = Turn::running(ctx);
        if running.len() >= AT_ONCE {
            return Err(AppError::Busy { what: format!("{AT_ONCE} exports are running already") });
        }
        if ctx.home.is_shared() && running.contains(&ctx.person) {
            return Err(AppError::Busy { what: "An export of yours is running already".to_owned() });
        }
        running.push(ctx.person.clone());
        Ok(Turn(ctx))
    }

    fn running(ctx: &Ctx) -> MutexGuard<'_, Vec<PersonId>> {
        ctx.home.exports.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Drop for Turn<'_> {
    fn drop(&mut self) {
        let mut running = Turn::running(self.0);
        if let Some(place) = running.iter().position(|person| *person == self.0.person) {
            running.swap_remove(place);
        }
    }
}

fn stream(source: io::Error) -> WriteError {
    WriteError::Stream { source }
}

/// Blocks that may wait to be written.
const WAITING: usize = 8;

/// Reads and formats on one thread what is written on this one; stops reading when nobody takes the rows any more.
fn read_ahead(
    store: &Dataset,
    selection: &Selection,
    write: impl FnMut(Block) -> Result<(), WriteError>,
) -> Result<Vec<SetAside>, AppError> {
    let (give, get) = std::sync::mpsc::sync_channel::<Block>(WAITING);
    std::thread::scope(|s| {
        let reading = s.spawn(move || read_blocks(store, selection, &give));
        let written = get.into_iter().try_for_each(write);
        let read = reading.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic));
        written?;
        read
    })
}

fn read_blocks(store: &Dataset, selection: &Selection, give: &SyncSender<Block>) -> Result<Vec<SetAside>, AppError> {
    let mut blocks = BlockWriter::default();
    if let Some([table]) = selection.tables.as_deref() {
        blocks.begin(*table).map_err(stream)?;
    }
    let mut failed = Ok(());
    let damaged = store.read(selection, |record| {
        let taken = match blocks.write(&record) {
            Ok(Some(block)) => give.send(block).is_ok(),
            Ok(None) => true,
            Err(e) => {
                failed = Err(stream(e));
                false
            }
        };
        if taken { ControlFlow::Continue(()) } else { ControlFlow::Break(()) }
    })?;
    failed?;
    if let Some(rest) = blocks.take().map_err(stream)? {
        give.send(rest).ok();
    }
    Ok(damaged)
}

/// Writes every row.
fn copy(
    store: &Dataset,
    request: &ExportRequest,
    mut write: impl FnMut(&Block) -> Result<(), WriteError>,
) -> Result<ExportReport, AppError> {
    let selection = selection(store, request)?;
    let mut counts = vec![0u64; Table::ALL.len()];
    let damaged = read_ahead(store, &selection, |block| {
        counts[block.table as usize] += block.rows;
        write(&block)
    })?;
    let all = Table::ALL.iter().map(|t| TableRows { table: *t, rows: counts[*t as usize] });
    Ok(ExportReport {
        rows: counts.iter().sum(),
        tables: all.filter(|t| t.rows > 0).collect(),
        left_out: damaged.iter().map(damage::said).collect(),
    })
}

fn selection(store: &Dataset, request: &ExportRequest) -> Result<Selection, AppError> {
    let tables = (!request.tables.is_empty()).then(|| request.tables.clone());
    if request.companies.is_empty() {
        return Ok(Selection { tables, companies: None });
    }
    let found = store.find_companies(&request.companies)?;
    let unknown: Vec<String> = request.companies.iter().zip(&found).filter(|(_, id)| id.is_none()).map(|(key, _)| key.clone()).collect();
    if !unknown.is_empty() {
        return Err(AppError::UnknownCompanies { unknown, hint: String::new() });
    }
    Ok(Selection { tables, companies: Some(found.into_iter().flatten().collect()) })
}

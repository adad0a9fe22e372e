//! Exports the dataset, some tables or some companies, as a Data Package or as CSV.

use super::{damage, import::report::TableRows};
use crate::{AppError, Ctx, Home, Options, figures::measure_list, safety::made_whole};
use artemon_core::{
    Why,
    domain::{Day, Table},
    formula::{Unit, Value},
};
use artemon_formats::{
    Block, BlockWriter, WriteError,
    data_package::{FolderWriter, ZipPackageWriter},
    parquet_table::{self, Cells, Column, ParquetFolder},
};
use artemon_store::{Dataset, Selection, SetAside, has_dataset};
use serde::Serialize;
use std::{
    fs::{self, File},
    io::{self, Write},
    ops::ControlFlow,
    path::Path,
    sync::{MutexGuard, PoisonError, mpsc::SyncSender},
};
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
    /// What was left out because it is damaged.
    pub left_out: Vec<String>,
}

/// Exports that may run at once.
const AT_ONCE: usize = 4;

/// Exports from a data folder into a new folder; into a zip when the path ends in .zip, into CSV when it ends in .csv (one
/// table). Rows go from the database into the files: nothing is loaded.
///
/// # Errors
/// A path that exists or cannot be written; unknown companies; a store that cannot be read.
pub fn export(folder: &Path, request: &ExportRequest, path: &Path) -> Result<ExportReport, AppError> {
    if !has_dataset(folder) {
        return Err(AppError::NoDataset { folder: folder.to_owned() });
    }
    let store = Dataset::open_to_read(folder)?;
    let io = |source| WriteError::Io { path: path.to_owned(), source };
    made_whole(path, |part| {
        let create = || File::create_new(part).map_err(io);
        match path.extension().and_then(|e| e.to_str()) {
            Some("zip") => zip(&store, request, create()?),
            Some("csv") => csv(&store, request, create()?),
            _ => {
                let mut writer = FolderWriter::create(part)?;
                let report = copy(&store, request, |block| writer.write(block))?;
                writer.finish()?;
                Ok(report)
            }
        }
    })
}

/// Exports the open dataset as a zipped package into anything that takes bytes.
///
/// # Errors
/// As [`export`]; when too many exports run.
pub fn export_zip(ctx: &Ctx, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    let _turn = Turn::take(ctx)?;
    zip(&ctx.home.store, request, out)
}

/// Exports one table of the open dataset as CSV into anything that takes bytes.
///
/// # Errors
/// As [`export`]; when not exactly one table is asked for; when too many exports run.
pub fn export_csv(ctx: &Ctx, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    let _turn = Turn::take(ctx)?;
    csv(&ctx.home.store, request, out)
}

/// Exports from a data folder into a new folder of Parquet files, and the measures of every company as of some days.
///
/// # Errors
/// As [`export`]; a day outside the data.
pub fn export_parquet(folder: &Path, request: &ExportRequest, as_of: &[Day], path: &Path) -> Result<ExportReport, AppError> {
    if !has_dataset(folder) {
        return Err(AppError::NoDataset { folder: folder.to_owned() });
    }
    made_whole(path, |part| {
        let report = {
            let store = Dataset::open_to_read(folder)?;
            let mut writer = ParquetFolder::create(part)?;
            let report = copy(&store, request, |block| writer.write(block))?;
            writer.finish()?;
            report
        };
        if !as_of.is_empty() {
            measured(folder, as_of, part)?;
        }
        Ok(report)
    })
}

/// What every measure says of every company as of some days: `measures/as_of=DAY/measures.parquet`.
fn measured(folder: &Path, as_of: &[Day], part: &Path) -> Result<(), AppError> {
    let ctx = Home::open_to_read(Options { folder: folder.to_owned(), ..Options::default() })?.local_ctx()?;
    for day in as_of {
        let folder = part.join("measures").join(format!("as_of={day}"));
        let file = folder.join("measures.parquet");
        let io = |source| WriteError::Io { path: file.clone(), source };
        let bytes = measures_file(&ctx, *day)?;
        fs::create_dir_all(&folder).and_then(|()| fs::write(&file, bytes)).map_err(io)?;
    }
    Ok(())
}

/// Every measure that needs no argument, a column each, of every company of the universe as of a day; who it is before them.
fn measures_file(ctx: &Ctx, day: Day) -> Result<Vec<u8>, AppError> {
    let section = ctx.section(ctx.date(Some(day))?);
    let members = section.members().to_vec();
    let who = |name: &str, of: &dyn Fn(u32) -> String| Column {
        name: name.to_owned(),
        cells: Cells::Texts(members.iter().map(|i| Some(of(*i))).collect()),
    };
    let snapshot = ctx.snapshot();
    let mut columns = vec![
        who("symbol", &|i| snapshot.symbol(i).to_owned()),
        who("company_id", &|i| snapshot.company(i).id.to_string()),
        who("name", &|i| snapshot.company(i).name.clone()),
    ];
    let places: Vec<Option<usize>> = members.iter().map(|i| section.place(*i)).collect();
    for measure in measure_list() {
        let Ok(compiled) = section.compile(measure.id) else { continue };
        let answers = section.column(&compiled).at(&places, Why::NotListed);
        let values = (0..members.len()).map(|i| answers.value(i));
        let cells = match compiled.unit {
            Unit::Text => Cells::Texts(values.map(|v| if let Value::Text(t) = v { Some(t.to_string()) } else { None }).collect()),
            Unit::Flag => Cells::Flags(values.map(|v| if let Value::Flag(b) = v { Some(b) } else { None }).collect()),
            _ => Cells::Numbers(values.map(|v| v.number().ok()).collect()),
        };
        columns.push(Column { name: measure.id.to_owned(), cells });
    }
    Ok(parquet_table::write(&columns, &[("as_of", section.t().to_string())])?)
}

/// One of the exports that may run at once.
struct Turn<'c>(&'c Ctx);

impl Turn<'_> {
    fn take(ctx: &Ctx) -> Result<Turn<'_>, AppError> {
        let mut running = Turn::running(ctx);
        if *running >= AT_ONCE {
            return Err(AppError::Busy { what: format!("{AT_ONCE} exports are running already") });
        }
        *running += 1;
        Ok(Turn(ctx))
    }

    fn running(ctx: &Ctx) -> MutexGuard<'_, usize> {
        ctx.home.exports.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Drop for Turn<'_> {
    fn drop(&mut self) {
        *Turn::running(self.0) -= 1;
    }
}

fn zip(store: &Dataset, request: &ExportRequest, out: impl Write) -> Result<ExportReport, AppError> {
    let mut writer = ZipPackageWriter::new(out);
    let report = copy(store, request, |block| writer.write(block))?;
    writer.finish()?;
    Ok(report)
}

fn csv(store: &Dataset, request: &ExportRequest, mut out: impl Write) -> Result<ExportReport, AppError> {
    let [_] = request.tables[..] else {
        let problem = "it holds one table; say which, or export into a folder".to_owned();
        return Err(AppError::Unusable { what: "A CSV file".to_owned(), problem });
    };
    let report = copy(store, request, |block| out.write_all(&block.bytes).map_err(stream))?;
    out.flush().map_err(stream)?;
    Ok(report)
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

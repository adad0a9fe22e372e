//! Import, export, and the making of the demo world.

use crate::{App, AppError, state};
use artemon_core::domain::{Currency, Table};
use artemon_demo::World;
use artemon_formats::{
    ReadReport,
    data_package::{self, Known, PackageWriter},
};
use artemon_store::{Batch, FolderLock, Store, StoreError};
use serde::Serialize;
use std::path::Path;
use utoipa::ToSchema;

/// Rows between two reports of progress.
const PROGRESS_EVERY: u64 = 100_000;
/// The setting that says which demo world the dataset is.
const WORLD: &str = "demo_world";

/// How far a transfer is.
#[derive(Clone, Copy, Debug)]
pub struct Progress {
    /// Rows so far.
    pub rows: u64,
    /// The table being worked on.
    pub table: Table,
}

/// What a transfer did.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TransferReport {
    pub rows: u64,
    /// Good rows of each table.
    pub tables: Vec<(String, u64)>,
    pub bad_rows: u64,
    /// Bad rows as sentences, the first thousand.
    pub bad: Vec<String>,
    /// Files and columns that were kept out because nothing is known of them.
    pub kept_out: Vec<String>,
}

impl From<ReadReport> for TransferReport {
    fn from(r: ReadReport) -> TransferReport {
        TransferReport {
            rows: r.rows.iter().map(|t| t.1).sum(),
            tables: r.rows.iter().map(|(t, n)| (t.to_string(), *n)).collect(),
            bad_rows: r.bad_rows,
            bad: r.bad.iter().map(ToString::to_string).collect(),
            kept_out: r.kept_out,
        }
    }
}

/// Imports a Data Package folder in one transaction: it lands entirely, or the dataset is as before.
///
/// # Errors
/// An unreadable package; bad rows, unless they are to be skipped; a store that refuses.
pub fn import(folder: &Path, package: &Path, skip_bad_rows: bool, mut progress: impl FnMut(Progress)) -> Result<TransferReport, AppError> {
    let _lock = FolderLock::take(folder)?;
    let store = Store::open(folder)?;
    let keys = store.keys()?;
    let known = Known { companies: keys.companies, symbols: keys.symbols };
    store.write(|batch: &mut Batch<'_>| {
        let mut rows = 0;
        let take = |record: artemon_core::domain::Record| {
            rows += 1;
            if rows % PROGRESS_EVERY == 0 {
                progress(Progress { rows, table: record.table() });
            }
            batch.put(record).map_err(|e| Box::new(e).into())
        };
        let report = data_package::read(package, known, take)?;
        if report.bad_rows > 0 && !skip_bad_rows {
            return Err(AppError::BadRows(Box::new(report)));
        }
        Ok(report.into())
    })
}

/// Exports the whole dataset as a Data Package into a new folder.
///
/// # Errors
/// A folder that is not empty or cannot be written; a store that cannot be read.
pub fn export(app: &App, package: &Path) -> Result<TransferReport, AppError> {
    let mut writer = PackageWriter::create(package)?;
    let mut counts = vec![0u64; Table::ALL.len()];
    let mut failed = None;
    app.store.read(|record| {
        counts[record.table() as usize] += 1;
        if failed.is_none() {
            failed = writer.write(&record).err();
        }
    })?;
    if let Some(error) = failed {
        return Err(error.into());
    }
    writer.finish()?;
    let tables: Vec<_> = Table::ALL.iter().map(|t| (t.to_string(), counts[*t as usize])).collect();
    Ok(TransferReport { rows: counts.iter().sum(), tables, bad_rows: 0, bad: Vec::new(), kept_out: Vec::new() })
}

/// Puts the demo world into a folder unless it is there already; `reset` makes it anew.
///
/// # Errors
/// A folder that cannot be used.
pub fn make_demo(folder: &Path, companies: Option<usize>, reset: bool) -> Result<(), AppError> {
    let _lock = FolderLock::take(folder)?;
    if state::has_dataset(folder) {
        let made = Store::open(folder)?.setting(WORLD)?;
        let wanted = companies.map(|companies| name_of(World { companies, ..World::default() }));
        match made {
            Some(m) if !reset && wanted.is_none_or(|w| w == m) => return Ok(()),
            Some(_) => {}
            None => {
                let problem =
                    "it holds a dataset that is not the demo world, which is not touched. Choose another folder with --data".to_owned();
                return Err(AppError::Unusable { what: format!("The data folder {}", folder.display()), problem });
            }
        }
    }
    for file in ["artemon.sqlite", "artemon.sqlite-wal", "artemon.sqlite-shm"] {
        let path = folder.join(file);
        if path.exists() {
            std::fs::remove_file(&path).map_err(|source| StoreError::Folder { path: folder.to_owned(), source })?;
        }
    }
    let world = World { companies: companies.unwrap_or(World::default().companies), ..World::default() };
    let base: Currency = World::base_currency();
    Store::open(folder)?.write(|batch| {
        world.make(|record| batch.put(record))?;
        batch.set(state::NAME, "The Meridian Reach")?;
        batch.set(state::BASE_CURRENCY, base.as_str())?;
        batch.set(WORLD, &name_of(world))
    })?;
    Ok(())
}

/// Tells one world from another, and from those of other versions of the generator.
fn name_of(world: World) -> String {
    format!("{} companies, seed {}, version {}", world.companies, world.seed, artemon_demo::VERSION)
}

//! How paths given on the command line are to be taken.

use super::{report::Source, run::mapping_for};
use crate::AppError;
use artemon_core::domain::Table;
use artemon_formats::{
    ReadError,
    csv_table::{FixedCell, MappedColumn, Mapping, Sample, for_table},
    registry::{Format, recognise},
};
use artemon_store::{FolderLock, People};
use std::path::{Path, PathBuf};

/// What is said about CSV files beside what their headers tell.
#[derive(Clone, Debug, Default)]
pub struct CsvChoices {
    /// The table they hold.
    pub table: Option<Table>,
    /// Columns filled from headers; `divide` 1 where nothing is to be divided.
    pub columns: Vec<MappedColumn>,
    /// Columns with one value for all rows.
    pub fixed: Vec<FixedCell>,
}

/// The sources behind paths, in the order in which they are to be read: packages, then tables that others refer to.
///
/// # Errors
/// A path of no known format; a CSV file that no table fits; a folder in use.
pub fn plan_import(folder: &Path, paths: &[PathBuf], choices: &CsvChoices) -> Result<Vec<Source>, AppError> {
    let _lock = FolderLock::take(folder)?;
    let people = People::open(folder)?;
    let mut all = paths.iter().map(|p| source(&people, p, choices)).collect::<Result<Vec<_>, _>>()?;
    all.sort_by_key(|s| match s {
        Source::Package(_) => None,
        Source::Csv(_, mapping) => Some(mapping.table),
    });
    Ok(all)
}

/// The source behind a path.
pub(crate) fn source(people: &People, path: &Path, choices: &CsvChoices) -> Result<Source, AppError> {
    if recognise(path)? == Format::DataPackage {
        return Ok(Source::Package(path.to_owned()));
    }
    let sample = Sample::of(path)?;
    let mapping = match choices.table {
        Some(table) => for_table(&sample, table),
        None => mapping_for(people, &people.local(), &sample)?.0.ok_or_else(|| ReadError::Table {
            file: sample.file.clone(),
            problem: "its columns fit no table. Say which with --table, and map columns with --map COLUMN=HEADER".to_owned(),
        })?,
    };
    let mapping = chosen(mapping, choices);
    mapping.check(&sample.headers).map_err(|problem| ReadError::Table { file: sample.file.clone(), problem })?;
    Ok(Source::Csv(path.to_owned(), mapping))
}

/// The mapping, changed as was said.
fn chosen(mut mapping: Mapping, choices: &CsvChoices) -> Mapping {
    let said = |column: &str| choices.columns.iter().any(|c| c.column == column) || choices.fixed.iter().any(|f| f.column == column);
    mapping.columns.retain(|c| !said(&c.column));
    mapping.fixed.retain(|c| !said(&c.column));
    mapping.columns.extend(choices.columns.iter().cloned());
    mapping.fixed.extend(choices.fixed.iter().cloned());
    mapping
}

//! How paths given on the command line are to be taken.

use super::{brought::Brought, report::Source, run::mapping_for};
use crate::AppError;
use artemon_core::domain::Table;
use artemon_formats::{
    ReadError,
    csv_table::{FixedCell, MappedColumn, Mapping, Sample, for_table},
    filings::{Answers, FilingSource},
};
use artemon_store::{FolderLock, People};
use std::path::{Path, PathBuf};

/// What is said about files beside what they tell themselves.
#[derive(Clone, Debug, Default)]
pub struct Choices {
    /// The table that CSV files hold.
    pub table: Option<Table>,
    /// Columns filled from headers; `divide` 1 where nothing is to be divided.
    pub columns: Vec<MappedColumn>,
    /// Columns with one value for all rows.
    pub fixed: Vec<FixedCell>,
    /// What is said of filings that no `filings.csv` names.
    pub answers: Answers,
}

/// The sources behind paths, in the order in which they are to be read: packages, then tables that others refer to, then filings; and
/// the files of folders that are in no known format.
///
/// # Errors
/// A path of no known format; a CSV file that no table fits; a folder in use.
pub fn plan_import(folder: &Path, paths: &[PathBuf], choices: &Choices) -> Result<(Vec<Source>, Vec<PathBuf>), AppError> {
    let _lock = FolderLock::take(folder)?;
    plan(&People::open(folder)?, paths, choices)
}

/// As [`plan_import`], for those who hold the lock.
pub(crate) fn plan(people: &People, paths: &[PathBuf], choices: &Choices) -> Result<(Vec<Source>, Vec<PathBuf>), AppError> {
    let mut brought = Brought::of(paths)?;
    if brought.is_empty() && !brought.unknown.is_empty() {
        return Err(brought.unknown.swap_remove(0).1.into());
    }
    let mut tables = brought.tables.iter().map(|p| table(people, p, choices)).collect::<Result<Vec<_>, _>>()?;
    tables.sort_by_key(|(_, mapping)| mapping.table);
    let mut all: Vec<Source> = brought.packages.iter().cloned().map(Source::Package).collect();
    all.extend(tables.into_iter().map(|(path, mapping)| Source::Csv(path, mapping)));
    all.extend(brought.unasked());
    all.extend(filings(brought.filings, choices).map(Source::Filings));
    all.extend(filings(brought.ownership, choices).map(Source::Ownership));
    Ok((all, brought.unknown.into_iter().map(|(path, _)| path).collect()))
}

/// Filings with what was said of them in general, where nothing was said of each.
fn filings(mut all: Vec<FilingSource>, choices: &Choices) -> Option<Vec<FilingSource>> {
    for FilingSource { answers, .. } in &mut all {
        let general = choices.answers.clone();
        answers.company_id = answers.company_id.take().or(general.company_id);
        answers.filed_on = answers.filed_on.or(general.filed_on);
        answers.source = answers.source.take().or(general.source);
    }
    (!all.is_empty()).then_some(all)
}

fn table(people: &People, path: &Path, choices: &Choices) -> Result<(PathBuf, Mapping), AppError> {
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
    Ok((path.to_owned(), mapping))
}

/// The mapping, changed as was said.
fn chosen(mut mapping: Mapping, choices: &Choices) -> Mapping {
    let said = |column: &str| choices.columns.iter().any(|c| c.column == column) || choices.fixed.iter().any(|f| f.column == column);
    mapping.columns.retain(|c| !said(&c.column));
    mapping.fixed.retain(|c| !said(&c.column));
    mapping.columns.extend(choices.columns.iter().cloned());
    mapping.fixed.extend(choices.fixed.iter().cloned());
    mapping
}

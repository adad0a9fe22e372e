//! How paths given on the command line are to be taken.

use super::{brought::Brought, report::Source, run::mapping_for};
use crate::AppError;
use artemon_core::domain::{RateSeries, Table};
use artemon_formats::{
    ReadError, TableFile,
    filings::{Answers, FilingSource},
    mapped_table::{DateOrder, Dated, FixedCell, MappedColumn, Mapping, Sample, WideColumn, for_table},
    price_files::PriceAnswers,
    sdmx_csv::ObservationAnswers,
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
    /// How the columns of tables are taken, as it is saved.
    pub mapping: Option<Mapping>,
    /// The order of dates, where it cannot be told or was told wrong.
    pub dates: Option<DateOrder>,
    /// What is said of files with columns of values.
    pub wide: WideChoices,
    /// What is said of series of observations.
    pub observations: ObservationAnswers,
    /// What is said of files of prices that belong together.
    pub prices: PriceAnswers,
    /// What is said of filings that no `filings.csv` names.
    pub answers: Answers,
}

/// What is said of files in which several columns hold values.
#[derive(Clone, Debug, Default)]
pub struct WideChoices {
    /// Headers and what their values are of: a currency, or a series of rates.
    pub columns: Vec<(String, String)>,
    /// Whether values are percentages.
    pub percent: bool,
    /// Whether values are averages of months, known when they are over.
    pub monthly: bool,
    /// Whether values are levels of prices, of which the change over twelve months is taken.
    pub levels: bool,
}

impl WideChoices {
    fn apply(&self, mapping: &mut Mapping) {
        let Some(wide) = &mut mapping.wide else { return };
        let quote = if mapping.table == Table::Fx { "quote" } else { "currency" };
        let column = |(from, code): &(String, String)| {
            let column = if code.parse::<RateSeries>().is_ok() { "series" } else { quote };
            WideColumn { from: from.clone(), fixed: vec![FixedCell { column: column.to_owned(), value: code.clone() }] }
        };
        if !self.columns.is_empty() {
            wide.columns = self.columns.iter().map(column).collect();
        }
        if self.percent {
            wide.divide = 100.0;
        }
        if self.monthly {
            wide.dated = Dated::MonthEnd;
        }
        if self.levels {
            wide.yearly_change = true;
            wide.dated = Dated::NextMonthEnd;
        }
    }
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
    let mut tables = brought.tables.iter().map(|t| table(people, t, choices)).collect::<Result<Vec<_>, _>>()?;
    tables.sort_by_key(|(_, mapping)| mapping.table);
    let mut all: Vec<Source> = brought.packages.iter().cloned().map(Source::Package).collect();
    all.extend(tables.into_iter().map(|(table, mapping)| Source::Table(table, mapping)));
    all.extend(brought.unasked());
    all.extend(brought.observations.iter().map(|path| Source::Observations(path.clone(), choices.observations.clone())));
    all.extend(brought.prices.iter().map(|files| Source::Prices(files.clone(), choices.prices.clone())));
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

fn table(people: &People, table: &TableFile, choices: &Choices) -> Result<(TableFile, Mapping), AppError> {
    let sample = Sample::of_table(table)?;
    let mapping = match (&choices.mapping, choices.table) {
        (Some(mapping), _) => mapping.clone(),
        (None, Some(table)) => for_table(&sample, table),
        (None, None) => mapping_for(people, &people.local(), &sample)?.0.ok_or_else(|| ReadError::Table {
            file: sample.file.clone(),
            problem: "its columns fit no table. Say which with --table, and map columns with --map COLUMN=HEADER".to_owned(),
        })?,
    };
    let mapping = chosen(mapping, choices);
    mapping.check(&sample.headers).map_err(|problem| ReadError::Table { file: sample.file.clone(), problem })?;
    Ok((table.clone(), mapping))
}

/// The mapping, changed as was said.
fn chosen(mut mapping: Mapping, choices: &Choices) -> Mapping {
    let said = |column: &str| choices.columns.iter().any(|c| c.column == column) || choices.fixed.iter().any(|f| f.column == column);
    mapping.columns.retain(|c| !said(&c.column));
    mapping.fixed.retain(|c| !said(&c.column));
    mapping.columns.extend(choices.columns.iter().cloned());
    mapping.fixed.extend(choices.fixed.iter().cloned());
    mapping.dates = choices.dates.unwrap_or(mapping.dates);
    choices.wide.apply(&mut mapping);
    mapping
}

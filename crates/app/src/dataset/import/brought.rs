//! Files sorted by what they are.

use super::report::Source;
use crate::AppError;
use artemon_formats::{
    ReadError, TableFile,
    filings::{Answers, FilingSource, companions, read_answers},
    mapped_table::{Sample, guess},
    price_files::{PriceFiles, looks_like_prices},
    registry::{Format, recognise},
    workbook::{self, Sheet},
};
use std::{
    collections::{HashMap, HashSet},
    fs,
    path::{Path, PathBuf},
};

/// Files by what they are.
#[derive(Debug, Default)]
pub(crate) struct Brought {
    /// Data Packages.
    pub(crate) packages: Vec<PathBuf>,
    /// Tables, each a file or a sheet of a workbook, their columns to be mapped.
    pub(crate) tables: Vec<TableFile>,
    /// Series of observations.
    pub(crate) observations: Vec<PathBuf>,
    /// Files of prices that belong together.
    pub(crate) prices: Vec<PriceFiles>,
    /// Filings, with what a file of answers beside them says.
    pub(crate) filings: Vec<FilingSource>,
    /// Ownership filings, likewise.
    pub(crate) ownership: Vec<FilingSource>,
    /// What joins filers' numbers with companies.
    pub(crate) identifiers: Vec<PathBuf>,
    /// Facts of filers.
    pub(crate) facts: Vec<PathBuf>,
    /// Filings as an export of the dataset writes them.
    pub(crate) statement_reports: Vec<PathBuf>,
    /// Quarterly sets of statements.
    pub(crate) statement_sets: Vec<PathBuf>,
    /// Quarterly sets of insiders' trades.
    pub(crate) insider_sets: Vec<PathBuf>,
    /// Other files of sets, which are read with the one that leads their set.
    parts: Vec<PathBuf>,
    /// Files of a folder that are in no known format, with the reason.
    pub(crate) unknown: Vec<(PathBuf, ReadError)>,
}

impl Brought {
    /// Sorts files; of folders that are no packages what is in them. A file that was named itself must be in a known format.
    ///
    /// # Errors
    /// A path that does not exist; a file in no known format; a file of answers that cannot be read.
    pub(crate) fn of(paths: &[PathBuf]) -> Result<Brought, AppError> {
        let mut brought = Brought::default();
        let mut answers: HashMap<PathBuf, Answers> = HashMap::new();
        for path in paths {
            if path.is_dir() && !path.join("datapackage.json").exists() {
                for file in files_below(path) {
                    match recognise(&file) {
                        // Beside other files a page is nothing; one that was named is refused with the reason.
                        Ok(Format::Page) => brought.unknown.push((file.clone(), no_facts(&file))),
                        found => {
                            if let Err(reason) = found.and_then(|format| brought.sort(&file, format, &mut answers)) {
                                brought.unknown.push((file, reason));
                            }
                        }
                    }
                }
            } else {
                brought.sort(path, recognise(path)?, &mut answers)?;
            }
        }
        brought.answer(&answers)?;
        brought.gather_prices();
        brought.name_stray_parts();
        Ok(brought)
    }

    /// The sheets that a person sees; of several those that are called like a table, where there are such.
    fn sheets(&mut self, path: &Path) -> Result<(), ReadError> {
        let sheets = workbook::sheets(path)?;
        let is_table = |s: &Sheet| s.is_visible && workbook::table_of(&s.name).is_some();
        let any = sheets.iter().any(is_table);
        for sheet in sheets {
            let table = TableFile { path: path.to_owned(), sheet: Some(sheet.name.clone()) };
            if sheet.is_visible && (!any || is_table(&sheet)) {
                self.tables.push(table);
                continue;
            }
            let problem = if sheet.is_visible { "the sheet is called like no table" } else { "the sheet is hidden" };
            let reason = ReadError::Table { file: table.name(), problem: problem.to_owned() };
            self.unknown.push((table.path.join(&sheet.name), reason));
        }
        Ok(())
    }

    /// Several files of prices that lack their symbol or their day belong together, and so do the files beside them that are no table.
    fn gather_prices(&mut self) {
        let texts = self.tables.iter().filter(|t| t.sheet.is_none());
        let samples: Vec<(PathBuf, Option<Sample>)> = texts.map(|t| (t.path.clone(), Sample::of_table(t).ok())).collect();
        let of_prices = |s: &Option<Sample>| s.as_ref().is_some_and(looks_like_prices);
        let folders: HashSet<&Path> = samples.iter().filter(|s| of_prices(&s.1)).filter_map(|s| s.0.parent()).collect();
        if samples.iter().filter(|s| of_prices(&s.1)).count() < 2 {
            return;
        }
        let fits = |s: &Option<Sample>| s.as_ref().is_some_and(|s| guess(s).is_some());
        let beside = |path: &Path| path.parent().is_some_and(|p| folders.contains(p));
        let belongs = |(path, s): &&(PathBuf, Option<Sample>)| of_prices(s) || (beside(path) && !fits(s));
        let files: Vec<PathBuf> = samples.iter().filter(belongs).map(|s| s.0.clone()).collect();
        self.tables.retain(|t| !files.contains(&t.path));
        self.prices.push(PriceFiles::Files(files));
    }

    /// A file of a set without the one that leads it says nothing.
    fn name_stray_parts(&mut self) {
        let led: HashSet<&Path> = self.statement_sets.iter().chain(&self.insider_sets).filter_map(|set| set.parent()).collect();
        let stray = self.parts.iter().filter(|part| part.parent().is_none_or(|folder| !led.contains(folder)));
        self.unknown.extend(stray.map(|part| {
            let file = part.file_name().unwrap_or_default().to_string_lossy().into_owned();
            let problem =
                "it is a file of a set; bring it together with sub.txt or SUBMISSION.tsv, which lists the set's filings".to_owned();
            (part.clone(), ReadError::Unusable { file, problem })
        }));
    }

    fn sort(&mut self, path: &Path, format: Format, answers: &mut HashMap<PathBuf, Answers>) -> Result<(), ReadError> {
        let filing = || FilingSource { path: path.to_owned(), answers: Answers::default() };
        match format {
            Format::DataPackage => self.packages.push(path.to_owned()),
            Format::CsvTable | Format::Parquet => self.tables.push(TableFile::of(path)),
            Format::Observations => self.observations.push(path.to_owned()),
            Format::Workbook => self.sheets(path)?,
            Format::PriceArchive => self.prices.push(PriceFiles::Zip(path.to_owned())),
            Format::Filing | Format::Page => self.filings.push(filing()),
            Format::Ownership => self.ownership.push(filing()),
            Format::Identifiers => self.identifiers.push(path.to_owned()),
            Format::CompanyFacts => self.facts.push(path.to_owned()),
            Format::StatementReport => self.statement_reports.push(path.to_owned()),
            Format::StatementSet => self.statement_sets.push(path.to_owned()),
            Format::InsiderSet => self.insider_sets.push(path.to_owned()),
            Format::PartOfSet => self.parts.push(path.to_owned()),
            Format::Answers => {
                let folder = path.parent().unwrap_or_else(|| Path::new(""));
                answers.extend(read_answers(path)?.into_iter().map(|(file, said)| (folder.join(file), said)));
            }
        }
        Ok(())
    }

    /// Gives filings what is said of them, and takes away what only belongs to one of them.
    fn answer(&mut self, answers: &HashMap<PathBuf, Answers>) -> Result<(), AppError> {
        let mut beside: HashMap<PathBuf, HashMap<PathBuf, Answers>> = HashMap::new();
        for source in self.filings.iter_mut().chain(&mut self.ownership) {
            let folder = source.path.parent().unwrap_or_else(|| Path::new("")).to_owned();
            if !beside.contains_key(&folder) {
                beside.insert(folder.clone(), said_beside(&folder)?);
            }
            let said = answers.get(&source.path).or_else(|| beside.get(&folder)?.get(&source.path));
            source.answers = said.cloned().unwrap_or_default();
        }
        let parts: HashSet<PathBuf> = self.filings.iter().flat_map(|f| companions(&f.path)).collect();
        self.tables.retain(|table| !parts.contains(&table.path));
        Ok(())
    }

    /// What needs no answers, in the order in which it is taken.
    pub(crate) fn unasked(&self) -> impl Iterator<Item = Source> + '_ {
        let identifiers = self.identifiers.iter().cloned().map(Source::Identifiers);
        let facts = self.facts.iter().cloned().map(Source::CompanyFacts);
        let sets = |all: &[PathBuf], source: fn(Vec<PathBuf>) -> Source| (!all.is_empty()).then(|| source(all.to_vec()));
        let statements = sets(&self.statement_sets, Source::StatementSets);
        let reports = sets(&self.statement_reports, Source::StatementReports);
        reports.into_iter().chain(identifiers).chain(facts).chain(statements).chain(sets(&self.insider_sets, Source::InsiderSets))
    }

    /// Whether nothing of it can be taken.
    pub(crate) fn is_empty(&self) -> bool {
        let sets = [&self.statement_reports, &self.statement_sets, &self.insider_sets];
        let files = [&self.packages, &self.observations, &self.identifiers, &self.facts];
        let is_none = files.iter().chain(&sets).all(|f| f.is_empty()) && self.tables.is_empty() && self.prices.is_empty();
        is_none && self.filings.is_empty() && self.ownership.is_empty()
    }
}

fn no_facts(page: &Path) -> ReadError {
    let file = page.file_name().unwrap_or_default().to_string_lossy().into_owned();
    ReadError::Unusable { file, problem: "it is a page without figures to be read".to_owned() }
}

/// What a `filings.csv` in a folder says.
fn said_beside(folder: &Path) -> Result<HashMap<PathBuf, Answers>, ReadError> {
    let path = folder.join("filings.csv");
    if !path.is_file() || recognise(&path)? != Format::Answers {
        return Ok(HashMap::new());
    }
    Ok(read_answers(&path)?.into_iter().map(|(file, said)| (folder.join(file), said)).collect())
}

/// The files below a folder, by name; hidden ones left out.
pub(crate) fn files_below(folder: &Path) -> Vec<PathBuf> {
    let (mut files, mut folders) = (Vec::new(), vec![folder.to_owned()]);
    while let Some(next) = folders.pop() {
        for path in fs::read_dir(next).into_iter().flatten().filter_map(|e| Some(e.ok()?.path())) {
            let is_hidden = path.file_name().is_some_and(|n| n.to_string_lossy().starts_with('.'));
            if path.is_dir() {
                folders.push(path);
            } else if !is_hidden {
                files.push(path);
            }
        }
    }
    files.sort();
    files
}

//! What can be wrong with data that is brought in, said so that the person can mend it.

use crate::{
    filings::{FactCount, OwnFact},
    spreadsheet::harmless,
    tables::CellError,
};
use artemon_core::{domain::Table, filings::Outcome};
use serde::Serialize;
use std::{
    collections::{BTreeMap, HashMap},
    fmt,
    path::PathBuf,
};

/// One value that cannot be taken, with its place and its remedy.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, utoipa::ToSchema)]
pub struct BadCell {
    /// File within the package.
    pub file: String,
    /// Line in the file, the header being line 1.
    pub line: u64,
    /// Column by its header.
    pub column: String,
    /// What stands there.
    pub value: String,
    /// What was expected.
    pub expected: String,
    /// What to do.
    pub remedy: String,
}

impl BadCell {
    /// A value at a place that knows its column by name.
    pub(crate) fn at(file: &str, line: u64, column: &str, value: &str, expected: &str, remedy: &str) -> BadCell {
        let [file, column, value, expected, remedy] = [file, column, value, expected, remedy].map(str::to_owned);
        BadCell { file, line, column, value, expected, remedy }
    }

    pub(crate) fn of(file: &str, line: u64, column: &str, cell: CellError) -> BadCell {
        BadCell {
            file: file.to_owned(),
            line,
            column: column.to_owned(),
            value: cell.value,
            expected: cell.expected,
            remedy: cell.remedy.to_owned(),
        }
    }
}

impl fmt::Display for BadCell {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let BadCell { file, line, column, value, expected, remedy } = self;
        let line = if *line > 0 { format!(", line {line}") } else { String::new() };
        write!(f, "{file}{line}, column {column}: \"{value}\" is not {expected}. {remedy}")
    }
}

/// Something that made no row, or of which a person should know.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, utoipa::ToSchema)]
pub struct ReadNote {
    /// The file.
    pub file: String,
    /// What it is.
    pub what: String,
    /// How many.
    pub count: u64,
    /// Which, or why.
    pub detail: String,
}

/// What was read.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct ReadReport {
    /// Good rows of each table.
    pub rows: Vec<(Table, u64)>,
    /// Bad rows, the first thousand in full.
    pub bad: Vec<BadCell>,
    /// How many bad rows there were in all.
    pub bad_rows: u64,
    /// Files and columns that were kept out because nothing is known of them.
    pub kept_out: Vec<String>,
    /// Codes of countries and currencies that are well formed but in no list.
    pub odd_codes: Vec<String>,
    /// What made no row, or of which a person should know.
    pub notes: Vec<ReadNote>,
    /// How often each was said, and where the rest of them is counted.
    #[serde(skip)]
    said: HashMap<String, (usize, Option<usize>)>,
    /// What a person may want to look at, in sentences.
    pub warnings: Vec<String>,
    /// What became of the facts of filings.
    pub facts: Vec<FactCount>,
    /// The same of files beyond the first, together.
    #[serde(skip)]
    pub more_facts: BTreeMap<(Outcome, String), u64>,
    /// Concepts of companies' own.
    pub own_concepts: Vec<OwnFact>,
    /// Whose filings were, by the identifiers in them.
    pub identified: Vec<(String, String)>,
}

/// Notes that say the same, notes and warnings in all, and counts of facts by file, that a report keeps in full.
const MOST_ALIKE: usize = 200;
const MOST_SAID: usize = 1_000;
const MOST_COUNTS: usize = 2_000;
/// The file of what is counted over all files that are not listed by themselves.
const OTHER_FILES: &str = "other files";
/// What stands for concepts that are not listed by themselves.
const OTHER_CONCEPTS: &str = "other concepts";

impl ReadReport {
    /// Adds a note; of very many that say the same of other things the rest is counted.
    pub(crate) fn note(&mut self, note: ReadNote) {
        let said = self.said.entry(note.what.clone()).or_insert((0, None));
        said.0 += 1;
        if said.0 <= MOST_ALIKE && self.notes.len() < MOST_SAID {
            self.notes.push(note);
            return;
        }
        match said.1 {
            Some(at) => self.notes[at].count += note.count,
            None => {
                said.1 = Some(self.notes.len());
                self.notes.push(ReadNote {
                    file: OTHER_FILES.to_owned(),
                    what: note.what,
                    count: note.count,
                    detail: "and more".to_owned(),
                });
            }
        }
    }

    /// Adds a warning, unless there are very many.
    pub(crate) fn warn(&mut self, warning: String) {
        if self.warnings.len() < MOST_SAID {
            self.warnings.push(warning);
        }
    }

    /// Adds what became of a file's facts: of very many concepts those with most facts, the rest together; of very many files all
    /// together.
    pub(crate) fn count_facts(&mut self, counts: impl Iterator<Item = FactCount>) {
        let mut counts: Vec<FactCount> = counts.collect();
        if self.facts.len() + counts.len().min(MOST_COUNTS / 4) > MOST_COUNTS {
            for FactCount { outcome, concept, count, .. } in counts {
                let is_new = self.more_facts.len() > MOST_COUNTS && !self.more_facts.contains_key(&(outcome, concept.clone()));
                let concept = if is_new { OTHER_CONCEPTS.to_owned() } else { concept };
                *self.more_facts.entry((outcome, concept)).or_default() += count;
            }
            return;
        }
        if counts.len() > MOST_COUNTS / 4 {
            counts.sort_by_key(|c| std::cmp::Reverse(c.count));
            let mut rest: BTreeMap<Outcome, FactCount> = BTreeMap::new();
            for FactCount { file, outcome, count, .. } in counts.split_off(MOST_COUNTS / 4 - Outcome::ALL.len()) {
                let none = FactCount { file, outcome, concept: OTHER_CONCEPTS.to_owned(), count: 0 };
                rest.entry(outcome).or_insert(none).count += count;
            }
            counts.extend(rest.into_values());
        }
        self.facts.extend(counts);
    }

    /// Takes out what became of facts, the files that are not listed by themselves together.
    pub fn take_facts(&mut self) -> Vec<FactCount> {
        let others = std::mem::take(&mut self.more_facts).into_iter().map(|((outcome, concept), count)| FactCount {
            file: OTHER_FILES.to_owned(),
            outcome,
            concept,
            count,
        });
        self.facts.extend(others);
        std::mem::take(&mut self.facts)
    }

    /// The bad rows as CSV, one a line.
    #[must_use]
    pub fn to_csv(&self) -> String {
        let mut out = csv::Writer::from_writer(Vec::new());
        let _ = out.write_record(["file", "line", "column", "value", "expected", "remedy"]);
        for b in &self.bad {
            let _ = out.write_record([&b.file, &b.line.to_string(), &b.column, &b.value, &b.expected, &b.remedy].map(|c| harmless(c)));
        }
        out.into_inner().map(|bytes| String::from_utf8_lossy(&bytes).into_owned()).unwrap_or_default()
    }

    /// Adds the report of another file.
    pub fn add(&mut self, other: ReadReport) {
        self.rows.extend(other.rows);
        self.bad.extend(other.bad);
        self.bad_rows += other.bad_rows;
        self.kept_out.extend(other.kept_out);
        other.notes.into_iter().for_each(|note| self.note(note));
        other.warnings.into_iter().for_each(|warning| self.warn(warning));
        self.count_facts(other.facts.into_iter());
        for (of, count) in other.more_facts {
            *self.more_facts.entry(of).or_default() += count;
        }
        self.own_concepts.extend(other.own_concepts);
        self.identified.extend(other.identified);
        self.odd_codes.extend(other.odd_codes);
        self.odd_codes.sort_unstable();
        self.odd_codes.dedup();
    }
}

/// Why a package cannot be read at all.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum ReadError {
    #[error("{path} does not exist; check the path.")]
    Missing { path: PathBuf },
    #[error("{path} is not a Data Package: it has no datapackage.json. Choose the folder that holds one.")]
    NoDescriptor { path: PathBuf },
    #[error("{path} cannot be used: {problem}. Mend the descriptor or export the package again.")]
    BadDescriptor { path: PathBuf, problem: String },
    #[error("{path} is neither a folder nor a zip that can be read: {problem}. Choose the package's folder, its zip, or a CSV file.")]
    Zip { path: PathBuf, problem: String },
    #[error("{file} is not in UTF-8 but, by its first bytes, in UTF-16. Save it in the encoding UTF-8.")]
    Encoding { file: String },
    #[error("{file} cannot be used as a table: {problem}.")]
    Table { file: String, problem: String },
    #[error("{file} cannot be used: {problem}.")]
    Unusable { file: String, problem: String },
    #[error("{file} cannot be used as a filing: {problem}.")]
    Filing { file: String, problem: String },
    #[error("{file} does not say when it became public: filed_on is not known. Say on which day it was filed.{hint}")]
    FiledOn { file: String, hint: String },
    #[error("{file} is of the company with the identifier \"{identifier}\" ({scheme}), which no company has. Say whose it is.")]
    WhoseFiling { file: String, scheme: String, identifier: String },
    #[error("{file} was said to be of {company}, but {other} has its identifier {identifier}. Say whose it is, or correct the identifier.")]
    OtherCompany { file: String, company: String, other: String, identifier: String },
    #[error("{file}: there is no company \"{company}\". Import the company first, or correct its key.")]
    NoSuchCompany { file: String, company: String },
    #[error("The import was cancelled; nothing was taken.")]
    Cancelled,
    #[error("datapackage.json names the file \"{file}\", which lies outside the package. Only files of the package's own folder are read.")]
    Outside { file: String },
    #[error("datapackage.json names the file \"{file}\", which is not in the package. Add the file or take it off the list of resources.")]
    MissingFile { file: String },
    #[error("{file} has no column \"{column}\", without which its rows mean nothing. Add the column.")]
    MissingColumn { file: String, column: &'static str },
    #[error("{file}, line {line}: {problem}. Mend the line; the file must be UTF-8 text with comma-separated values.")]
    Csv { file: String, line: u64, problem: String },
    #[error("{file} cannot be read: {source}.")]
    Io { file: String, source: std::io::Error },
    /// Taking the rows in failed.
    #[error(transparent)]
    Taking(Box<dyn std::error::Error + Send + Sync>),
}

/// Why a package cannot be written.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum WriteError {
    #[error("{path} exists and is not empty; choose a new folder so that nothing is overwritten.")]
    NotEmpty { path: PathBuf },
    #[error("A text of {key} in {table} is longer than a cell of a workbook can be; export a Data Package instead.")]
    TooLong { table: artemon_core::domain::Table, key: String },
    #[error("The export could not be written to its end: {source}.")]
    Stream { source: std::io::Error },
    #[error("{path} cannot be written: {source}.")]
    Io { path: PathBuf, source: std::io::Error },
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Of very many files a report stays short, and every fact is counted once.
    #[test]
    fn reports_of_very_many_files_stay_short() {
        let mut report = ReadReport::default();
        for i in 0..5_000 {
            let file = format!("{i}.json");
            let count = FactCount { file: file.clone(), outcome: Outcome::Used, concept: "us-gaap:Assets".to_owned(), count: 3 };
            report.count_facts(std::iter::once(count));
            report.note(ReadNote { file, what: "unknown filer".to_owned(), count: 1, detail: String::new() });
            report.warn(String::new());
        }
        let facts = report.take_facts();
        assert_eq!((facts.len(), facts.iter().map(|f| f.count).sum::<u64>()), (MOST_COUNTS + 1, 15_000));
        assert_eq!((report.notes.len(), report.notes[MOST_ALIKE].count, report.warnings.len()), (MOST_ALIKE + 1, 4_800, MOST_SAID));
    }
}

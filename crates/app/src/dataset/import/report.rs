//! What an import takes, and what became of it.

use artemon_core::domain::Table;
use artemon_formats::{
    BadCell, ReadNote, ReadReport, TableFile,
    filings::{FactCount, FilingSource, OwnFact},
    mapped_table::Mapping,
    price_files::{PriceAnswers, PriceFiles},
    sdmx_csv::ObservationAnswers,
    statement_sets::NewFilers,
};
use serde::Serialize;
use std::path::PathBuf;
use utoipa::ToSchema;

/// Where data comes from.
#[derive(Clone, Debug, PartialEq)]
pub enum Source {
    /// A Data Package: a folder or a zip.
    Package(PathBuf),
    /// A table of a file under a mapping.
    Table(TableFile, Mapping),
    /// Files of prices that belong together.
    Prices(PriceFiles, PriceAnswers),
    /// Series of observations.
    Observations(PathBuf, ObservationAnswers),
    /// Filings, taken in the order in which they were filed.
    Filings(Vec<FilingSource>),
    /// Ownership filings, likewise.
    Ownership(Vec<FilingSource>),
    /// What joins filers' numbers with companies.
    Identifiers(PathBuf),
    /// All facts of filers.
    CompanyFacts(PathBuf),
    /// Filings as an export of the dataset writes them.
    StatementReports(Vec<PathBuf>),
    /// Quarterly sets of statements, each a zip or a file of a folder.
    StatementSets(Vec<PathBuf>),
    /// Quarterly sets of insiders' trades, likewise.
    InsiderSets(Vec<PathBuf>),
}

/// What to import.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ImportRequest {
    /// How it is called in lists.
    pub title: String,
    /// The files, all in one transaction.
    pub sources: Vec<Source>,
    /// Take the good rows and report the others.
    pub skip_bad_rows: bool,
    /// Of bulk files only these companies: keys, symbols, ISINs or numbers of the register; empty for all.
    pub only: Vec<String>,
    /// What becomes of filers that no company is known of.
    pub new_filers: NewFilers,
}

impl ImportRequest {
    /// Whoever asks for some companies wants no others.
    pub(super) fn new_filers(&self) -> NewFilers {
        if self.only.is_empty() { self.new_filers } else { NewFilers::LeaveOut }
    }
}

/// How many rows of a table.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TableRows {
    #[schema(value_type = String)]
    pub table: Table,
    pub rows: u64,
}

/// What an import did.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ImportReport {
    pub rows: u64,
    /// Good rows of each table.
    pub tables: Vec<TableRows>,
    pub bad_rows: u64,
    /// Bad rows, the first thousand.
    pub bad: Vec<BadCell>,
    /// Files and columns that were kept out because nothing is known of them.
    pub kept_out: Vec<String>,
    /// Codes of countries and currencies that are well formed but in no list.
    pub odd_codes: Vec<String>,
    /// What made no row, or of which a person should know.
    pub notes: Vec<ReadNote>,
    /// What a person may want to look at, in sentences.
    pub warnings: Vec<String>,
    /// What became of the facts of filings, by file, outcome and concept.
    pub facts: Vec<FactCount>,
    /// Concepts of companies' own, which may be mapped.
    pub own_concepts: Vec<OwnFact>,
}

impl From<ReadReport> for ImportReport {
    fn from(mut r: ReadReport) -> ImportReport {
        ImportReport {
            facts: r.take_facts(),
            rows: r.rows.iter().map(|t| t.1).sum(),
            tables: r.rows.iter().map(|(table, rows)| TableRows { table: *table, rows: *rows }).collect(),
            bad_rows: r.bad_rows,
            bad: r.bad,
            kept_out: r.kept_out,
            odd_codes: r.odd_codes,
            notes: r.notes,
            warnings: r.warnings,
            own_concepts: r.own_concepts,
        }
    }
}

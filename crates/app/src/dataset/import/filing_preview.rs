//! Brought filings as they will be taken, and what a person is asked of them.

use super::register::Register;
use artemon_core::{
    domain::Day,
    filings::{Document, Fact, FactValue},
};
use artemon_formats::{
    ReadError, entity_parts,
    filings::{self, Answers, Filers, FilingSource},
    ownership::Issuers,
    ownership_xml,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Concepts that name the company, in the order in which they are tried.
const NAMES: [&str; 2] = ["dei:EntityRegistrantName", "ifrs-full:NameOfReportingEntityOrOtherMeansOfIdentification"];

/// A filing as it will be taken.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
pub struct FilingPreview {
    /// The file.
    pub file: String,
    /// "statements" or "insider trades".
    pub of: String,
    /// The company as the filing calls it.
    pub name: String,
    /// The identifier in the filing.
    pub identifier: String,
    /// The last day that it covers.
    #[schema(value_type = Option<String>)]
    pub period_end: Option<Day>,
    /// How many facts or transactions it states.
    pub facts: u64,
    /// What is known of what a person is asked; the company may be answered by symbol or ISIN too.
    pub answers: Answers,
    /// The company of the answer by its name.
    pub company: Option<String>,
    /// A day that may be the one of filing: of the signature or of the authorisation.
    #[schema(value_type = Option<String>)]
    pub suggested: Option<Day>,
    /// What keeps it from being read.
    pub problem: Option<String>,
}

/// What a person said of a file.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FileAnswers {
    /// The file.
    pub file: String,
    /// What was said.
    pub answers: Answers,
}

/// A filing of statements.
pub(super) fn of_statements(register: &Register<'_>, file: &str, source: &FilingSource) -> FilingPreview {
    let preview = FilingPreview { file: file.to_owned(), of: "statements".to_owned(), ..FilingPreview::default() };
    let opened = match filings::open(&source.path, &register.own) {
        Ok(opened) => opened,
        Err(e) => return FilingPreview { problem: Some(problem(&e)), ..preview },
    };
    let document = Document::of(&opened.facts);
    let (scheme, identifier) = document.entity.as_deref().map_or(("", ""), entity_parts);
    let mut answers = source.answers.clone();
    answers.company_id = answers.company_id.or_else(|| register.identified(scheme, identifier).map(|id| id.to_string()));
    FilingPreview {
        name: NAMES.iter().find_map(|name| text(&opened.facts, name)).unwrap_or_default(),
        identifier: identifier.to_owned(),
        period_end: document.period_end,
        facts: opened.facts.len() as u64,
        company: name(register, &answers),
        answers,
        suggested: opened.authorised_on,
        ..preview
    }
}

/// A filing of trades.
pub(super) fn of_trades(register: &Register<'_>, file: &str, source: &FilingSource) -> FilingPreview {
    let preview = FilingPreview { file: file.to_owned(), of: "insider trades".to_owned(), ..FilingPreview::default() };
    let document = match ownership_xml::open(&source.path) {
        Ok(document) => document,
        Err(e) => return FilingPreview { problem: Some(problem(&e)), ..preview },
    };
    let mut answers = source.answers.clone();
    answers.company_id = answers.company_id.or_else(|| register.listed(&document.issuer.symbol).map(|(id, _)| id.to_string()));
    FilingPreview {
        name: document.issuer.name.clone(),
        identifier: document.issuer.symbol.clone(),
        facts: document.transactions.len() as u64,
        company: name(register, &answers),
        answers,
        suggested: document.signed_on,
        ..preview
    }
}

fn name(register: &Register<'_>, answers: &Answers) -> Option<String> {
    register.find(answers.company_id.as_deref()?).map(|c| c.name.clone())
}

fn text(facts: &[Fact], concept: &str) -> Option<String> {
    let fact = facts.iter().find(|f| f.concept.name == concept && !f.dimensioned)?;
    if let FactValue::Text(text) = &fact.value { Some(text.clone()).filter(|t| !t.is_empty()) } else { None }
}

/// Without the file's name, which stands beside it.
fn problem(e: &ReadError) -> String {
    match e {
        ReadError::Filing { problem, .. } | ReadError::Unusable { problem, .. } => problem.clone(),
        other => other.to_string().trim_end_matches('.').to_owned(),
    }
}

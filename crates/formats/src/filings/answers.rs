//! What a file of XBRL does not say and a person is asked: whose it is, and on which day it became public.

use super::file_name;
use crate::{ReadError, text::decode};
use artemon_core::domain::Day;
use serde::{Deserialize, Serialize};
use std::{collections::HashMap, fs, path::Path};

/// What a person said of a filing.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Answers {
    /// The company; where not given the identifier in the file tells.
    pub company_id: Option<String>,
    /// The day on which it became public: never taken from the file.
    #[schema(value_type = Option<String>)]
    pub filed_on: Option<Day>,
    /// The reference to the document; its file's name where not given.
    pub source: Option<String>,
}

/// The columns of a file of answers.
const COLUMNS: [&str; 4] = ["file", "company_id", "filed_on", "source"];

/// Whether a file's first line is the header of a file of answers.
pub(crate) fn is_answers(header: &str) -> bool {
    let [file, _, filed_on, _] = COLUMNS;
    let names: Vec<String> = header.split(',').map(|c| c.trim().to_lowercase()).collect();
    names.iter().any(|n| n == file) && names.iter().any(|n| n == filed_on) && names.iter().all(|n| COLUMNS.contains(&n.as_str()))
}

/// Reads a `filings.csv`: a line a file, with the columns file, `company_id`, `filed_on` and source, the first and third of them needed.
///
/// # Errors
/// A file that cannot be read; a day that is none.
pub fn read_answers(path: &Path) -> Result<HashMap<String, Answers>, ReadError> {
    let file = file_name(path);
    let bytes = fs::read(path).map_err(|source| ReadError::Io { file: file.clone(), source })?;
    let problem = |line: u64, problem: String| ReadError::Csv { file: file.clone(), line, problem };
    let text = decode(&bytes).map_err(|p| problem(1, p))?;
    let mut csv = csv::ReaderBuilder::new().trim(csv::Trim::All).from_reader(text.as_bytes());
    let header = csv.headers().map_err(|e| problem(1, e.to_string()))?.clone();
    let [file_at, company_at, filed_at, source_at] = COLUMNS.map(|c| header.iter().position(|h| h.eq_ignore_ascii_case(c)));
    if file_at.is_none() || filed_at.is_none() {
        return Err(problem(1, "it needs the columns file and filed_on".to_owned()));
    }
    let mut all = HashMap::new();
    for record in csv.records() {
        let record = record.map_err(|e| problem(e.position().map_or(0, csv::Position::line), e.to_string()))?;
        let cell = |at: Option<usize>| at.and_then(|i| record.get(i)).filter(|c| !c.is_empty());
        let line = record.position().map_or(0, csv::Position::line);
        let day = |text: &str| text.parse::<Day>().map_err(|_| problem(line, format!("\"{text}\" is no date; write it like 2024-06-30")));
        let Some(name) = cell(file_at) else { continue };
        let answers = Answers {
            company_id: cell(company_at).map(str::to_owned),
            filed_on: cell(filed_at).map(day).transpose()?,
            source: cell(source_at).map(str::to_owned),
        };
        all.insert(name.to_owned(), answers);
    }
    Ok(all)
}

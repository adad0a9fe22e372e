//! Filings in any form of XBRL → rows of statements, in the order in which they were filed.

mod answers;
pub(crate) mod report;

pub(crate) use answers::is_answers;
pub use answers::{Answers, read_answers};
pub(crate) use report::Counts;
pub use report::{FactCount, OwnFact};

use crate::{
    BadCell, Progress, ReadError, ReadReport, Reading, inline_xbrl,
    reading::Take,
    text::{decode, is_object, shortened},
    xbrl::{FilingFile, LEI_SCHEME, OwnConcepts, entity_parts},
    xbrl_csv, xbrl_json, xbrl_xml,
    xml::outermost,
};
use artemon_core::{
    domain::{Company, Record, Table},
    filings::{Document, Fact, FactValue, Filer, Filing, Known, Outcome},
};
use serde::Deserialize;
use std::{
    collections::{HashMap, hash_map::Entry},
    fs,
    path::{Path, PathBuf},
    sync::Arc,
};

/// The largest filing that is read, in bytes: it is held in memory.
pub(crate) const LARGEST: u64 = 256 << 20;

/// The largest metadata of xBRL-CSV that is read for the tables it names.
const LARGEST_METADATA: u64 = 16 << 20;

/// Characters of what is wrong with a file: it may quote the file.
pub(crate) const LONGEST_PROBLEM: usize = 300;

/// A form of XBRL.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// An instance of XBRL 2.1.
    Instance,
    /// A page with Inline XBRL.
    Inline,
    /// xBRL-JSON.
    Json,
    /// The metadata of xBRL-CSV.
    Csv,
}

/// Companies as filings need them.
pub trait Filers {
    /// A company by its key.
    fn filer(&self, company_id: &str) -> Option<Filer>;
    /// The row of a company.
    fn company_row(&self, company_id: &str) -> Option<Company>;
    /// The company of an identifier.
    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>>;
    /// What is known of a company's statements.
    ///
    /// # Errors
    /// When it cannot be read.
    fn known(&self, company_id: &str) -> Result<Known, ReadError>;
}

/// A filing to be taken.
#[derive(Clone, Debug, PartialEq)]
pub struct FilingSource {
    /// Its file.
    pub path: PathBuf,
    /// What a person said of it.
    pub answers: Answers,
}

/// The form of a text by its content; `None` where it is none of them.
#[must_use]
pub fn form_of(text: &str) -> Option<Form> {
    if is_object(text) {
        return json_form(text);
    }
    // A page's first element tells only that it is one; whether facts are in it is told by its header.
    match outermost(text)? {
        (namespace, name) if xbrl_xml::is_instance(&namespace, &name) => Some(Form::Instance),
        (_, name) if name == "html" => Some(Form::Inline),
        _ => None,
    }
}

/// The files that belong to a filing and say nothing without it: the tables of xBRL-CSV.
#[must_use]
pub fn companions(path: &Path) -> Vec<PathBuf> {
    if file_size(path) > LARGEST_METADATA {
        return Vec::new();
    }
    let folder = path.parent().unwrap_or_else(|| Path::new(""));
    let bytes = fs::read(path).unwrap_or_default();
    let tables = decode(&bytes).ok().filter(|text| is_object(text)).map(|text| xbrl_csv::tables(&text)).unwrap_or_default();
    tables.into_iter().map(|table| folder.join(table)).collect()
}

fn json_form(text: &str) -> Option<Form> {
    #[derive(Deserialize)]
    #[serde(rename_all = "camelCase")]
    struct Head {
        document_info: crate::xbrl::DocumentInfo,
    }
    let info = serde_json::from_str::<Head>(text).ok()?.document_info;
    if info.is(xbrl_csv::FORM) { Some(Form::Csv) } else { info.is(xbrl_json::FORM).then_some(Form::Json) }
}

/// The facts of a file in any form.
///
/// # Errors
/// A file that cannot be read, is in none of the forms, or states no facts.
pub fn open(path: &Path, own: &OwnConcepts) -> Result<FilingFile, ReadError> {
    let file = file_name(path);
    let io = |source| ReadError::Io { file: file.clone(), source };
    let unusable = |problem: String| ReadError::Filing { file: file.clone(), problem: shortened(&problem, LONGEST_PROBLEM) };
    if fs::metadata(path).map_err(io)?.len() > LARGEST {
        return Err(unusable(format!("it is larger than {} MB, as no filing is", LARGEST >> 20)));
    }
    let bytes = fs::read(path).map_err(io)?;
    let text = decode(&bytes).map_err(unusable)?;
    let folder = path.parent().unwrap_or_else(|| Path::new("."));
    let read = match form_of(&text) {
        Some(Form::Inline) => inline_xbrl::read(&text, own),
        Some(Form::Json) => xbrl_json::read(&text, own),
        Some(Form::Csv) => xbrl_csv::read(&text, folder, own),
        // What is wrong with text in no form is told by the strictest reader.
        None if is_object(&text) => xbrl_json::read(&text, own),
        Some(Form::Instance) | None => xbrl_xml::read(&text, own),
    };
    read.map_err(unusable)
}

/// A file by its name, as reports call it.
pub(crate) fn file_name(path: &Path) -> String {
    path.file_name().map_or_else(|| path.display().to_string(), |n| n.to_string_lossy().into_owned())
}

/// Takes filings one after the other, in the order in which they were filed, and then by the names of their files.
///
/// # Errors
/// A file that cannot be read; one of which company or day are not known; a reading that refuses a row or ends it.
pub fn read(sources: &[FilingSource], own: &OwnConcepts, filers: &dyn Filers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let mut sources: Vec<(&FilingSource, String)> = sources.iter().map(|s| (s, file_name(&s.path))).collect();
    sources.sort_by(|a, b| (a.0.answers.filed_on, &a.1).cmp(&(b.0.answers.filed_on, &b.1)));
    let (mut take, mut known) = (Take::new(reading), HashMap::new());
    take.progress =
        Progress { table: Table::Statements, bytes_in_all: sources.iter().map(|s| file_size(&s.0.path)).sum(), ..take.progress };
    for (source, file) in sources {
        let opened = open(&source.path, own)?;
        let (filer, filing, own_names, unread) = filing(&file, opened, &source.answers, filers)?;
        let known = match known.entry(filer.company_id.clone()) {
            Entry::Occupied(known) => known.into_mut(),
            Entry::Vacant(new) => new.insert(filers.known(&filer.company_id)?),
        };
        let filed = filing.rows(&filer, known);
        let mut counts = Counts::default();
        counts.add(&filing.facts, &filed.outcomes);
        take.report.count_facts(counts.of(&file));
        report::add(&mut take.report, &file, &filing.facts, &filed, &own_names);
        if let Some(entity) = new_identity(&filing.document, &filer, filers) {
            take.report.identified.push((entity.to_owned(), filer.company_id.to_string()));
            of_one_company(&take.report.identified, &file)?;
        }
        for (fact, line) in unread {
            bad(&file, &filing.facts[fact], filed.outcomes[fact], line).into_iter().for_each(|cell| take.bad(cell));
        }
        let now = take.progress;
        filed.rows.into_iter().try_for_each(|row| take.good(Record::Statement(Box::new(row)), now))?;
        take.finished_file(file_size(&source.path));
        take.tell()?;
    }
    let rows = take.progress.rows - take.report.bad_rows;
    take.report.rows.push((Table::Statements, rows));
    Ok(take.report)
}

/// How large a file is, 0 where it cannot be looked at.
pub(crate) fn file_size(path: &Path) -> u64 {
    fs::metadata(path).map_or(0, |m| m.len())
}

type Opened = (Filer, Filing, HashMap<String, String>, Vec<(usize, u64)>);

/// What a file states together with what a person said of it.
fn filing(file: &str, opened: FilingFile, answers: &Answers, filers: &dyn Filers) -> Result<Opened, ReadError> {
    let FilingFile { facts, own, unread, authorised_on } = opened;
    let document = Document::of(&facts);
    let filed_on = answers.filed_on.ok_or_else(|| ReadError::FiledOn {
        file: file.to_owned(),
        hint: authorised_on.map(|day| format!(" Its figures were authorised on {day}.")).unwrap_or_default(),
    })?;
    let filer = filer(file, &document, answers, filers)?;
    let source = answers.source.clone().unwrap_or_else(|| file.to_owned());
    Ok((filer, Filing { filed_on, source, document, facts, rounded_days: false }, own, unread))
}

/// Whose a filing is: the given company, unless the filing's own legal entity identifier is another company's; else the company of the
/// identifier.
fn filer(file: &str, document: &Document, answers: &Answers, filers: &dyn Filers) -> Result<Filer, ReadError> {
    let file = || file.to_owned();
    let (scheme, identifier) = document.entity.as_deref().map_or(("", ""), entity_parts);
    let identified = filers.identified(scheme, identifier);
    let Some(given) = &answers.company_id else {
        let unknown = || ReadError::WhoseFiling { file: file(), scheme: scheme.to_owned(), identifier: identifier.to_owned() };
        return identified.and_then(|id| filers.filer(&id)).ok_or_else(unknown);
    };
    let filer = filers.filer(given).ok_or_else(|| ReadError::NoSuchCompany { file: file(), company: given.clone() })?;
    match identified.filter(|id| scheme == LEI_SCHEME && *id != filer.company_id) {
        Some(other) => Err(ReadError::OtherCompany {
            file: file(),
            company: given.clone(),
            other: other.to_string(),
            identifier: identifier.to_owned(),
        }),
        None => Ok(filer),
    }
}

/// The identifier of a filing that only an answer gave its company: nothing of it was known before.
fn new_identity<'d>(document: &'d Document, filer: &Filer, filers: &dyn Filers) -> Option<&'d str> {
    let entity = document.entity.as_deref()?;
    let (scheme, identifier) = entity_parts(entity);
    (filers.identified(scheme, identifier).as_ref() != Some(&filer.company_id)).then_some(entity)
}

/// Refuses filings that were said to be of one company and are, by the identifiers in them, of several.
fn of_one_company(identified: &[(String, String)], file: &str) -> Result<(), ReadError> {
    let Some((newest, company)) = identified.last() else { return Ok(()) };
    let (scheme, identifier) = entity_parts(newest);
    let other = identified.iter().find(|(entity, c)| c == company && entity != newest && entity_parts(entity).0 == scheme);
    other.map_or(Ok(()), |(other, _)| {
        let problem = format!(
            "it is of the company with the identifier {identifier}, another filing that was said to be of {company} has {}; import the \
             filings of each company by themselves",
            entity_parts(other).1
        );
        Err(ReadError::Filing { file: file.to_owned(), problem })
    })
}

/// A figure that should be a number and is none: a bad value of the file.
fn bad(file: &str, fact: &Fact, outcome: Outcome, line: u64) -> Option<BadCell> {
    let FactValue::Text(text) = &fact.value else { return None };
    (outcome == Outcome::NotANumber).then(|| {
        let digits = text.chars().filter(char::is_ascii_digit).count();
        let value = if digits > 40 { format!("a number of {digits} digits") } else { text.clone() };
        BadCell {
            file: file.to_owned(),
            line,
            column: fact.concept.name.clone(),
            value,
            expected: "a number up to a quintillion (10¹⁸)".to_owned(),
            remedy: "Correct the figure in the file, or skip bad rows: then the item is not known.".to_owned(),
        }
    })
}

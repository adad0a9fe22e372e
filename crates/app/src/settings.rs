//! What a person computes with, read from what is theirs. What cannot be used is named and kept as it is, never dropped.

use crate::{
    AppError,
    dataset::opened::Opened,
    documents::{body::read, kind::DocumentKind, known::KnownCompany},
    lists::{OwnList, own_lists},
};
use artemon_core::{
    engine::Settings,
    formula::{OwnMeasure, compile_in},
    measures,
    panel::{CompanyIndex, Snapshot},
    valuation::{Assumptions, Override, Overrides},
};
use artemon_store::{Document, KeptOverride, People, PersonId};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// The preference that holds the name of the assumption set in use.
pub(crate) const SET_IN_USE: &str = "assumptions";

/// What a person computes with.
#[derive(Debug)]
pub(crate) struct OwnSettings {
    pub(crate) settings: Arc<Settings>,
    pub(crate) broken: Vec<Broken>,
    pub(crate) unmatched: Vec<Unmatched>,
    pub(crate) lists: Vec<OwnList>,
}

/// Something of a person's own that cannot be used as it is kept.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Broken {
    /// "assumption_set", "measure" or "override".
    pub kind: String,
    /// The id of the document, or of the company.
    pub id: String,
    /// The newest version of the document; none for overrides.
    pub version: Option<i32>,
    /// Its name, or that of the company.
    pub name: String,
    /// Folder and note of the document, which a repaired one keeps; empty for overrides.
    pub folder: String,
    #[allow(missing_docs)]
    pub note: String,
    /// As it is kept.
    pub body: String,
    /// Why it cannot be used.
    pub problem: String,
    /// What is used in its place.
    pub instead: String,
}

/// What a person keeps about a company that this dataset does not have.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Unmatched {
    pub company_id: String,
    /// As last seen.
    pub symbol: String,
    pub isin: String,
    pub name: String,
}

/// Reads what a person computes with.
pub(crate) fn load(people: &People, person: &PersonId, dataset: &Opened) -> Result<OwnSettings, AppError> {
    let mut broken = Vec::new();
    let assumptions = set_in_use(people, person, &mut broken)?;
    let library = measures::library(own_measures(people, person, &mut broken)?);
    unsound(&library, people, person, &mut broken)?;
    let (overrides, unmatched) = overrides(people, person, dataset, &mut broken)?;
    let (lists, unread) = own_lists(people, person, dataset.engine.snapshot())?;
    broken.extend(unread.into_iter().map(|(d, problem)| of_document(&d, DocumentKind::List, problem, "It is empty.".to_owned())));
    let settings = Settings {
        base: dataset.base,
        assumptions,
        library: Arc::new(library),
        overrides: Arc::new(overrides),
        lists: Arc::new(lists.iter().map(OwnList::companies).collect()),
    };
    Ok(OwnSettings { settings: Arc::new(settings), broken, unmatched, lists })
}

fn set_in_use(people: &People, person: &PersonId, broken: &mut Vec<Broken>) -> Result<Assumptions, AppError> {
    let in_use = people.preference(person, SET_IN_USE)?;
    let shipped = Assumptions::standard();
    let mut found = None;
    for document in people.whole_documents(person, DocumentKind::AssumptionSet.code())? {
        let used = in_use.as_ref() == Some(&document.head.name);
        match read_set(&document) {
            Ok(set) if used => found = Some(set),
            Ok(_) => {}
            Err(problem) => {
                let instead = if used { format!("Values are computed with {}.", shipped.name) } else { "It is not in use.".to_owned() };
                broken.push(of_document(&document, DocumentKind::AssumptionSet, problem, instead));
            }
        }
    }
    Ok(found.unwrap_or(shipped))
}

/// The set of a document, with its name and version.
pub(crate) fn read_set(document: &Document) -> Result<Assumptions, String> {
    let set: Assumptions = read(&document.body)?;
    set.check()?;
    Ok(Assumptions { name: document.head.name.clone(), version: u32::try_from(document.head.version).unwrap_or(1), ..set })
}

fn own_measures(people: &People, person: &PersonId, broken: &mut Vec<Broken>) -> Result<Vec<OwnMeasure>, AppError> {
    let mut all = Vec::new();
    for document in people.whole_documents(person, DocumentKind::Measure.code())? {
        match read::<OwnMeasure>(&document.body) {
            Ok(measure) => all.push(measure),
            Err(problem) => broken.push(of_document(&document, DocumentKind::Measure, problem, UNKNOWN.to_owned())),
        }
    }
    Ok(all)
}

const UNKNOWN: &str = "Formulas do not know it.";

/// Measures whose formulas are no longer understood: they stay in the library, where whatever uses them says so.
fn unsound(library: &artemon_core::formula::Library, people: &People, person: &PersonId, broken: &mut Vec<Broken>) -> Result<(), AppError> {
    for measure in library.iter() {
        if let Err(e) = compile_in(&measure.id, library)
            && let Some(document) =
                people.whole_documents(person, DocumentKind::Measure.code())?.into_iter().find(|d| d.head.name == measure.id)
        {
            broken.push(of_document(&document, DocumentKind::Measure, e.message, "Formulas that use it have no answer.".to_owned()));
        }
    }
    Ok(())
}

fn of_document(document: &Document, kind: DocumentKind, problem: String, instead: String) -> Broken {
    Broken {
        kind: kind.code().to_owned(),
        id: document.head.id.clone(),
        version: Some(document.head.version),
        name: document.head.name.clone(),
        folder: document.head.folder.clone(),
        note: document.head.note.clone(),
        body: document.body.clone(),
        problem,
        instead,
    }
}

fn overrides(
    people: &People,
    person: &PersonId,
    dataset: &Opened,
    broken: &mut Vec<Broken>,
) -> Result<(Overrides, Vec<Unmatched>), AppError> {
    let (mut all, mut unmatched) = (Vec::new(), Vec::new());
    for kept in people.overrides(person)? {
        let own = match read::<Override>(&kept.body).and_then(|own| own.check().map(|()| own)) {
            Ok(own) => own,
            Err(problem) => {
                broken.push(of_override(&kept, problem));
                continue;
            }
        };
        match company_of(&kept, dataset.engine.snapshot()) {
            Some(company) => all.push((dataset.engine.snapshot().company(company).id.to_string(), own)),
            None => unmatched.push(Unmatched { company_id: kept.company_id, symbol: kept.symbol, isin: kept.isin, name: kept.name }),
        }
    }
    Ok((Overrides::new(all), unmatched))
}

fn of_override(kept: &KeptOverride, problem: String) -> Broken {
    Broken {
        kind: "override".to_owned(),
        id: kept.company_id.clone(),
        version: None,
        name: if kept.name.is_empty() { kept.company_id.clone() } else { kept.name.clone() },
        folder: String::new(),
        note: String::new(),
        body: kept.body.clone(),
        problem,
        instead: "The company is valued as the set says.".to_owned(),
    }
}

/// The company of a dataset that something is kept about.
pub(crate) fn company_of(kept: &KeptOverride, snapshot: &Snapshot) -> Option<CompanyIndex> {
    let known = KnownCompany { id: kept.company_id.clone(), symbol: kept.symbol.clone(), isin: kept.isin.clone(), name: kept.name.clone() };
    known.find(snapshot)
}

//! Concepts of companies' own, mapped to items by a person.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::{CodeError, Item},
    filings::OwnConcept,
};
use artemon_formats::OwnConcepts;
use artemon_store::{FolderLock, People, PersonId, StoreError};
use serde::{Deserialize, Serialize};
use std::path::Path;
use utoipa::ToSchema;

/// Before what is remembered of a company's own concept: its namespace and its name follow.
const CONCEPT: &str = "concept\u{1f}";

/// A concept of a company's own and the item that it is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ConceptMapping {
    /// The concept's namespace.
    pub namespace: String,
    /// Its name.
    pub name: String,
    /// The item by its code; `None` for none.
    pub item: Option<String>,
    /// Whether what is stated counts the other way.
    #[serde(default)]
    pub negated: bool,
}

/// An item of statements.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ItemName {
    /// Its code.
    pub code: &'static str,
    /// Its name in words.
    pub label: &'static str,
}

/// The items that a concept may be, and the concepts that are mapped.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Concepts {
    pub items: Vec<ItemName>,
    pub mapped: Vec<ConceptMapping>,
}

/// How a mapping is remembered.
#[derive(Serialize, Deserialize)]
struct Remembered {
    item: Option<String>,
    negated: bool,
}

/// The items that a company's own concept may be, and what was mapped.
///
/// # Errors
/// When it cannot be read.
pub fn concepts(ctx: &Ctx) -> Result<Concepts, AppError> {
    let items = Item::ALL.iter().map(|i| ItemName { code: i.code(), label: i.label() }).collect();
    let mut mapped: Vec<ConceptMapping> = own_concepts(&ctx.home.people, &ctx.person)?
        .into_iter()
        .map(|((namespace, name), own)| ConceptMapping { namespace, name, item: Some(own.item.code().to_owned()), negated: own.negated })
        .collect();
    mapped.sort_by(|a, b| (&a.name, &a.namespace).cmp(&(&b.name, &b.namespace)));
    Ok(Concepts { items, mapped })
}

/// Remembers which item a company's own concept is: filings that are imported from now on use it.
///
/// # Errors
/// An item that there is none of; when it cannot be written.
pub fn map_concept(ctx: &Ctx, mapping: &ConceptMapping) -> Result<Concepts, AppError> {
    remember(&ctx.home.people, &ctx.person, mapping)?;
    concepts(ctx)
}

/// As [`map_concept`], in a data folder that no other program has open.
///
/// # Errors
/// As [`map_concept`]; a folder in use.
pub fn map_concepts(folder: &Path, mappings: &[ConceptMapping]) -> Result<(), AppError> {
    if mappings.is_empty() {
        return Ok(());
    }
    let _lock = FolderLock::take(folder)?;
    let people = People::open(folder)?;
    mappings.iter().try_for_each(|mapping| remember(&people, &people.local(), mapping))
}

fn remember(people: &People, person: &PersonId, mapping: &ConceptMapping) -> Result<(), AppError> {
    let unusable = |e: CodeError| AppError::Unusable { what: format!("The concept \"{}\"", mapping.name), problem: e.to_string() };
    mapping.item.as_deref().map(str::parse::<Item>).transpose().map_err(unusable)?;
    let said = Remembered { item: mapping.item.clone(), negated: mapping.negated };
    let signature = format!("{CONCEPT}{}\u{1f}{}", mapping.namespace, mapping.name);
    Ok(people.remember_mapping(person, &signature, &serde_json::to_string(&said).unwrap_or_default())?)
}

/// The concepts that a person mapped.
pub(super) fn own_concepts(people: &People, person: &PersonId) -> Result<OwnConcepts, StoreError> {
    let all = people.mappings_beginning(person, CONCEPT)?.into_iter().filter_map(|(signature, mapping)| {
        let (namespace, name) = signature.split_once('\u{1f}')?;
        let said: Remembered = serde_json::from_str(&mapping).ok()?;
        let own = OwnConcept { item: said.item?.parse().ok()?, negated: said.negated };
        Some(((namespace.to_owned(), name.to_owned()), own))
    });
    Ok(all.collect())
}

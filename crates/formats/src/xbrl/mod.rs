//! What all forms of XBRL have in common: names, units and periods of facts, and the filing that they make.

mod builder;
mod oim;
mod period;
mod resources;
mod units;

pub(crate) use builder::{FactsBuilder, RawFact, RawValue, is_numeric};
pub(crate) use oim::DocumentInfo;
pub(crate) use resources::{Resources, XBRLI};

use artemon_core::filings::{Fact, OwnConcept};
use std::collections::HashMap;

/// The concepts of companies' own that a person mapped, by namespace and name.
pub type OwnConcepts = HashMap<(String, String), OwnConcept>;

/// A filing as its file states it.
#[derive(Debug)]
pub struct FilingFile {
    /// Its facts.
    pub facts: Vec<Fact>,
    /// The namespaces of companies' own concepts, by their names.
    pub own: HashMap<String, String>,
    /// Facts that should be numbers and are none, with the line in which each stands; 0 where the form has no lines.
    pub unread: Vec<(usize, u64)>,
    /// The day on which its figures were authorised, where it says so: a suggestion for the day of filing, never taken for it.
    pub authorised_on: Option<artemon_core::domain::Day>,
}

/// The scheme by which legal entities are identified (ISO 17442).
pub const LEI_SCHEME: &str = "http://standards.iso.org/iso/17442";

/// Separates scheme and identifier of an entity.
pub(crate) const ENTITY_SEPARATOR: char = '|';

/// An entity as facts carry it.
pub(crate) fn entity(scheme: &str, identifier: &str) -> std::sync::Arc<str> {
    format!("{}{ENTITY_SEPARATOR}{}", scheme.trim(), identifier.trim()).into()
}

/// Scheme and identifier of an entity.
#[must_use]
pub fn entity_parts(entity: &str) -> (&str, &str) {
    entity.split_once(ENTITY_SEPARATOR).unwrap_or(("", entity))
}

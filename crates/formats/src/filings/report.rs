//! What became of the facts of filings.

use crate::ReadReport;
use artemon_core::{
    domain::Item,
    filings::{Concept, Fact, FactValue, Filed, Outcome, Span, Warning},
};
use rustc_hash::FxHashMap;
use serde::Serialize;
use std::{
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

/// Facts of companies' own that a report lists.
const MOST_OWN: usize = 1_000;

/// How many facts of a concept had an outcome.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, utoipa::ToSchema)]
pub struct FactCount {
    /// The file.
    pub file: String,
    /// What became of them.
    #[schema(value_type = String)]
    pub outcome: Outcome,
    /// The concept.
    pub concept: String,
    /// How many.
    pub count: u64,
}

/// A concept of a company's own, with a value, so that a person can tell what it is and map it.
#[derive(Clone, Debug, PartialEq, Serialize, utoipa::ToSchema)]
pub struct OwnFact {
    /// The file.
    pub file: String,
    /// The concept's namespace.
    pub namespace: String,
    /// Its name.
    pub name: String,
    /// A value of it, as stated.
    pub value: String,
    /// For which day or time.
    pub span: String,
    /// How many facts it has.
    pub count: u64,
}

/// How many facts of each concept of a file had each outcome; concepts are told apart by where they are kept.
#[derive(Debug, Default)]
pub(crate) struct Counts(FxHashMap<(Outcome, usize), (Arc<Concept>, u64)>);

impl Counts {
    /// Adds what became of a filing.
    pub(crate) fn add(&mut self, facts: &[Fact], outcomes: &[Outcome]) {
        facts.iter().zip(outcomes).for_each(|(fact, outcome)| self.count(&fact.concept, *outcome, 1));
    }

    /// Adds facts of one concept with one outcome.
    pub(crate) fn count(&mut self, concept: &Arc<Concept>, outcome: Outcome, count: u64) {
        let counted = self.0.entry((outcome, Arc::as_ptr(concept).addr())).or_insert_with(|| (concept.clone(), 0));
        counted.1 += count;
    }

    /// As reports list them.
    pub(crate) fn of(self, file: &str) -> impl Iterator<Item = FactCount> {
        let mut by_name: BTreeMap<(Outcome, String), u64> = BTreeMap::new();
        for ((outcome, _), (concept, count)) in self.0 {
            *by_name.entry((outcome, concept.name.clone())).or_default() += count;
        }
        by_name.into_iter().map(move |((outcome, concept), count)| FactCount { file: file.to_owned(), outcome, concept, count })
    }
}

/// Adds what a person may want to look at in a filing.
pub(crate) fn add(report: &mut ReadReport, file: &str, facts: &[Fact], filed: &Filed, own: &HashMap<String, String>) {
    let mut seen: Vec<&str> = Vec::new();
    for (fact, _) in facts.iter().zip(&filed.outcomes).filter(|f| *f.1 == Outcome::Extension) {
        let name = fact.concept.name.as_str();
        if report.own_concepts.len() >= MOST_OWN || seen.contains(&name) {
            continue;
        }
        seen.push(name);
        report.own_concepts.push(OwnFact {
            file: file.to_owned(),
            namespace: own.get(name).cloned().unwrap_or_default(),
            name: name.to_owned(),
            value: value(fact),
            span: fact.span.to_string(),
            count: facts.iter().filter(|f| f.concept.name == name).count() as u64,
        });
    }
    let warnings = filed.warnings.iter().map(|w| sentence(file, facts, w)).chain(conflicts(file, facts, filed));
    warnings.for_each(|warning| report.warn(warning));
}

/// Facts that contradict each other are shown with their values: none of them counts.
fn conflicts(file: &str, facts: &[Fact], filed: &Filed) -> Vec<String> {
    let mut all: BTreeMap<(&str, Span), Vec<String>> = BTreeMap::new();
    for (fact, _) in facts.iter().zip(&filed.outcomes).filter(|f| *f.1 == Outcome::Conflict) {
        all.entry((&fact.concept.name, fact.span)).or_default().push(value(fact));
    }
    let said = |((concept, of), values): ((&str, Span), Vec<String>)| {
        format!("{file}: {concept} of {of} is stated as {}; none of them was taken.", values.join(" and "))
    };
    all.into_iter().map(said).collect()
}

fn value(fact: &Fact) -> String {
    match &fact.value {
        FactValue::Nil => "nil".to_owned(),
        FactValue::Text(text) => text.clone(),
        FactValue::Number(figure) => figure.value.normalize().to_string(),
    }
}

fn sentence(file: &str, facts: &[Fact], warning: &Warning) -> String {
    match warning {
        Warning::Negative { fact, item } => {
            let fact = &facts[*fact];
            let (concept, stated, item): (_, _, Item) = (&fact.concept.name, value(fact), *item);
            format!("{file}: {concept} is stated as {stated}; {} was taken as positive.", item.label())
        }
        Warning::CoverDay { day } => {
            format!("{file}: the cover counts the shares on {day}, which is not within 120 days after the period; the count was left out.")
        }
    }
}

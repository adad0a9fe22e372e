//! Facts from what a file states piece by piece, whatever its order.

use super::{FilingFile, OwnConcepts, period::last_day};
use artemon_core::filings::{Concept, Exactness, Fact, FactUnit, FactValue, Figure, Outcome, Role, Span, number};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::{collections::HashMap, sync::Arc};

/// The longest text that is kept of a fact about the document.
const LONGEST_TEXT: usize = 1_000;

/// A fact as it is written; entity, span and dimensions come from its context.
#[derive(Clone, Debug)]
pub(crate) struct RawFact {
    pub(crate) concept: Arc<Concept>,
    pub(crate) entity: Option<Arc<str>>,
    pub(crate) span: Span,
    pub(crate) dimensioned: bool,
    /// `None` where no unit is named.
    pub(crate) unit: Option<FactUnit>,
    pub(crate) value: RawValue,
    /// How many decimals are exact; "INF" for all.
    pub(crate) decimals: Option<String>,
    /// How many figures are exact.
    pub(crate) precision: Option<String>,
    pub(crate) refused: Option<Outcome>,
    /// Where it stands: a byte of the text, or a line of a table.
    pub(crate) at: u64,
}

/// What a fact states.
#[derive(Clone, Debug)]
pub(crate) enum RawValue {
    Nil,
    Text(String),
    Number(Decimal),
}

/// Facts of a file.
#[derive(Debug)]
pub(crate) struct FactsBuilder<'o> {
    own: &'o OwnConcepts,
    concepts: HashMap<(String, String), Arc<Concept>>,
    file: FilingFile,
}

impl<'o> FactsBuilder<'o> {
    pub(crate) fn new(own: &'o OwnConcepts) -> FactsBuilder<'o> {
        let file = FilingFile { facts: Vec::new(), own: HashMap::new(), authorised_on: None, unread: Vec::new() };
        FactsBuilder { own, concepts: HashMap::new(), file }
    }

    /// A concept by its name.
    pub(crate) fn concept(&mut self, namespace: &str, name: &str) -> Arc<Concept> {
        let key = (namespace.to_owned(), name.to_owned());
        if let Some(known) = self.concepts.get(&key) {
            return known.clone();
        }
        let concept = Arc::new(Concept::named(namespace, name, || self.own.get(&key).copied()));
        if let Role::Own(_) = concept.role {
            self.file.own.insert(name.to_owned(), namespace.to_owned());
        }
        self.concepts.insert(key, concept.clone());
        concept
    }

    pub(crate) fn add(&mut self, raw: RawFact) {
        if let RawValue::Text(text) = &raw.value
            && raw.concept.name.ends_with(":DateOfAuthorisationForIssueOfFinancialStatements")
        {
            self.file.authorised_on = last_day(text);
        }
        let exactness = |value| match (&raw.decimals, &raw.precision) {
            (Some(decimals), _) => decimals.trim().parse().map_or(Exactness::Exact, Exactness::Decimals),
            (None, Some(precision)) => precise(precision, value),
            (None, None) => Exactness::Exact,
        };
        let numeric = |text: &str| number(text).map(|value| FactValue::Number(Figure { value, exactness: exactness(value) }));
        let value = match raw.value {
            RawValue::Nil => FactValue::Nil,
            RawValue::Number(value) => FactValue::Number(Figure { value, exactness: exactness(value) }),
            RawValue::Text(text) if is_numeric(&raw.concept, raw.unit) => numeric(&text).unwrap_or_else(|| {
                self.file.unread.push((self.file.facts.len(), raw.at));
                kept(&text)
            }),
            RawValue::Text(text) if matches!(raw.concept.role, Role::Document(_)) => kept(&text),
            RawValue::Text(_) => FactValue::Text(String::new()),
        };
        self.file.facts.push(Fact {
            concept: raw.concept,
            entity: raw.entity,
            span: raw.span,
            unit: raw.unit.unwrap_or(FactUnit::Pure),
            dimensioned: raw.dimensioned,
            value,
            refused: raw.refused,
        });
    }

    /// # Errors
    /// No facts at all.
    pub(crate) fn end(self) -> Result<FilingFile, String> {
        if self.file.facts.is_empty() { Err("it has no facts".to_owned()) } else { Ok(self.file) }
    }

    /// As [`FactsBuilder::end`], where facts stand at bytes of a text.
    pub(crate) fn end_in(self, text: &str) -> Result<FilingFile, String> {
        let mut file = self.end()?;
        for (_, at) in &mut file.unread {
            let before = text.as_bytes().get(..usize::try_from(*at).unwrap_or(0)).unwrap_or_default();
            *at = before.iter().filter(|b| **b == b'\n').count() as u64 + 1;
        }
        Ok(file)
    }
}

/// Whether a fact is to be read as a number.
pub(crate) fn is_numeric(concept: &Concept, unit: Option<FactUnit>) -> bool {
    unit.is_some() || matches!(concept.role, Role::Mapped(_) | Role::Own(Some(_)))
}

fn kept(text: &str) -> FactValue {
    FactValue::Text(text.trim().chars().take(LONGEST_TEXT).collect())
}

/// p figures are exact: p − 1 − the exponent of the value in decimals (XBRL 2.1, 4.6.6).
fn precise(precision: &str, value: Decimal) -> Exactness {
    let Ok(figures) = precision.trim().parse::<i32>() else { return Exactness::Exact };
    let exponent = value.abs().to_f64().filter(|v| *v > 0.0).map_or(0.0, |v| v.log10().floor());
    #[allow(clippy::cast_possible_truncation)] // between −28 and 18
    Exactness::Decimals(figures.saturating_sub(1).saturating_sub(exponent as i32))
}

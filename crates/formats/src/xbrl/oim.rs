//! Facts as the Open Information Model writes them in JSON and CSV: a value with its dimensions by name.

use super::{
    builder::{FactsBuilder, RawFact, RawValue},
    entity,
    period::oim_span,
    units::oim_unit,
};
use artemon_core::filings::Span;
use serde::Deserialize;
use std::collections::HashMap;

/// What a report says of itself.
#[derive(Debug, Default, Deserialize)]
#[serde(rename_all = "camelCase", default)]
pub(crate) struct DocumentInfo {
    pub(crate) document_type: String,
    pub(crate) namespaces: HashMap<String, String>,
}

impl DocumentInfo {
    /// Whether it is of a form, such as "xbrl-json", of any date.
    pub(crate) fn is(&self, form: &str) -> bool {
        self.document_type.starts_with("https://xbrl.org/") && self.document_type.ends_with(&format!("/{form}"))
    }

    fn namespace(&self, prefix: &str) -> Option<String> {
        self.namespaces.get(prefix).cloned()
    }

    /// Adds a fact with its dimensions by name.
    ///
    /// # Errors
    /// Without a concept, of a prefix that is not declared, with a period that cannot be read.
    pub(crate) fn add<'d>(
        &self,
        builder: &mut FactsBuilder<'_>,
        dimensions: impl Iterator<Item = (&'d str, &'d str)>,
        value: RawValue,
        decimals: Option<String>,
        at: u64,
    ) -> Result<(), String> {
        let (mut concept, mut whose, mut span, mut unit, mut dimensioned) = (None, None, Span::Forever, None, false);
        for (name, value) in dimensions {
            match name {
                "concept" => {
                    let (prefix, local) = value.split_once(':').ok_or_else(|| format!("the concept \"{value}\" has no prefix"))?;
                    let namespace = self.namespace(prefix).ok_or_else(|| format!("the prefix \"{prefix}\" is not declared"))?;
                    concept = Some(builder.concept(&namespace, local));
                }
                "entity" => {
                    let (scheme, identifier) = value.split_once(':').unwrap_or(("", value));
                    whose = Some(entity(&self.namespace(scheme).unwrap_or_default(), identifier));
                }
                "period" => span = oim_span(value).ok_or_else(|| format!("the period \"{value}\" cannot be read"))?,
                "unit" => unit = Some(oim_unit(value, |prefix| self.namespace(prefix))),
                "language" | "noteId" => {}
                _ => dimensioned = true,
            }
        }
        let concept = concept.ok_or("a fact has no concept")?;
        builder.add(RawFact { concept, entity: whose, span, dimensioned, unit, value, decimals, precision: None, refused: None, at });
        Ok(())
    }
}

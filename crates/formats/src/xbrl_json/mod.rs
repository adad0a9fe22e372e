//! xBRL-JSON (OIM 1.0).

use crate::xbrl::{DocumentInfo, FactsBuilder, FilingFile, OwnConcepts, RawValue};
use serde::Deserialize;
use serde_json::Value;
use std::collections::BTreeMap;

/// The form's name in a report's document type.
pub(crate) const FORM: &str = "xbrl-json";

#[derive(Deserialize)]
#[serde(rename_all = "camelCase")]
struct Report {
    document_info: DocumentInfo,
    #[serde(default)]
    facts: BTreeMap<String, JsonFact>,
}

#[derive(Deserialize)]
struct JsonFact {
    #[serde(default)]
    value: Value,
    #[serde(default)]
    decimals: Option<i32>,
    #[serde(default)]
    dimensions: BTreeMap<String, Value>,
}

/// The facts of a report.
///
/// # Errors
/// What keeps it from being read, without a full stop.
pub(crate) fn read(text: &str, own: &OwnConcepts) -> Result<FilingFile, String> {
    let report: Report = serde_json::from_str(text).map_err(|e| json_problem(&e))?;
    if !report.document_info.is(FORM) {
        return Err(format!("its document type is \"{}\", not that of xBRL-JSON", report.document_info.document_type));
    }
    let mut builder = FactsBuilder::new(own);
    for (id, fact) in &report.facts {
        let value = match &fact.value {
            Value::Null => RawValue::Nil,
            Value::String(text) => RawValue::Text(text.clone()),
            other => RawValue::Text(other.to_string()),
        };
        let dimensions = fact.dimensions.iter().filter_map(|(name, value)| Some((name.as_str(), value.as_str()?)));
        let decimals = fact.decimals.map(|d| d.to_string());
        report.document_info.add(&mut builder, dimensions, value, decimals, 0).map_err(|problem| format!("fact {id}: {problem}"))?;
    }
    builder.end()
}

/// What is wrong with JSON, with its place, without a full stop.
pub(crate) fn json_problem(e: &serde_json::Error) -> String {
    match e.classify() {
        serde_json::error::Category::Eof => format!("line {}: the JSON ends in the middle; bring the whole file", e.line()),
        _ => e.to_string(),
    }
}

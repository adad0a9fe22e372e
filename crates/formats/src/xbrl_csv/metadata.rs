//! The metadata of a report in CSV.

use crate::xbrl::DocumentInfo;
use serde::Deserialize;
use serde_json::Value;
use std::collections::BTreeMap;

/// Dimensions by name.
pub(super) type Dimensions = BTreeMap<String, Value>;

#[derive(Debug, Deserialize)]
#[serde(rename_all = "camelCase")]
pub(super) struct Metadata {
    pub(super) document_info: DocumentInfo,
    #[serde(default)]
    pub(super) dimensions: Dimensions,
    #[serde(default)]
    pub(super) decimals: Option<Value>,
    #[serde(default)]
    pub(super) parameters: BTreeMap<String, String>,
    #[serde(default)]
    pub(super) table_templates: BTreeMap<String, Template>,
    #[serde(default)]
    pub(super) tables: BTreeMap<String, Table>,
}

#[derive(Debug, Deserialize)]
pub(super) struct Template {
    #[serde(default)]
    pub(super) columns: BTreeMap<String, Column>,
    #[serde(default)]
    pub(super) dimensions: Dimensions,
    #[serde(default)]
    pub(super) decimals: Option<Value>,
}

#[derive(Debug, Deserialize)]
#[serde(rename_all = "camelCase")]
pub(super) struct Column {
    /// Given of columns that hold facts.
    #[serde(default)]
    pub(super) dimensions: Option<Dimensions>,
    #[serde(default)]
    pub(super) decimals: Option<Value>,
    /// Columns whose cells name a group of properties.
    #[serde(default)]
    pub(super) properties_from: Vec<String>,
    #[serde(default)]
    pub(super) property_groups: BTreeMap<String, Group>,
}

#[derive(Debug, Default, Deserialize)]
pub(super) struct Group {
    #[serde(default)]
    pub(super) dimensions: Dimensions,
    #[serde(default)]
    pub(super) decimals: Option<Value>,
}

#[derive(Debug, Deserialize)]
pub(super) struct Table {
    pub(super) url: String,
    #[serde(default)]
    pub(super) template: Option<String>,
    #[serde(default)]
    pub(super) optional: bool,
    #[serde(default)]
    pub(super) parameters: BTreeMap<String, String>,
}

impl Column {
    pub(super) const fn is_fact(&self) -> bool {
        self.dimensions.is_some() || !self.properties_from.is_empty()
    }
}

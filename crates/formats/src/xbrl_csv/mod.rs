//! xBRL-CSV (OIM 1.0): a file of metadata and the tables that it names beside it.

mod metadata;

use crate::{
    tables::Bounded,
    xbrl::{DocumentInfo, FactsBuilder, FilingFile, OwnConcepts, RawValue},
    xbrl_json::json_problem,
};
use csv::StringRecord;
use metadata::{Column, Metadata, Table, Template};
use serde_json::Value;
use std::{
    collections::BTreeMap,
    fs::File,
    path::{Component, Path},
};

/// The form's name in a report's document type.
pub(crate) const FORM: &str = "xbrl-csv";
/// Facts of a report: far more than any has.
const FACTS: usize = 2_000_000;

/// The facts of a report whose metadata is this text, its tables in the folder.
///
/// # Errors
/// What keeps it from being read, without a full stop.
pub(crate) fn read(text: &str, folder: &Path, own: &OwnConcepts) -> Result<FilingFile, String> {
    let metadata: Metadata = serde_json::from_str(text).map_err(|e| json_problem(&e))?;
    if !metadata.document_info.is(FORM) {
        return Err(format!("its document type is \"{}\", not that of xBRL-CSV", metadata.document_info.document_type));
    }
    let mut builder = FactsBuilder::new(own);
    let mut left = FACTS;
    for (name, table) in &metadata.tables {
        let template_name = table.template.as_deref().unwrap_or(name);
        let template = metadata.table_templates.get(template_name).ok_or_else(|| format!("it has no template \"{template_name}\""))?;
        if let Some(file) = open(folder, table)? {
            let reader = TableReader { metadata: &metadata, table, template };
            reader.rows(file, &mut builder, &mut left).map_err(|problem| format!("{}: {problem}", table.url))?;
        }
    }
    builder.end()
}

/// The files of the tables that metadata name.
pub(crate) fn tables(text: &str) -> Vec<String> {
    let metadata = serde_json::from_str::<Metadata>(text).ok().filter(|m| m.document_info.is(FORM));
    metadata.map(|m| m.tables.into_values().map(|t| t.url).collect()).unwrap_or_default()
}

/// The table's file, which must lie in the folder of the metadata or below; `None` for an optional one that is not there.
fn open(folder: &Path, table: &Table) -> Result<Option<File>, String> {
    let relative = Path::new(&table.url);
    if table.url.is_empty() || table.url.contains('\\') || !relative.components().all(|c| matches!(c, Component::Normal(_))) {
        return Err(format!("it names the table \"{}\", which does not lie beside it", table.url));
    }
    let path = folder.join(relative);
    if table.optional && !path.exists() {
        return Ok(None);
    }
    let within = path.canonicalize().ok().zip(folder.canonicalize().ok()).is_some_and(|(path, folder)| path.starts_with(folder));
    let file = File::open(&path).map_err(|e| format!("its table {} cannot be read ({e}); bring it along", table.url));
    if within || !path.exists() { file.map(Some) } else { Err(format!("its table {} lies elsewhere", table.url)) }
}

/// A table of facts.
struct TableReader<'m> {
    metadata: &'m Metadata,
    table: &'m Table,
    template: &'m Template,
}

impl TableReader<'_> {
    fn rows(&self, file: File, builder: &mut FactsBuilder<'_>, left: &mut usize) -> Result<(), String> {
        let (bounded, since_record) = Bounded::new(file);
        let mut csv = csv::ReaderBuilder::new().flexible(true).from_reader(bounded);
        let header = csv.headers().map_err(|e| e.to_string())?.clone();
        let mut record = StringRecord::new();
        loop {
            since_record.set(0);
            if !csv.read_record(&mut record).map_err(|e| e.to_string())? {
                return Ok(());
            }
            let cells: BTreeMap<&str, &str> = header.iter().map(|h| h.trim_start_matches('\u{feff}')).zip(record.iter()).collect();
            for (name, column) in self.template.columns.iter().filter(|(_, c)| c.is_fact()) {
                if let Some(cell) = cells.get(name.as_str()).filter(|c| !c.is_empty()) {
                    *left = left.checked_sub(1).ok_or("it has more facts than any report has")?;
                    let line = record.position().map_or(0, csv::Position::line);
                    self.fact(builder, column, cell, &cells, line).map_err(|problem| format!("line {line}: {problem}"))?;
                }
            }
        }
    }

    fn fact(
        &self,
        builder: &mut FactsBuilder<'_>,
        column: &Column,
        cell: &str,
        cells: &BTreeMap<&str, &str>,
        line: u64,
    ) -> Result<(), String> {
        let groups = column.properties_from.iter().filter_map(|name| {
            let group = self.template.columns.get(name)?;
            group.property_groups.get(*cells.get(name.as_str())?)
        });
        let groups: Vec<_> = groups.collect();
        // What stands nearer to the cell counts.
        let layers = [&self.metadata.dimensions, &self.template.dimensions].into_iter();
        let layers = layers.chain(groups.iter().map(|g| &g.dimensions)).chain(&column.dimensions);
        let mut dimensions: BTreeMap<&str, Option<String>> = BTreeMap::new();
        for (name, value) in layers.flatten() {
            dimensions.insert(name, self.resolved(value, cells)?);
        }
        let decimals = [&self.metadata.decimals, &self.template.decimals].into_iter();
        let decimals = decimals.chain(groups.iter().map(|g| &g.decimals)).chain([&column.decimals]).flatten().last();
        let decimals = decimals.map(|d| self.resolved(d, cells)).transpose()?.flatten();
        let value = match cell {
            "#nil" => RawValue::Nil,
            "#empty" => RawValue::Text(String::new()),
            text => RawValue::Text(unescaped(text, '#').to_owned()),
        };
        let given = dimensions.iter().filter_map(|(name, value)| Some((*name, value.as_deref()?)));
        self.info().add(builder, given, value, decimals, line)
    }

    const fn info(&self) -> &DocumentInfo {
        &self.metadata.document_info
    }

    /// A property as metadata gives it: itself, or the cell or parameter that it refers to; `None` where there is none.
    fn resolved(&self, value: &Value, cells: &BTreeMap<&str, &str>) -> Result<Option<String>, String> {
        let text = match value {
            Value::String(text) => text.as_str(),
            Value::Null => return Ok(None),
            Value::Number(number) => return Ok(Some(number.to_string())),
            other => return Err(format!("{other} is no property")),
        };
        let found = match text.strip_prefix('$').filter(|rest| !rest.starts_with('$')) {
            None => unescaped(text, '$').to_owned(),
            Some(reference) => {
                let (name, at) = reference.split_once('@').map_or((reference, ""), |(name, at)| (name, at));
                let found = cells.get(name).copied().or_else(|| self.parameter(name));
                let found = found.ok_or_else(|| format!("there is neither a column nor a parameter \"{name}\""))?;
                if at.is_empty() { found.to_owned() } else { format!("{found}@{at}") }
            }
        };
        Ok(match found.as_str() {
            "" | "#none" => None,
            "#empty" => Some(String::new()),
            _ => Some(found),
        })
    }

    fn parameter(&self, name: &str) -> Option<&str> {
        self.table.parameters.get(name).or_else(|| self.metadata.parameters.get(name)).map(String::as_str)
    }
}

/// A text that begins with a doubled mark means the mark itself.
fn unescaped(text: &str, mark: char) -> &str {
    text.strip_prefix(mark).filter(|rest| rest.starts_with(mark)).unwrap_or(text)
}

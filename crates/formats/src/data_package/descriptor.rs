//! `datapackage.json`: which file holds which table.

use super::source::{DESCRIPTOR, Source};
use crate::problem::ReadError;
use serde::Deserialize;
use std::collections::HashSet;

#[derive(Deserialize)]
struct Descriptor {
    #[serde(default)]
    resources: Vec<Resource>,
}

/// A file of the package.
#[derive(Deserialize)]
pub(super) struct Resource {
    /// The table's name.
    pub(super) name: String,
    #[serde(default)]
    path: ResourcePath,
    #[serde(default)]
    encoding: Option<String>,
    #[serde(default)]
    dialect: Dialect,
}

#[derive(Default, Deserialize)]
#[serde(untagged)]
enum ResourcePath {
    One(String),
    /// Several files, which no reader here joins.
    Parts(#[expect(dead_code)] Vec<serde::de::IgnoredAny>),
    #[default]
    Missing,
}

#[derive(Default, Deserialize)]
struct Dialect {
    #[serde(default)]
    delimiter: Option<String>,
}

impl Resource {
    /// The file's name.
    pub(super) fn file(&self) -> &str {
        match &self.path {
            ResourcePath::One(path) => path,
            ResourcePath::Parts(_) | ResourcePath::Missing => "",
        }
    }

    /// What separates its cells.
    pub(super) fn delimiter(&self) -> u8 {
        self.dialect.delimiter.as_deref().and_then(|d| d.bytes().next()).unwrap_or(b',')
    }
}

/// The resources of a package, each refused that could not be read later.
pub(super) fn resources(source: &mut Source, shown: &std::path::Path) -> Result<Vec<Resource>, ReadError> {
    let bad = |problem: String| ReadError::BadDescriptor { path: shown.join(DESCRIPTOR), problem };
    let text = source.descriptor()?;
    let resources = serde_json::from_slice::<Descriptor>(&text).map_err(|e| bad(e.to_string()))?.resources;
    if resources.is_empty() {
        return Err(bad("it lists no resources".to_owned()));
    }
    let (mut names, mut files) = (HashSet::new(), HashSet::new());
    for r in &resources {
        let name = &r.name;
        match &r.path {
            ResourcePath::Missing => return Err(bad(format!("the resource \"{name}\" has no path"))),
            ResourcePath::Parts(_) => return Err(bad(format!("the resource \"{name}\" is in several parts; join them into one file"))),
            ResourcePath::One(path) if path == DESCRIPTOR => {
                return Err(bad(format!("the resource \"{name}\" names the descriptor itself as its file")));
            }
            ResourcePath::One(_) => {}
        }
        if !names.insert(name.clone()) || !files.insert(r.file().to_owned()) {
            return Err(bad(format!("the resource \"{name}\" or its file is named twice")));
        }
        if r.encoding.as_deref().is_some_and(|e| !matches!(e.to_ascii_lowercase().as_str(), "utf-8" | "utf8" | "us-ascii" | "ascii")) {
            return Err(bad(format!("the resource \"{name}\" is not in UTF-8; save it in that encoding")));
        }
    }
    Ok(resources)
}

//! All formats that can be read and how each is recognised: to add a format, add its folder and its line here.

use crate::problem::ReadError;
use std::path::Path;

/// A format in which data comes in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    /// The whole dataset: a folder with a descriptor, or a zip of it.
    DataPackage,
    /// One table, its columns to be mapped.
    CsvTable,
}

/// A format's entry.
#[derive(Debug)]
pub struct Entry {
    /// The format.
    pub format: Format,
    /// Its name in words.
    pub name: &'static str,
    /// Whether a path looks like it.
    pub recognises: fn(&Path) -> bool,
}

/// Every format, in the order in which they are tried.
pub const FORMATS: &[Entry] = &[
    Entry { format: Format::DataPackage, name: "Data Package", recognises: is_package },
    Entry { format: Format::CsvTable, name: "CSV of one table", recognises: |p| has_ending(p, &["csv", "tsv", "txt"]) },
];

fn has_ending(path: &Path, endings: &[&str]) -> bool {
    path.extension().and_then(|e| e.to_str()).is_some_and(|e| endings.contains(&e.to_ascii_lowercase().as_str()))
}

fn is_package(path: &Path) -> bool {
    path.is_dir() || has_ending(path, &["zip"])
}

/// The format of a path.
///
/// # Errors
/// When it does not exist or no format recognises it.
pub fn recognise(path: &Path) -> Result<Format, ReadError> {
    if !path.exists() {
        return Err(ReadError::Missing { path: path.to_owned() });
    }
    let found = FORMATS.iter().find(|f| (f.recognises)(path));
    found.map(|f| f.format).ok_or_else(|| {
        let known: Vec<_> = FORMATS.iter().map(|f| f.name).collect();
        let problem = format!("its ending tells no format. These are known: {}", known.join(", "));
        ReadError::Table { file: path.display().to_string(), problem }
    })
}

//! Cases of `golden/formats`: where they lie, and their tables.

use std::{
    collections::BTreeMap,
    path::{Path, PathBuf},
};

/// A row of a table, cells by header.
pub type Row = BTreeMap<String, String>;

/// A file or folder of the cases.
pub fn golden(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats").join(path)
}

/// The rows of a CSV file.
pub fn csv_rows(path: &Path) -> Vec<Row> {
    let mut csv = csv::Reader::from_path(path).unwrap_or_else(|e| panic!("{}: {e}", path.display()));
    csv.deserialize().map(Result::unwrap).collect()
}

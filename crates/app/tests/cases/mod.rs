//! Imports of the cases of `golden/formats`, and what lands.
#![allow(dead_code, clippy::unwrap_used)]

use artemon_app::{AppError, Choices, ExportRequest, ImportReport, ImportRequest, plan_import};
use std::{
    collections::{BTreeMap, BTreeSet},
    ops::ControlFlow,
    path::{Path, PathBuf},
};

/// A row of a table, cells by header.
pub type Row = BTreeMap<String, String>;

/// A file or folder of the cases.
pub fn formats(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats").join(path)
}

/// The rows of a CSV file.
pub fn csv_rows(path: &Path) -> Vec<Row> {
    let mut csv = csv::Reader::from_path(path).unwrap_or_else(|e| panic!("{}: {e}", path.display()));
    csv.deserialize().map(Result::unwrap).collect()
}

pub fn import_as(
    folder: &Path,
    paths: &[PathBuf],
    choices: &Choices,
    change: impl Fn(&mut ImportRequest),
) -> Result<ImportReport, AppError> {
    let (sources, _) = plan_import(folder, paths, choices)?;
    let mut request = ImportRequest { title: "cases".to_owned(), sources, ..ImportRequest::default() };
    change(&mut request);
    artemon_app::import(folder, &request, &|_| ControlFlow::Continue(()))
}

pub fn import(folder: &Path, paths: &[PathBuf], choices: &Choices, skip_bad_rows: bool) -> Result<ImportReport, AppError> {
    import_as(folder, paths, choices, |request| request.skip_bad_rows = skip_bad_rows)
}

/// Every row of a table as it is exported.
pub fn exported(folder: &Path, table: &str) -> Vec<Row> {
    let out = tempfile::tempdir().unwrap();
    let path = out.path().join("out");
    artemon_app::export(folder, &ExportRequest::default(), &path).unwrap();
    let file = path.join(format!("{table}.csv"));
    if file.exists() { csv_rows(&file) } else { Vec::new() }
}

/// The filled cells of a row, numbers as numbers.
pub fn comparable(row: &Row) -> Row {
    let number = |text: &str| text.parse::<f64>().map_or_else(|_| text.to_owned(), |n| n.to_string());
    let is_key = |name: &str| name.ends_with("_id") || name == "symbol";
    let cells = row.iter().filter(|(_, v)| !v.is_empty());
    cells.map(|(k, v)| (k.clone(), if is_key(k) { v.clone() } else { number(v) })).collect()
}

#[track_caller]
pub fn same_rows(expected: &[Row], rows: &[Row]) {
    let expected: BTreeSet<Row> = expected.iter().map(comparable).collect();
    let rows: BTreeSet<Row> = rows.iter().map(comparable).collect();
    let missing: Vec<_> = expected.difference(&rows).collect();
    let unexpected: Vec<_> = rows.difference(&expected).collect();
    assert!(missing.is_empty() && unexpected.is_empty(), "missing: {missing:#?}\nunexpected: {unexpected:#?}");
}

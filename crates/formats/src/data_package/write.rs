//! Writes a package: one CSV file a table, then the descriptor.

use super::{columns::columns, rows};
use crate::problem::WriteError;
use artemon_core::domain::{Record, Table};
use csv::Writer;
use serde_json::json;
use std::{
    collections::BTreeMap,
    fs::{self, File},
    io::BufWriter,
    path::{Path, PathBuf},
};

/// Writes records of any table, in any order, into a new folder.
#[derive(Debug)]
pub struct PackageWriter {
    folder: PathBuf,
    files: BTreeMap<Table, Writer<BufWriter<File>>>,
}

impl PackageWriter {
    /// Begins a package in a folder that is new or empty.
    ///
    /// # Errors
    /// When the folder has something in it, or cannot be written.
    pub fn create(folder: &Path) -> Result<PackageWriter, WriteError> {
        let io = |source| WriteError::Io { path: folder.to_owned(), source };
        fs::create_dir_all(folder).map_err(io)?;
        if fs::read_dir(folder).map_err(io)?.next().is_some() {
            return Err(WriteError::NotEmpty { path: folder.to_owned() });
        }
        Ok(PackageWriter { folder: folder.to_owned(), files: BTreeMap::new() })
    }

    /// Writes one row.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn write(&mut self, record: &Record) -> Result<(), WriteError> {
        let table = record.table();
        if !self.files.contains_key(&table) {
            let path = self.folder.join(format!("{}.csv", table.code()));
            let file = File::create(&path).map_err(|source| WriteError::Io { path: path.clone(), source })?;
            let mut writer = Writer::from_writer(BufWriter::with_capacity(1 << 20, file));
            writer.write_record(columns(table)).map_err(|e| csv_error(path, e))?;
            self.files.insert(table, writer);
        }
        let Some(writer) = self.files.get_mut(&table) else { return Ok(()) };
        writer.write_record(rows::cells(record)).map_err(|e| csv_error(self.folder.join(format!("{}.csv", table.code())), e))
    }

    /// Finishes the files and writes the descriptor.
    ///
    /// # Errors
    /// When a file cannot be written.
    pub fn finish(mut self) -> Result<(), WriteError> {
        for (table, writer) in &mut self.files {
            let path = self.folder.join(format!("{}.csv", table.code()));
            writer.flush().map_err(|source| WriteError::Io { path, source })?;
        }
        let resources: Vec<_> = self.files.keys().map(|t| resource(*t)).collect();
        let descriptor = json!({"name": "artemon-dataset", "profile": "tabular-data-package", "resources": resources});
        let path = self.folder.join("datapackage.json");
        fs::write(&path, format!("{descriptor:#}\n")).map_err(|source| WriteError::Io { path, source })
    }
}

fn resource(table: Table) -> serde_json::Value {
    let fields: Vec<_> = columns(table).iter().map(|c| json!({"name": c})).collect();
    json!({
        "name": table.code(),
        "path": format!("{}.csv", table.code()),
        "profile": "tabular-data-resource",
        "format": "csv",
        "encoding": "utf-8",
        "schema": {"fields": fields},
    })
}

fn csv_error(path: PathBuf, error: csv::Error) -> WriteError {
    WriteError::Io { path, source: std::io::Error::other(error) }
}

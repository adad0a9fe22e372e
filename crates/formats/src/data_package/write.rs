//! Writes a package: one CSV file a table, then the descriptor; into a folder or, streaming, into a zip.

use crate::{
    archive::quickly_packed,
    problem::WriteError,
    tables::{Block, columns},
};
use artemon_core::domain::Table;
use serde_json::json;
use std::{
    fs::{self, File},
    io::{self, Write},
    path::{Path, PathBuf},
};
use zip::{ZipWriter, write::StreamWriter};

/// Writes a package into a new folder.
#[derive(Debug)]
pub struct FolderWriter {
    folder: PathBuf,
    tables: Vec<Table>,
    open: Option<File>,
}

impl FolderWriter {
    /// Begins a package in a folder that is new or empty.
    ///
    /// # Errors
    /// When the folder has something in it, or cannot be written.
    pub fn create(folder: &Path) -> Result<FolderWriter, WriteError> {
        let io = |source| WriteError::Io { path: folder.to_owned(), source };
        fs::create_dir_all(folder).map_err(io)?;
        if fs::read_dir(folder).map_err(io)?.next().is_some() {
            return Err(WriteError::NotEmpty { path: folder.to_owned() });
        }
        Ok(FolderWriter { folder: folder.to_owned(), tables: Vec::new(), open: None })
    }

    /// Writes rows of a table; a file begins with the first.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn write(&mut self, block: &Block) -> Result<(), WriteError> {
        let path = self.folder.join(file_name(block.table));
        let put = |this: &mut FolderWriter| {
            if this.tables.last() != Some(&block.table) {
                this.tables.push(block.table);
                this.open = Some(File::create(&path)?);
            }
            this.open.as_mut().map_or(Ok(()), |file| file.write_all(&block.bytes))
        };
        put(self).map_err(|source| WriteError::Io { path: path.clone(), source })
    }

    /// Writes the descriptor.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn finish(self) -> Result<(), WriteError> {
        let path = self.folder.join("datapackage.json");
        fs::write(&path, descriptor(&self.tables)).map_err(|source| WriteError::Io { path, source })
    }
}

/// Writes a package as a zip into anything that takes bytes, without going back.
pub struct ZipPackageWriter<W: Write> {
    zip: ZipWriter<StreamWriter<W>>,
    tables: Vec<Table>,
}

impl<W: Write> ZipPackageWriter<W> {
    /// Begins a package.
    pub fn new(out: W) -> ZipPackageWriter<W> {
        ZipPackageWriter { zip: ZipWriter::new_stream(out), tables: Vec::new() }
    }

    /// Writes rows of a table; a file begins with the first.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn write(&mut self, block: &Block) -> Result<(), WriteError> {
        let put = |this: &mut ZipPackageWriter<W>| {
            if this.tables.last() != Some(&block.table) {
                this.tables.push(block.table);
                this.begin(&file_name(block.table))?;
            }
            this.zip.write_all(&block.bytes)
        };
        put(self).map_err(|source| WriteError::Stream { source })
    }

    fn begin(&mut self, name: &str) -> io::Result<()> {
        self.zip.start_file(name, quickly_packed()).map_err(io::Error::other)
    }

    /// Finishes the zip and gives back what it was written into.
    ///
    /// # Errors
    /// When the rest cannot be written.
    pub fn finish(mut self) -> Result<W, WriteError> {
        let stream = |source| WriteError::Stream { source };
        self.begin("datapackage.json").map_err(stream)?;
        self.zip.write_all(descriptor(&self.tables).as_bytes()).map_err(stream)?;
        Ok(self.zip.finish().map_err(|e| stream(io::Error::other(e)))?.into_inner())
    }
}

fn file_name(table: Table) -> String {
    format!("{}.csv", table.code())
}

fn descriptor(tables: &[Table]) -> String {
    let resources: Vec<_> = tables.iter().map(|t| resource(*t)).collect();
    format!("{:#}\n", json!({"name": "artemon-dataset", "profile": "tabular-data-package", "resources": resources}))
}

fn resource(table: Table) -> serde_json::Value {
    let fields: Vec<_> = columns(table).iter().map(|c| json!({"name": c.name, "type": c.kind.schema_type()})).collect();
    json!({
        "name": table.code(),
        "path": file_name(table),
        "profile": "tabular-data-resource",
        "format": "csv",
        "encoding": "utf-8",
        "schema": {"fields": fields},
    })
}

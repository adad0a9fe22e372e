//! The dataset as a folder of Parquet files: `TABLE/TABLE.parquet`, prices by year in `prices/year=2024/prices.parquet`, as query
//! engines know partitions.

use super::write::{Cells, Column, TableFile};
use crate::{
    WriteError,
    tables::{Block, CellKind, columns},
};
use artemon_core::domain::{Day, Table};
use csv::ByteRecord;
use std::{
    collections::BTreeMap,
    fs::{self, File},
    io::BufWriter,
    path::{Path, PathBuf},
};

/// Rows of a row group.
const GROUP: usize = 1 << 15;

/// A folder of tables while it is written.
pub struct ParquetFolder {
    folder: PathBuf,
    open: BTreeMap<(Table, Option<i32>), Open>,
}

/// A file while it is written, and rows that wait for their group.
struct Open {
    path: PathBuf,
    file: TableFile<BufWriter<File>>,
    waiting: Vec<Column>,
    rows: usize,
}

impl ParquetFolder {
    /// Makes the folder.
    ///
    /// # Errors
    /// When it cannot be made.
    pub fn create(folder: &Path) -> Result<ParquetFolder, WriteError> {
        fs::create_dir_all(folder).map_err(|source| WriteError::Io { path: folder.to_owned(), source })?;
        Ok(ParquetFolder { folder: folder.to_owned(), open: BTreeMap::new() })
    }

    /// Adds the rows of a block.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn write(&mut self, block: &Block) -> Result<(), WriteError> {
        let table = block.table;
        let date = (table == Table::Prices).then(|| columns(table).iter().position(|c| c.name == "date")).flatten();
        block.for_each_row(|row| {
            let year = date.and_then(|at| std::str::from_utf8(row.get(at)?.get(..4)?).ok()?.parse().ok());
            self.open(table, year)?.push(row)
        })
    }

    fn open(&mut self, table: Table, year: Option<i32>) -> Result<&mut Open, WriteError> {
        let folder = self.folder.join(table.code());
        match self.open.entry((table, year)) {
            std::collections::btree_map::Entry::Occupied(open) => Ok(open.into_mut()),
            std::collections::btree_map::Entry::Vacant(new) => {
                let folder = year.map_or_else(|| folder.clone(), |year| folder.join(format!("year={year}")));
                Ok(new.insert(Open::create(&folder, table)?))
            }
        }
    }

    /// Ends every file.
    ///
    /// # Errors
    /// When one cannot be written.
    pub fn finish(self) -> Result<(), WriteError> {
        self.open.into_values().try_for_each(Open::finish)
    }
}

/// Columns of a table without rows.
fn empty(table: Table) -> Vec<Column> {
    let cells = |kind| match kind {
        CellKind::Number => Cells::Numbers(Vec::new()),
        CellKind::Whole => Cells::Wholes(Vec::new()),
        CellKind::Date => Cells::Days(Vec::new()),
        CellKind::Flag => Cells::Flags(Vec::new()),
        CellKind::Text | CellKind::Moment => Cells::Texts(Vec::new()),
    };
    columns(table).iter().map(|c| Column { name: c.name.to_owned(), cells: cells(c.kind) }).collect()
}

impl Open {
    fn create(folder: &Path, table: Table) -> Result<Open, WriteError> {
        let path = folder.join(format!("{}.parquet", table.code()));
        let io = |source| WriteError::Io { path: path.clone(), source };
        fs::create_dir_all(folder).map_err(io)?;
        let waiting = empty(table);
        let file = TableFile::create(BufWriter::new(File::create_new(&path).map_err(io)?), &waiting, &[])?;
        Ok(Open { path, file, waiting, rows: 0 })
    }

    fn push(&mut self, row: &ByteRecord) -> Result<(), WriteError> {
        for (column, cell) in self.waiting.iter_mut().zip(row) {
            let text = std::str::from_utf8(cell).ok().filter(|t| !t.is_empty());
            match &mut column.cells {
                Cells::Numbers(all) => all.push(text.and_then(|t| t.parse().ok())),
                Cells::Wholes(all) => all.push(text.and_then(|t| t.parse().ok())),
                Cells::Days(all) => all.push(text.and_then(|t| t.parse::<Day>().ok())),
                Cells::Flags(all) => all.push(text.map(|t| t == "true")),
                Cells::Texts(all) => all.push(text.map(str::to_owned)),
            }
        }
        self.rows += 1;
        if self.rows == GROUP { self.flush() } else { Ok(()) }
    }

    fn flush(&mut self) -> Result<(), WriteError> {
        self.file.rows(&self.waiting)?;
        self.rows = 0;
        for column in &mut self.waiting {
            match &mut column.cells {
                Cells::Numbers(all) => all.clear(),
                Cells::Wholes(all) => all.clear(),
                Cells::Days(all) => all.clear(),
                Cells::Flags(all) => all.clear(),
                Cells::Texts(all) => all.clear(),
            }
        }
        Ok(())
    }

    fn finish(mut self) -> Result<(), WriteError> {
        if self.rows > 0 {
            self.flush()?;
        }
        let io = |source| WriteError::Io { path: self.path.clone(), source };
        let file = self.file.finish()?.into_inner().map_err(|e| io(e.into_error()))?;
        file.sync_all().map_err(io)
    }
}

//! A table in a file as rows of text, whatever the file is: delimited text, a sheet of a workbook, Parquet.

use crate::{
    ReadError, archive,
    csv_rows::CsvRows,
    filings::file_name,
    parquet_table::{self, ParquetRows},
    workbook::SheetRows,
};
use csv::ByteRecord;
use std::{
    fs::File,
    io::Read,
    path::{Path, PathBuf},
};

/// Where a table is.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct TableFile {
    /// The file.
    pub path: PathBuf,
    /// The sheet of a workbook.
    pub sheet: Option<String>,
}

/// Where a row stands.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Place {
    /// Its line, or its number in a form without lines.
    pub(crate) line: u64,
    /// How far into the file, in bytes.
    pub(crate) byte: u64,
}

/// The rows of a table, those before its header among them.
pub(crate) trait TableRows {
    /// The next row. `typed` tells of each cell whether it is no text but a number or a date, in the dataset's form; where it is shorter
    /// the others are text.
    ///
    /// # Errors
    /// A file that cannot be read on.
    fn next(&mut self, row: &mut ByteRecord, typed: &mut Vec<bool>) -> Result<Option<Place>, ReadError>;

    /// What a person should know of the file as a whole.
    fn remark(&self) -> Option<String> {
        None
    }
}

impl TableFile {
    /// A file that is one table.
    #[must_use]
    pub fn of(path: &Path) -> TableFile {
        TableFile { path: path.to_owned(), sheet: None }
    }

    /// How reports call it.
    #[must_use]
    pub fn name(&self) -> String {
        let file = file_name(&self.path);
        self.sheet.as_ref().map_or_else(|| file.clone(), |sheet| format!("{file}: {sheet}"))
    }

    /// Whether it is a Parquet file, by its first bytes.
    pub(crate) fn is_parquet(&self) -> bool {
        let mut magic = [0; 4];
        File::open(&self.path).is_ok_and(|mut f| f.read_exact(&mut magic).is_ok()) && magic == parquet_table::MAGIC
    }

    /// Its rows; `delimiter` is what separates cells of text.
    ///
    /// # Errors
    /// A file that cannot be read.
    pub(crate) fn rows(&self, delimiter: u8) -> Result<Box<dyn TableRows>, ReadError> {
        let mut magic = [0; 4];
        let file = file_name(&self.path);
        let read = File::open(&self.path).map_err(|source| ReadError::Io { file: file.clone(), source })?.read(&mut magic);
        match read.map_err(|source| ReadError::Io { file, source })? {
            4 if magic == archive::MAGIC => Ok(Box::new(SheetRows::open(self)?)),
            4 if magic == parquet_table::MAGIC => Ok(Box::new(ParquetRows::open(&self.path)?)),
            _ => Ok(Box::new(CsvRows::open(&self.path, delimiter)?)),
        }
    }

    /// How a cell is called where the file calls cells: `B3`.
    pub(crate) fn cell(&self, line: u64, column: usize) -> Option<String> {
        self.sheet.as_ref().map(|_| format!("{}{line}", letters(column)))
    }
}

/// A column of a sheet: A, B, … Z, AA.
pub(crate) fn letters(column: usize) -> String {
    let (mut n, mut out) = (column + 1, Vec::new());
    while n > 0 {
        out.push(char::from(b'A' + u8::try_from((n - 1) % 26).unwrap_or(0)));
        n = (n - 1) / 26;
    }
    out.iter().rev().collect()
}

#[cfg(test)]
mod tests {
    use super::letters;

    #[test]
    fn columns_have_letters() {
        assert_eq!([0, 25, 26, 51, 52, 701, 702].map(letters), ["A", "Z", "AA", "AZ", "BA", "ZZ", "AAA"]);
    }
}

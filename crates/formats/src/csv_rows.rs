//! Delimited text as rows.

use crate::{
    ReadError,
    data_package::csv_error,
    filings::file_name,
    table_rows::{Place, TableRows},
    tables::Bounded,
    text::TextReader,
};
use csv::{ByteRecord, Reader, ReaderBuilder};
use std::{cell::Cell, fs::File, path::Path, rc::Rc};

/// The rows of a file of delimited text.
pub(crate) struct CsvRows {
    file: String,
    csv: Reader<Bounded<TextReader<File>>>,
    since_record: Rc<Cell<u64>>,
    encoding: Option<&'static str>,
}

impl CsvRows {
    pub(crate) fn open(path: &Path, delimiter: u8) -> Result<CsvRows, ReadError> {
        let file = file_name(path);
        let io = |source| ReadError::Io { file: file.clone(), source };
        let text = TextReader::new(File::open(path).map_err(io)?).map_err(io)?;
        let encoding = text.encoding();
        let (bounded, since_record) = Bounded::new(text);
        let mut builder = ReaderBuilder::new();
        builder.delimiter(delimiter).flexible(true).has_headers(false).buffer_capacity(1 << 18);
        Ok(CsvRows { file, csv: builder.from_reader(bounded), since_record, encoding })
    }
}

impl TableRows for CsvRows {
    fn next(&mut self, row: &mut ByteRecord, _: &mut Vec<bool>) -> Result<Option<Place>, ReadError> {
        self.since_record.set(0);
        if !self.csv.read_byte_record(row).map_err(|e| csv_error(&self.file, &e))? {
            return Ok(None);
        }
        let place = row.position();
        Ok(Some(Place { line: place.map_or(0, csv::Position::line), byte: place.map_or(0, csv::Position::byte) }))
    }

    fn remark(&self) -> Option<String> {
        self.encoding.map(|encoding| format!("read as {encoding}"))
    }
}

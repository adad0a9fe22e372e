//! Columns → the bytes of a file.

use crate::WriteError;
use artemon_core::domain::Day;
use parquet::{
    basic::{Compression, ConvertedType, Repetition, Type as Physical},
    data_type::{BoolType, ByteArray, ByteArrayType, DataType, DoubleType, Int32Type, Int64Type},
    errors::ParquetError,
    file::{
        metadata::KeyValue,
        properties::WriterProperties,
        writer::{SerializedFileWriter, SerializedRowGroupWriter},
    },
    schema::types::Type,
};
use std::{
    io::{self, Write},
    sync::Arc,
};

/// A column by its name; none stands where there is no value.
#[derive(Clone, Debug, PartialEq)]
pub struct Column {
    /// Any text. Of columns with the same name the later ones are numbered, since readers know a column by its name.
    pub name: String,
    /// A value a row.
    pub cells: Cells,
}

/// The values of a column.
#[derive(Clone, Debug, PartialEq)]
#[allow(missing_docs)]
pub enum Cells {
    Numbers(Vec<Option<f64>>),
    Wholes(Vec<Option<i64>>),
    Days(Vec<Option<Day>>),
    Flags(Vec<Option<bool>>),
    Texts(Vec<Option<String>>),
}

/// A table as the bytes of a file, in one row group; `notes` are kept as key and value beside it.
///
/// # Errors
/// Columns of different lengths.
pub fn write(columns: &[Column], notes: &[(&str, String)]) -> Result<Vec<u8>, WriteError> {
    let mut file = TableFile::create(Vec::new(), columns, notes)?;
    file.rows(columns)?;
    file.finish()
}

/// A file that is written some rows at a time, compressed with snappy.
pub(super) struct TableFile<W: Write + Send>(SerializedFileWriter<W>);

impl<W: Write + Send> TableFile<W> {
    /// Begins a file with these columns.
    ///
    /// # Errors
    /// When it cannot be written.
    pub(super) fn create(out: W, columns: &[Column], notes: &[(&str, String)]) -> Result<TableFile<W>, WriteError> {
        let create = || {
            let fields = names(columns).into_iter().zip(columns).map(|(name, column)| field(&name, &column.cells));
            let schema = Type::group_type_builder("table").with_fields(fields.collect::<Result<_, _>>()?).build()?;
            let notes = notes.iter().map(|(key, value)| KeyValue::new((*key).to_owned(), value.clone())).collect();
            let properties = WriterProperties::builder().set_compression(Compression::SNAPPY).set_key_value_metadata(Some(notes)).build();
            SerializedFileWriter::new(out, Arc::new(schema), Arc::new(properties))
        };
        create().map(TableFile).map_err(|e: ParquetError| failed(&e))
    }

    /// Adds rows as a row group: the columns of the file, in the same order.
    ///
    /// # Errors
    /// Columns of different lengths; when it cannot be written.
    pub(super) fn rows(&mut self, columns: &[Column]) -> Result<(), WriteError> {
        self.group(columns).map_err(|e| failed(&e))
    }

    fn group(&mut self, columns: &[Column]) -> Result<(), ParquetError> {
        let mut group = self.0.next_row_group()?;
        for column in columns {
            match &column.cells {
                Cells::Numbers(cells) => write_column::<DoubleType, W>(&mut group, cells.iter().copied())?,
                Cells::Wholes(cells) => write_column::<Int64Type, W>(&mut group, cells.iter().copied())?,
                Cells::Days(cells) => write_column::<Int32Type, W>(&mut group, cells.iter().map(|day| day.map(Day::epoch_days)))?,
                Cells::Flags(cells) => write_column::<BoolType, W>(&mut group, cells.iter().copied())?,
                Cells::Texts(cells) => {
                    write_column::<ByteArrayType, W>(&mut group, cells.iter().map(|cell| cell.as_deref().map(ByteArray::from)))?;
                }
            }
        }
        group.close().map(drop)
    }

    /// Ends the file.
    ///
    /// # Errors
    /// When it cannot be written.
    pub(super) fn finish(self) -> Result<W, WriteError> {
        self.0.into_inner().map_err(|e| failed(&e))
    }
}

fn failed(e: &ParquetError) -> WriteError {
    WriteError::Stream { source: io::Error::other(e.to_string()) }
}

fn field(name: &str, cells: &Cells) -> Result<Arc<Type>, ParquetError> {
    let (physical, said) = match cells {
        Cells::Numbers(_) => (Physical::DOUBLE, ConvertedType::NONE),
        Cells::Wholes(_) => (Physical::INT64, ConvertedType::NONE),
        Cells::Days(_) => (Physical::INT32, ConvertedType::DATE),
        Cells::Flags(_) => (Physical::BOOLEAN, ConvertedType::NONE),
        Cells::Texts(_) => (Physical::BYTE_ARRAY, ConvertedType::UTF8),
    };
    let field = Type::primitive_type_builder(name, physical).with_repetition(Repetition::OPTIONAL).with_converted_type(said);
    Ok(Arc::new(field.build()?))
}

/// A column's values and where they stand.
fn write_column<T: DataType, W: Write + Send>(
    group: &mut SerializedRowGroupWriter<'_, W>,
    cells: impl Iterator<Item = Option<T::T>> + Clone,
) -> Result<(), ParquetError> {
    let there: Vec<i16> = cells.clone().map(|cell| i16::from(cell.is_some())).collect();
    let values: Vec<T::T> = cells.flatten().collect();
    let Some(mut column) = group.next_column()? else { return Err(ParquetError::General("a column too many".to_owned())) };
    column.typed::<T>().write_batch(&values, Some(&there), None)?;
    column.close()
}

/// The names, each once.
fn names(columns: &[Column]) -> Vec<String> {
    let mut names: Vec<String> = Vec::with_capacity(columns.len());
    for Column { name, .. } in columns {
        let numbered = (2..).map(|n| format!("{name} ({n})"));
        let free = std::iter::once(name.clone()).chain(numbered).find(|name| !names.contains(name));
        names.extend(free);
    }
    names
}

#[cfg(test)]
mod tests {
    use super::{Cells, Column, write};
    use parquet::{
        file::reader::{FileReader, SerializedFileReader},
        record::Field,
    };
    use std::io::Write;

    fn column(name: &str, cells: Cells) -> Column {
        Column { name: name.to_owned(), cells }
    }

    fn read(bytes: &[u8]) -> SerializedFileReader<std::fs::File> {
        let mut file = tempfile::tempfile().unwrap();
        file.write_all(bytes).unwrap();
        SerializedFileReader::new(file).unwrap()
    }

    /// What was written is read back value by value: numbers to the last bit with the infinite among them, gaps, texts in any script,
    /// two columns of one name, the notes.
    #[test]
    fn a_table_is_read_back_as_it_was_written() {
        let numbers = vec![Some(0.1 + 0.2), None, Some(f64::INFINITY), Some(-0.0)];
        let columns = [
            column("symbol", Cells::Texts(vec![Some("DRUA".into()), Some("Žľab, \"x\"".into()), None, Some(String::new())])),
            column("pe", Cells::Numbers(numbers.clone())),
            column("pe", Cells::Numbers(vec![None; 4])),
            column("is_fund", Cells::Flags(vec![Some(true), None, Some(false), Some(true)])),
        ];
        let bytes = write(&columns, &[("as_of", "2025-06-27".to_owned())]).unwrap();
        let file = read(&bytes);
        let notes = file.metadata().file_metadata().key_value_metadata().unwrap();
        assert!(notes.iter().any(|n| n.key == "as_of" && n.value.as_deref() == Some("2025-06-27")));
        let rows: Vec<Vec<(String, Field)>> = file.get_row_iter(None).unwrap().map(|row| row.unwrap().into_columns()).collect();
        assert_eq!(rows.len(), 4);
        let names: Vec<&str> = rows[0].iter().map(|(name, _)| &**name).collect();
        assert_eq!(names, ["symbol", "pe", "pe (2)", "is_fund"]);
        for (row, number) in rows.iter().zip(&numbers) {
            match (&row[1].1, number) {
                (Field::Double(read), Some(v)) => assert_eq!(read.to_bits(), v.to_bits()),
                (Field::Null, None) => {}
                other => panic!("{other:?}"),
            }
        }
        let texts: Vec<Field> = rows.iter().map(|row| row[0].1.clone()).collect();
        assert_eq!(texts, [Field::Str("DRUA".into()), Field::Str("Žľab, \"x\"".into()), Field::Null, Field::Str(String::new())]);
        let flags: Vec<Field> = rows.iter().map(|row| row[3].1.clone()).collect();
        assert_eq!(flags, [Field::Bool(true), Field::Null, Field::Bool(false), Field::Bool(true)]);
    }

    #[test]
    fn a_table_without_rows_keeps_its_columns_and_one_of_uneven_columns_is_refused() {
        let empty = [column("symbol", Cells::Texts(Vec::new())), column("pe", Cells::Numbers(Vec::new()))];
        let file = read(&write(&empty, &[]).unwrap());
        assert_eq!(file.metadata().file_metadata().schema().get_fields().len(), 2);
        assert_eq!(file.get_row_iter(None).unwrap().count(), 0);
        let uneven = [column("a", Cells::Numbers(vec![None; 2])), column("b", Cells::Numbers(vec![None; 3]))];
        assert!(write(&uneven, &[]).is_err());
    }
}

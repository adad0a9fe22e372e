//! The columns of a file, read some rows at a time.

use crate::{ReadError, filings::file_name};
use artemon_core::domain::Day;
use parquet::{
    basic::{ConvertedType, LogicalType, TimeUnit, Type as Physical},
    column::reader::{ColumnReader, ColumnReaderImpl},
    data_type::{ByteArray, DataType},
    errors::ParquetError,
    file::reader::{FileReader, SerializedFileReader},
    schema::types::ColumnDescriptor,
};
use rust_decimal::Decimal;
use std::{fs::File, path::Path};

const DAY_MS: i64 = 86_400_000;

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Holds {
    Numbers,
    /// Whole numbers of 10^−scale.
    Decimals(u32),
    Days,
    /// Moments, so many to a millisecond.
    Moments(i64),
    Texts,
    Flags,
}

/// The values of a column in some rows; none stands where there is no value.
#[derive(Clone, Debug)]
pub(super) enum Values {
    Numbers(Vec<Option<f64>>),
    Decimals(Vec<Option<Decimal>>),
    Days(Vec<Option<Day>>),
    /// Milliseconds since 1970.
    Moments(Vec<Option<i64>>),
    Texts(Vec<Option<ByteArray>>),
    Flags(Vec<Option<bool>>),
}

/// A file and the columns of it that can be read.
pub(super) struct Columns {
    file: String,
    reader: SerializedFileReader<File>,
    /// Name, place and content of each.
    known: Vec<(String, usize, Holds)>,
    /// Names of columns that cannot be a table's: lists, groups.
    pub(super) nested: Vec<String>,
    group: usize,
    /// The readers of the group that is read, and how many of its rows are left.
    open: Vec<ColumnReader>,
    left: usize,
}

impl Columns {
    /// # Errors
    /// A file that is no complete Parquet file.
    pub(super) fn open(path: &Path) -> Result<Columns, ReadError> {
        let file = file_name(path);
        let opened = File::open(path).map_err(|source| ReadError::Io { file: file.clone(), source })?;
        let reader = SerializedFileReader::new(opened).map_err(|e| unusable(&file, &e))?;
        let (mut known, mut nested) = (Vec::new(), Vec::new());
        for (place, column) in reader.metadata().file_metadata().schema_descr().columns().iter().enumerate() {
            let is_flat = column.max_rep_level() == 0 && column.path().parts().len() == 1;
            match holds(column).filter(|_| is_flat) {
                Some(holds) => known.push((column.name().to_owned(), place, holds)),
                None => nested.extend(column.path().parts().first().cloned()),
            }
        }
        nested.dedup();
        Ok(Columns { file, reader, known, nested, group: 0, open: Vec::new(), left: 0 })
    }

    pub(super) fn names(&self) -> impl Iterator<Item = &str> {
        self.known.iter().map(|(name, ..)| name.as_str())
    }

    /// The values of the next rows of every column, at most `most`; empty at the end.
    ///
    /// # Errors
    /// A file that is damaged.
    pub(super) fn next(&mut self, most: usize) -> Result<Vec<Values>, ReadError> {
        self.read(most).map_err(|e| unusable(&self.file, &e))
    }

    fn read(&mut self, most: usize) -> Result<Vec<Values>, ParquetError> {
        while self.left == 0 {
            if self.group == self.reader.num_row_groups() {
                return Ok(Vec::new());
            }
            let group = self.reader.get_row_group(self.group)?;
            self.group += 1;
            self.left = usize::try_from(group.metadata().num_rows()).unwrap_or(0);
            self.open = self.known.iter().map(|(_, place, _)| group.get_column_reader(*place)).collect::<Result<_, _>>()?;
        }
        let rows = most.min(self.left);
        self.left -= rows;
        self.open.iter_mut().zip(&self.known).map(|(reader, (_, _, holds))| values(reader, *holds, rows)).collect()
    }
}

fn unusable(file: &str, e: &ParquetError) -> ReadError {
    ReadError::Unusable { file: file.to_owned(), problem: format!("it is no complete Parquet file ({e})") }
}

fn holds(column: &ColumnDescriptor) -> Option<Holds> {
    let scale = || u32::try_from(column.type_scale()).ok();
    if let Some(logical) = column.logical_type_ref() {
        match logical {
            LogicalType::Date => return Some(Holds::Days),
            LogicalType::Decimal(_) => return scale().map(Holds::Decimals),
            LogicalType::Timestamp(timestamp) => {
                return Some(Holds::Moments(match timestamp.unit {
                    TimeUnit::MILLIS => 1,
                    TimeUnit::MICROS => 1_000,
                    TimeUnit::NANOS => 1_000_000,
                }));
            }
            LogicalType::Time(_) => return None,
            _ => {}
        }
    }
    match (column.converted_type(), column.physical_type()) {
        (ConvertedType::DATE, _) => Some(Holds::Days),
        (ConvertedType::DECIMAL, _) => scale().map(Holds::Decimals),
        (ConvertedType::TIMESTAMP_MILLIS, _) => Some(Holds::Moments(1)),
        (ConvertedType::TIMESTAMP_MICROS, _) => Some(Holds::Moments(1_000)),
        (_, Physical::BOOLEAN) => Some(Holds::Flags),
        (_, Physical::INT32 | Physical::INT64 | Physical::FLOAT | Physical::DOUBLE) => Some(Holds::Numbers),
        (_, Physical::BYTE_ARRAY) => Some(Holds::Texts),
        (_, Physical::INT96 | Physical::FIXED_LEN_BYTE_ARRAY) => None,
    }
}

#[allow(clippy::cast_precision_loss)] // amounts beyond 2^53 are no figures of statements
fn values(reader: &mut ColumnReader, holds: Holds, rows: usize) -> Result<Values, ParquetError> {
    use ColumnReader as C;
    let mismatch = || Err(ParquetError::General("a column of an unexpected type".to_owned()));
    Ok(match (holds, reader) {
        (Holds::Numbers, C::Int32ColumnReader(r)) => Values::Numbers(each(r, rows, |v| f64::from(*v))?),
        (Holds::Numbers, C::Int64ColumnReader(r)) => Values::Numbers(each(r, rows, |v| *v as f64)?),
        (Holds::Numbers, C::FloatColumnReader(r)) => Values::Numbers(each(r, rows, |v| v.to_string().parse().unwrap_or(f64::NAN))?),
        (Holds::Numbers, C::DoubleColumnReader(r)) => Values::Numbers(each(r, rows, |v| *v)?),
        (Holds::Decimals(scale), C::Int32ColumnReader(r)) => Values::Decimals(each(r, rows, |v| Decimal::new(i64::from(*v), scale))?),
        (Holds::Decimals(scale), C::Int64ColumnReader(r)) => Values::Decimals(each(r, rows, |v| Decimal::new(*v, scale))?),
        (Holds::Decimals(scale), C::ByteArrayColumnReader(r)) => Values::Decimals(maybe(each(r, rows, |v| unscaled(v.data(), scale))?)),
        (Holds::Decimals(scale), C::FixedLenByteArrayColumnReader(r)) => {
            Values::Decimals(maybe(each(r, rows, |v| unscaled(v.data(), scale))?))
        }
        (Holds::Days, C::Int32ColumnReader(r)) => Values::Days(each(r, rows, |v| Day::from_epoch_days(*v))?),
        (Holds::Moments(to_ms), C::Int64ColumnReader(r)) => Values::Moments(each(r, rows, |v| v.div_euclid(to_ms))?),
        (Holds::Texts, C::ByteArrayColumnReader(r)) => Values::Texts(each(r, rows, Clone::clone)?),
        (Holds::Flags, C::BoolColumnReader(r)) => Values::Flags(each(r, rows, |v| *v)?),
        _ => return mismatch(),
    })
}

/// A decimal as its whole number in bytes, the greatest first.
fn unscaled(bytes: &[u8], scale: u32) -> Option<Decimal> {
    if bytes.len() > 16 || bytes.is_empty() {
        return None;
    }
    let sign = if bytes[0] & 0x80 == 0 { 0 } else { 0xFF };
    let mut whole = [sign; 16];
    whole[16 - bytes.len()..].copy_from_slice(bytes);
    Decimal::try_from_i128_with_scale(i128::from_be_bytes(whole), scale).ok()
}

fn maybe<T>(all: Vec<Option<Option<T>>>) -> Vec<Option<T>> {
    all.into_iter().map(Option::flatten).collect()
}

fn each<T: DataType, V>(reader: &mut ColumnReaderImpl<T>, rows: usize, value: impl Fn(&T::T) -> V) -> Result<Vec<Option<V>>, ParquetError> {
    let (mut there, mut values) = (Vec::with_capacity(rows), Vec::with_capacity(rows));
    let mut read = 0;
    while read < rows {
        let (records, _, _) = reader.read_records(rows - read, Some(&mut there), None, &mut values)?;
        if records == 0 {
            return Err(ParquetError::EOF("a column has fewer rows than the file says".to_owned()));
        }
        read += records;
    }
    // A column that must be there has no levels.
    if there.is_empty() {
        return Ok(values.iter().map(|v| Some(value(v))).collect());
    }
    let mut values = values.iter();
    Ok(there.iter().map(|level| if *level > 0 { values.next().map(&value) } else { None }).collect())
}

impl Values {
    pub(super) fn len(&self) -> usize {
        match self {
            Values::Numbers(all) => all.len(),
            Values::Decimals(all) => all.len(),
            Values::Days(all) => all.len(),
            Values::Moments(all) => all.len(),
            Values::Texts(all) => all.len(),
            Values::Flags(all) => all.len(),
        }
    }

    /// Appends a value as text; whether it is a number or a date in the dataset's form.
    pub(super) fn write(&self, at: usize, out: &mut String) -> bool {
        use std::fmt::Write;
        let written = match self {
            Values::Numbers(all) => all[at].map(|v| write!(out, "{v}")),
            Values::Decimals(all) => all[at].map(|v| write!(out, "{}", v.normalize())),
            Values::Days(all) => all[at].map(|v| write!(out, "{v}")),
            Values::Moments(all) => all[at].map(|ms| moment(ms, out)),
            Values::Flags(all) => all[at].map(|v| write!(out, "{v}")),
            Values::Texts(all) => {
                out.push_str(&all[at].as_ref().map(|v| String::from_utf8_lossy(v.data())).unwrap_or_default());
                return false;
            }
        };
        written.is_some()
    }
}

/// A moment as its day where it is midnight.
fn moment(ms: i64, out: &mut String) -> std::fmt::Result {
    use std::fmt::Write;
    let day = i32::try_from(ms.div_euclid(DAY_MS)).map_or(Day::MAX, Day::from_epoch_days);
    match ms.rem_euclid(DAY_MS) / 1_000 {
        0 => write!(out, "{day}"),
        s => write!(out, "{day}T{:02}:{:02}:{:02}Z", s / 3_600, s / 60 % 60, s % 60),
    }
}

//! Prices out of a file column by column, without their way over text: they are by far the largest table.

use super::columns::{Columns, Values};
use crate::{
    BadCell, ReadError, ReadReport,
    filings::{file_name, file_size},
    reading::{Progress, Reading, Take},
    tables::{self, Checker, Fields, Known, bar_problem, parse},
};
use artemon_core::domain::{Bar, Record, Table};
use csv::ByteRecord;
use parquet::data_type::ByteArray;
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::{path::Path, sync::Arc};

/// Rows read at once.
const BATCH: usize = 1 << 14;

/// Reads the prices of a file whose columns are called as the table's and hold numbers and days; `None` where they do not.
///
/// # Errors
/// A file that is damaged; a reading that refuses a row or ends it.
pub(crate) fn read_prices(path: &Path, known: &mut Known, reading: &mut dyn Reading) -> Result<Option<ReadReport>, ReadError> {
    let mut columns = Columns::open(path)?;
    let place = |name: &str| columns.names().position(|n| n == name);
    let places: Vec<Option<usize>> = tables::columns(Table::Prices).iter().map(|c| place(c.name)).collect();
    let &[Some(symbol), Some(date), open, high, low, Some(close), volume] = places.as_slice() else { return Ok(None) };
    let file = file_name(path);
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::Prices, bytes_in_all: file_size(path), ..take.progress };
    let mut of =
        OfPrices { file: &file, places: &places, checker: Checker::new(std::mem::take(known)), symbol: "".into(), good: 0, row: 0 };
    let mut last: (ByteArray, Arc<str>) = (ByteArray::from(""), "".into());
    loop {
        let batch = columns.next(BATCH)?;
        let Some(rows) = batch.first().map(Values::len) else { break };
        let numbers = [open, high, low, Some(close), volume].map(|at| Numbers::of(at.map(|at| &batch[at])));
        let (Values::Texts(symbols), Values::Days(days), [Some(open), Some(high), Some(low), Some(close), Some(volume)]) =
            (&batch[symbol], &batch[date], numbers)
        else {
            // The types of columns are those of the whole file: nothing was taken yet.
            *known = of.checker.end().0;
            return Ok(None);
        };
        for row in 0..rows {
            of.row += 1;
            if let (Some(symbol), Some(date)) = (&symbols[row], days[row]) {
                if symbol.data() != last.0.data() {
                    last = (symbol.clone(), symbol.as_utf8().unwrap_or_default().into());
                }
                let [open, high, low, close, volume] = [&open, &high, &low, &close, &volume].map(|n| n.at(row));
                let bar = Bar { date, open, high, low, close, volume };
                if !close.is_nan() && bar_problem(&bar).is_none() && of.checker.may_take(&last.1, date) {
                    of.good += 1;
                    let now = take.progress;
                    take.good(Record::Price { symbol: last.1.clone(), bar: bar.traded() }, now)?;
                    continue;
                }
            }
            of.told(&batch, row, &mut take)?;
        }
    }
    let (good, checker) = (of.good, of.checker);
    let unknown = columns.names().filter(|n| !tables::columns(Table::Prices).iter().any(|c| c.name == *n)).map(str::to_owned);
    take.report.kept_out = unknown.chain(columns.nested.iter().cloned()).map(|column| format!("{file}: column {column}")).collect();
    take.report.rows.push((Table::Prices, good));
    *known = checker.end().0;
    Ok(Some(take.report))
}

struct OfPrices<'f> {
    file: &'f str,
    places: &'f [Option<usize>],
    checker: Checker,
    symbol: Arc<str>,
    good: u64,
    row: u64,
}

impl OfPrices<'_> {
    /// A row that cannot be taken as it is, by way of its text, which tells what is wrong with it.
    fn told(&mut self, batch: &[Values], row: usize, take: &mut Take<'_>) -> Result<(), ReadError> {
        let (mut record, mut cell) = (ByteRecord::new(), String::new());
        for values in batch {
            cell.clear();
            values.write(row, &mut cell);
            record.push_field(cell.as_bytes());
        }
        let fields = Fields { record: &record, places: self.places };
        let parsed = parse(Table::Prices, &fields, &mut self.symbol);
        match parsed.and_then(|row| self.checker.check(&fields, &row).map(|()| row)) {
            Ok(row) => {
                self.good += 1;
                let now = take.progress;
                take.good(row, now)?;
            }
            Err(bad) => {
                let column = tables::columns(Table::Prices)[bad.column].name;
                take.bad(BadCell::of(self.file, self.row, column, bad));
            }
        }
        Ok(())
    }
}

/// A column of numbers; NaN where none stands, infinite where what stands is none.
enum Numbers<'v> {
    Missing,
    Floats(&'v [Option<f64>]),
    Decimals(&'v [Option<Decimal>]),
}

impl<'v> Numbers<'v> {
    /// `None` where the column holds no numbers.
    fn of(values: Option<&'v Values>) -> Option<Numbers<'v>> {
        match values {
            None => Some(Numbers::Missing),
            Some(Values::Numbers(all)) => Some(Numbers::Floats(all)),
            Some(Values::Decimals(all)) => Some(Numbers::Decimals(all)),
            Some(_) => None,
        }
    }

    fn at(&self, row: usize) -> f64 {
        match self {
            Numbers::Missing => f64::NAN,
            Numbers::Floats(all) => all[row].map_or(f64::NAN, |n| if n.is_finite() { n } else { f64::INFINITY }),
            // The double nearest to the decimal.
            Numbers::Decimals(all) => all[row].map_or(f64::NAN, |d| exact(d).or_else(|| d.to_f64()).unwrap_or(f64::INFINITY)),
        }
    }
}

/// A decimal of few figures as a quotient of two whole numbers, which is rounded once.
#[allow(clippy::cast_precision_loss)]
fn exact(decimal: Decimal) -> Option<f64> {
    const MOST: i128 = 1 << 53;
    let (whole, scale) = (decimal.mantissa(), decimal.scale());
    (whole.abs() < MOST && scale <= 22).then(|| whole as f64 / 10f64.powi(i32::try_from(scale).unwrap_or(0)))
}

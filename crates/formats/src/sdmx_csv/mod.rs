//! Series of observations as statistical offices and central banks give them out: SDMX-CSV 1.0 and 2.0, a row an observation.
//!
//! Exchange rates need no answer: CURRENCY units for one CURRENCY_DENOM, × 10^UNIT_MULT; only daily spot rates are taken. Of other
//! series a person says which series of rates they are, and which value of each remaining dimension.

use crate::{
    BadCell, Progress, ReadError, ReadNote, ReadReport, Reading,
    csv_rows::CsvRows,
    filings::{file_name, file_size},
    mapped_table::{delimiter, month_end},
    reading::Take,
    table_rows::{Place, TableRows},
};
use artemon_core::{
    domain::{Currency, Day, FxRate, Rate, RateSeries, Record, Table},
    filings::number,
};
use csv::ByteRecord;
use rust_decimal::{Decimal, prelude::ToPrimitive};
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeMap, BTreeSet},
    fs::File,
    io::Read,
    path::Path,
};

/// Values of a dimension that are looked for.
const MOST_VALUES: usize = 200;
/// Columns that are no dimensions, or such as are read here.
const READ_HERE: [&str; 20] = [
    "DATAFLOW",
    "STRUCTURE",
    "STRUCTURE_ID",
    "STRUCTURE_NAME",
    "ACTION",
    "FREQ",
    "CURRENCY",
    "CURRENCY_DENOM",
    "EXR_TYPE",
    "EXR_SUFFIX",
    "TIME_PERIOD",
    "OBS_VALUE",
    "OBS_STATUS",
    "OBS_CONF",
    "DECIMALS",
    "UNIT_MULT",
    "UNIT_MEASURE",
    "UNIT",
    "TITLE",
    "TITLE_COMPL",
];

/// What a person says of a file of observations.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ObservationAnswers {
    /// Which series of rates they are.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub series: Option<RateSeries>,
    /// Their currency, where the file does not say it.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub currency: Option<Currency>,
    /// The value that is taken of each dimension that has several.
    #[serde(default)]
    pub chosen: BTreeMap<String, String>,
}

/// What a file of observations holds.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, utoipa::ToSchema)]
pub struct Observations {
    /// The table that they belong to: fx or rates.
    #[schema(value_type = String)]
    pub table: Table,
    /// Whether each row says its currency.
    pub has_currency: bool,
    /// Dimensions of which it holds several values.
    pub dimensions: BTreeMap<String, Vec<String>>,
}

/// Whether a file's first line is the header of such a file.
pub(crate) fn is_observations(header: &str) -> bool {
    let names: Vec<&str> = header.split([',', ';', '\t']).map(|c| code(c.trim_matches('"'))).collect();
    let has = |name: &str| names.contains(&name);
    (has("DATAFLOW") || has("STRUCTURE")) && has("TIME_PERIOD") && has("OBS_VALUE")
}

/// What stands before the label, where both are written.
fn code(text: &str) -> &str {
    text.split_once(": ").map_or(text, |(code, _)| code).trim()
}

/// A file while it is read.
struct Rows {
    file: String,
    rows: CsvRows,
    names: Vec<String>,
    record: ByteRecord,
}

impl Rows {
    fn open(path: &Path) -> Result<Rows, ReadError> {
        let file = file_name(path);
        let mut head = Vec::new();
        let read = File::open(path).and_then(|f| f.take(1 << 16).read_to_end(&mut head));
        read.map_err(|source| ReadError::Io { file: file.clone(), source })?;
        let mut rows = CsvRows::open(path, delimiter(&head, 1))?;
        let (mut record, mut typed) = (ByteRecord::new(), Vec::new());
        rows.next(&mut record, &mut typed)?;
        let names = record.iter().map(|c| code(&String::from_utf8_lossy(c)).to_owned()).collect();
        Ok(Rows { file, rows, names, record })
    }

    fn next(&mut self) -> Result<Option<Place>, ReadError> {
        self.rows.next(&mut self.record, &mut Vec::new())
    }

    fn has(&self, name: &str) -> bool {
        self.names.iter().any(|n| n == name)
    }

    /// A cell's code; empty where there is no such column.
    fn cell(&self, name: &str) -> &str {
        let cell = self.names.iter().position(|n| n == name).and_then(|at| self.record.get(at));
        cell.and_then(|c| std::str::from_utf8(c).ok()).map_or("", code)
    }

    fn table(&self) -> Table {
        if self.has("CURRENCY") && self.has("CURRENCY_DENOM") { Table::Fx } else { Table::Rates }
    }
}

/// What a file holds, and of what a person must choose.
///
/// # Errors
/// A file that cannot be read.
pub fn survey(path: &Path) -> Result<Observations, ReadError> {
    let mut rows = Rows::open(path)?;
    let names: Vec<String> = rows.names.iter().filter(|n| !READ_HERE.contains(&n.as_str())).cloned().collect();
    let mut values: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    while rows.next()?.is_some() {
        for name in &names {
            let (value, of) = (rows.cell(name).to_owned(), values.entry(name.clone()).or_default());
            if of.len() < MOST_VALUES {
                of.insert(value);
            }
        }
    }
    let several = values.into_iter().filter(|(_, of)| of.len() > 1).map(|(name, of)| (name, of.into_iter().collect()));
    Ok(Observations { table: rows.table(), has_currency: rows.has("CURRENCY"), dimensions: several.collect() })
}

/// Reads a file of observations.
///
/// # Errors
/// A file that cannot be read; what a person has still to say; a reading that refuses a row or ends it.
pub fn read(path: &Path, answers: &ObservationAnswers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let what = survey(path)?;
    let mut rows = Rows::open(path)?;
    let asked = asked(&what, answers).map_or(Ok(()), |problem| Err(ReadError::Table { file: rows.file.clone(), problem }));
    asked?;
    let (mut take, mut left_out, mut good) = (Take::new(reading), BTreeMap::<String, u64>::new(), 0);
    take.progress = Progress { table: what.table, bytes_in_all: file_size(path), ..take.progress };
    while let Some(place) = rows.next()? {
        match observation(&rows, &what, answers, place) {
            Ok(record) => {
                good += 1;
                let now = take.progress.at(place.byte);
                take.good(record, now)?;
            }
            Err(Refused::LeftOut(why)) => *left_out.entry(why).or_default() += 1,
            Err(Refused::Bad(cell)) => take.bad(*cell),
        }
    }
    for (what, count) in left_out {
        take.report.note(ReadNote { file: rows.file.clone(), what, count, detail: String::new() });
    }
    take.report.rows.push((what.table, good));
    Ok(take.report)
}

/// What a person has still to say.
fn asked(what: &Observations, answers: &ObservationAnswers) -> Option<String> {
    if what.table == Table::Fx {
        return None;
    }
    if answers.series.is_none() {
        return Some("it does not say which series of rates it holds; say so".to_owned());
    }
    if !what.has_currency && answers.currency.is_none() {
        return Some("it does not say of which currency its rates are; say so".to_owned());
    }
    let open = what.dimensions.iter().find(|(name, values)| answers.chosen.get(*name).is_none_or(|chosen| !values.contains(chosen)));
    open.map(|(name, values)| {
        let some: Vec<&str> = values.iter().take(12).map(String::as_str).collect();
        format!("it holds several values of {name}; choose one of {}", some.join(", "))
    })
}

enum Refused {
    LeftOut(String),
    Bad(Box<BadCell>),
}

fn observation(rows: &Rows, what: &Observations, answers: &ObservationAnswers, place: Place) -> Result<Record, Refused> {
    const REMEDY: &str = "Correct the cell, or skip bad rows: then the observation is left out.";
    let bad = |column: &str, value: &str, expected: &str| {
        Refused::Bad(Box::new(BadCell::at(&rows.file, place.line, column, value, expected, REMEDY)))
    };
    let left_out = |why: String| Err(Refused::LeftOut(why));
    if rows.cell("ACTION") == "D" {
        return left_out("deleted".to_owned());
    }
    let frequency = rows.cell("FREQ");
    if !matches!((what.table, frequency), (_, "D" | "B" | "") | (Table::Rates, "M")) {
        return left_out("average of a period".to_owned());
    }
    let kind = rows.cell("EXR_TYPE");
    if what.table == Table::Fx && !matches!(kind, "" | "SP00") {
        return left_out(format!("not a spot rate (EXR_TYPE {kind})"));
    }
    if let Some((name, _)) = answers.chosen.iter().find(|(name, chosen)| rows.has(name) && rows.cell(name) != chosen.as_str()) {
        return left_out(format!("not chosen ({name} {})", rows.cell(name)));
    }
    let written = rows.cell("OBS_VALUE");
    if matches!(written, "" | "NaN" | "-" | ".") {
        return left_out("not known".to_owned());
    }
    let period = rows.cell("TIME_PERIOD");
    let day = if frequency == "M" { month_end(period) } else { period.parse::<Day>().ok() };
    let date = day.ok_or_else(|| bad("TIME_PERIOD", period, "a day, or a month of a series of months"))?;
    let value = value(rows, written).ok_or_else(|| bad("OBS_VALUE", written, "a number"))?;
    let currency = |name: &str| rows.cell(name).parse::<Currency>().map_err(|_| bad(name, rows.cell(name), "a currency of three letters"));
    if what.table == Table::Fx {
        if value <= 0.0 {
            return Err(bad("OBS_VALUE", written, "a rate above 0"));
        }
        return Ok(Record::Fx(FxRate { date, base: currency("CURRENCY_DENOM")?, quote: currency("CURRENCY")?, rate: value }));
    }
    let of = if what.has_currency { Some(currency("CURRENCY")?) } else { answers.currency };
    match (of, answers.series) {
        (Some(currency), Some(series)) => Ok(Record::Rate(Rate { date, currency, series, value })),
        _ => left_out("not chosen".to_owned()),
    }
}

/// A value in whole units; percentages as fractions.
fn value(rows: &Rows, written: &str) -> Option<f64> {
    let power: i64 = rows.cell("UNIT_MULT").parse().unwrap_or(0);
    let by = Decimal::from_scientific(&format!("1e{}", power.clamp(-18, 18))).ok()?;
    let value = number(written)?.checked_mul(by)?;
    let percent = matches!(rows.cell("UNIT_MEASURE"), "PC" | "PCPA") || rows.cell("UNIT") == "PC";
    let value = if percent { value.checked_div(Decimal::ONE_HUNDRED)? } else { value };
    value.normalize().to_string().parse().ok().or_else(|| value.to_f64())
}

#[cfg(test)]
mod tests {
    use super::is_observations;

    #[test]
    fn such_files_are_told_by_their_header() {
        assert!(is_observations("DATAFLOW,FREQ,TIME_PERIOD,OBS_VALUE"));
        assert!(is_observations("STRUCTURE;STRUCTURE_ID;ACTION;\"FREQ: Frequency\";TIME_PERIOD: Period;OBS_VALUE"));
        assert!(!is_observations("date,base,quote,rate"));
    }
}

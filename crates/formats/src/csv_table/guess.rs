//! A first mapping from a file's headers and its first rows.

use super::{
    convert::parts,
    mapping::{DateOrder, DecimalMark, MappedColumn, Mapping},
    sample::Sample,
};
use crate::tables::{CellKind, columns, required};
use artemon_core::domain::Table;

/// Other names of columns, as people's files have them.
const SYNONYMS: &[(&str, &[&str])] = &[
    ("symbol", &["ticker", "code", "instrument", "stock", "security"]),
    ("company_id", &["company", "issuer", "companyid", "entity"]),
    ("date", &["day", "tradedate", "pricedate", "timestamp", "time", "datum"]),
    ("open", &["openprice", "opening", "first"]),
    ("high", &["highprice", "max", "dayhigh"]),
    ("low", &["lowprice", "min", "daylow"]),
    ("close", &["closeprice", "closing", "last", "price", "settle"]),
    ("volume", &["vol", "quantity", "turnovershares", "shares traded"]),
    ("ex_date", &["exdate", "exdividenddate"]),
    ("amount", &["dividend", "dividendpershare", "cash"]),
    ("ratio", &["splitratio", "factor"]),
    ("filed_on", &["filed", "filingdate", "published", "reportdate"]),
    ("period_end", &["periodend", "enddate", "balancedate", "fiscalperiodend"]),
    ("fiscal_year", &["year", "fy"]),
    ("period", &["quarter", "fiscalperiod"]),
    ("revenue", &["sales", "turnover", "totalrevenue"]),
    ("net_income", &["netprofit", "profit", "earnings"]),
    ("eps_diluted", &["eps", "dilutedeps"]),
    ("operating_income", &["ebit", "operatingprofit"]),
    ("capital_expenditure", &["capex"]),
    ("name", &["companyname", "title"]),
    ("isin", &["isincode"]),
    ("mic", &["exchange", "market"]),
    ("traded_on", &["transactiondate", "tradeddate"]),
    ("insider_name", &["insider", "person", "owner"]),
    ("role", &["position", "relationship"]),
    ("value", &["rate", "yield", "level"]),
    ("rate", &["value", "fxrate"]),
    ("level", &["index", "value", "close"]),
    ("published_at", &["published", "date", "time"]),
];

/// Letters and digits alone, in lower case.
fn bare(text: &str) -> String {
    text.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect()
}

/// How well a header names a column: 2 by its own name, 1 by another name.
fn fit(header: &str, column: &str) -> u32 {
    let header = bare(header);
    if header == bare(column) {
        return 2;
    }
    let others = SYNONYMS.iter().find(|s| s.0 == column).map_or(&[][..], |s| s.1);
    u32::from(others.iter().any(|o| bare(o) == header))
}

/// The mapping that the headers suggest; a file called like a table is taken for that table. `None` when no table fits.
#[must_use]
pub fn guess(sample: &Sample) -> Option<Mapping> {
    let stem = bare(sample.file.split('.').next().unwrap_or_default());
    let scored = Table::ALL.iter().map(|&table| {
        let filled: u32 = required(table).iter().map(|c| sample.headers.iter().map(|h| fit(h, c)).max().unwrap_or(0)).sum();
        let all: u32 = columns(table).iter().map(|c| sample.headers.iter().map(|h| fit(h, c.name)).max().unwrap_or(0)).sum();
        let needed = u32::try_from(required(table).len() * 2).unwrap_or(1);
        let named = u32::from(stem == bare(table.code())) * 1000;
        (named + 100 * filled / needed + all, table)
    });
    let (score, table) = scored.max_by_key(|s| (s.0, std::cmp::Reverse(s.1)))?;
    (score >= 50).then(|| for_table(sample, table))
}

/// The mapping to a table that the headers suggest.
#[must_use]
pub fn for_table(sample: &Sample, table: Table) -> Mapping {
    let mut mapped: Vec<MappedColumn> = Vec::new();
    for wanted in [2, 1] {
        for column in columns(table) {
            let taken = |h: &String| mapped.iter().any(|m| m.from == *h);
            if mapped.iter().any(|m| m.column == column.name) {
                continue;
            }
            if let Some(header) = sample.headers.iter().find(|h| fit(h, column.name) == wanted && !taken(h)) {
                mapped.push(MappedColumn { column: column.name.to_owned(), from: header.clone(), divide: minor_units(header) });
            }
        }
    }
    Mapping {
        table,
        delimiter: sample.delimiter,
        dates: dates(sample, table, &mapped),
        decimal: decimal(sample, table, &mapped),
        columns: mapped,
        fixed: Vec::new(),
    }
}

/// 100 for a header that speaks of minor units.
fn minor_units(header: &str) -> f64 {
    let header = header.to_lowercase();
    if ["cent", "minor unit", "penny", "pence"].iter().any(|w| header.contains(w)) { 100.0 } else { 1.0 }
}

fn cells<'s>(sample: &'s Sample, table: Table, mapped: &'s [MappedColumn], kinds: &'s [CellKind]) -> impl Iterator<Item = &'s str> + 's {
    let of_kind = move |m: &&MappedColumn| columns(table).iter().any(|c| c.name == m.column && kinds.contains(&c.kind));
    mapped.iter().filter(of_kind).flat_map(|m| sample.column(&m.from))
}

fn dates(sample: &Sample, table: Table, mapped: &[MappedColumn]) -> DateOrder {
    guess_dates(cells(sample, table, mapped, &[CellKind::Date]))
}

/// The one order in which all of these are dates; day before month where both would do.
pub(crate) fn guess_dates<'s>(all: impl IntoIterator<Item = &'s str>) -> DateOrder {
    let all: Vec<[u32; 3]> = all.into_iter().filter_map(|c| parts(c.split(['T', ' ']).next()?)).collect();
    if all.iter().any(|p| p[0] > 31) || all.is_empty() {
        DateOrder::YearMonthDay
    } else if all.iter().all(|p| p[1] <= 12) {
        DateOrder::DayMonthYear
    } else {
        DateOrder::MonthDayYear
    }
}

fn decimal(sample: &Sample, table: Table, mapped: &[MappedColumn]) -> DecimalMark {
    guess_decimal(cells(sample, table, mapped, &[CellKind::Number]))
}

/// A comma is the decimal mark where it comes last, or where what follows it are not three digits.
pub(crate) fn guess_decimal<'s>(numbers: impl IntoIterator<Item = &'s str>) -> DecimalMark {
    let speaks_for_comma = |cell: &str| match (cell.rfind(','), cell.rfind('.')) {
        (Some(comma), Some(point)) => comma > point,
        (Some(comma), None) => cell.matches(',').count() == 1 && cell[comma + 1..].chars().filter(char::is_ascii_digit).count() != 3,
        _ => false,
    };
    if numbers.into_iter().any(speaks_for_comma) { DecimalMark::Comma } else { DecimalMark::Point }
}

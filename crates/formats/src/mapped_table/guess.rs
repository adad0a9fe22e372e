//! A first mapping from a file's headers and its first rows.

use super::{
    convert::{day, month_end, parts},
    guess_turned::turned,
    mapping::{DateOrder, Dated, DecimalMark, FixedCell, MappedColumn, Mapping, Wide, WideColumn},
    sample::{Sample, texts},
};
use crate::tables::{CellKind, columns, required};
use artemon_core::domain::{Currency, Day, Table};
use csv::ByteRecord;

/// Other names of columns, as people's files have them.
const SYNONYMS: &[(&str, &[&str])] = &[
    ("symbol", &["ticker", "code", "instrument", "stock", "security"]),
    ("company_id", &["company", "issuer", "companyid", "entity"]),
    ("date", &["day", "tradedate", "pricedate", "timestamp", "time", "datum", "month", "period", "observationdate"]),
    ("open", &["openprice", "opening", "openingprice", "first", "firstprice"]),
    ("high", &["highprice", "highest", "highestprice", "max", "dayhigh"]),
    ("low", &["lowprice", "lowest", "lowestprice", "min", "daylow"]),
    ("close", &["closeprice", "closing", "closingprice", "last", "lastprice", "price", "settle"]),
    ("volume", &["vol", "quantity", "turnovershares", "shares traded"]),
    ("ex_date", &["exdate", "exdividenddate"]),
    ("amount", &["dividend", "dividendpershare", "cash"]),
    ("ratio", &["splitratio", "factor"]),
    ("filed_on", &["filed", "filingdate", "published", "reportdate"]),
    ("period_end", &["periodend", "enddate", "balancedate", "fiscalperiodend"]),
    ("fiscal_year", &["year", "fy"]),
    ("period", &["quarter", "fiscalperiod"]),
    ("revenue", &["sales", "turnover", "totalrevenue", "netsales"]),
    ("cost_of_revenue", &["costofsales", "costofgoodssold"]),
    ("research_development", &["researchanddevelopment"]),
    ("selling_general_admin", &["sellinggeneralandadministrative", "sellinggeneralandadministrativeexpense"]),
    ("depreciation_amortization", &["depreciationandamortization", "depreciationandamortisation", "depreciation"]),
    ("interest_expense", &["interest", "interestpaid", "financecosts"]),
    ("pretax_income", &["profitbeforetax", "incomebeforetax", "pretaxprofit"]),
    ("income_tax", &["tax", "taxation", "incometaxexpense"]),
    ("net_income", &["netprofit", "profit", "earnings", "netearnings", "profitforshareholders", "profitaftertax"]),
    ("eps_basic", &["earningspershare", "basicearningspershare", "basiceps"]),
    ("eps_diluted", &["eps", "dilutedeps", "dilutedearningspershare"]),
    ("operating_income", &["ebit", "operatingprofit"]),
    ("cash", &["cashandcashequivalents", "cashandequivalents"]),
    ("inventory", &["inventories", "stocks"]),
    ("receivables", &["tradereceivables", "accountsreceivable"]),
    ("payables", &["tradepayables", "accountspayable"]),
    ("fixed_assets", &["propertyplantandequipment"]),
    ("long_term_debt", &["noncurrentborrowings"]),
    ("short_term_debt", &["currentborrowings"]),
    ("equity", &["shareholdersequity", "shareholdersfunds", "totalequity"]),
    ("shares_outstanding", &["sharesinissue", "sharesoutstanding", "numberofshares"]),
    ("operating_cash_flow", &["cashfromoperations", "cashflowfromoperations", "operatingcashflow"]),
    ("dividends_paid", &["dividends"]),
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
pub(super) fn fit(header: &str, column: &str) -> u32 {
    let header = bare(header);
    if header == bare(column) {
        return 2;
    }
    let others = SYNONYMS.iter().find(|s| s.0 == column).map_or(&[][..], |s| s.1);
    u32::from(others.iter().any(|o| bare(o) == header))
}

/// Whether the cells of a row name at least two columns of one table.
pub(super) fn names_columns(row: &[String]) -> bool {
    let named = |table: &Table| columns(*table).iter().filter(|c| row.iter().any(|cell| fit(cell, c.name) > 0)).count();
    Table::ALL.iter().any(|table| named(table) >= 2)
}

/// The mapping that the headers suggest; a file called like a table is taken for that table. `None` when no table fits.
#[must_use]
pub fn guess(sample: &Sample) -> Option<Mapping> {
    if let Some(mapping) = turned(sample) {
        return Some(mapping);
    }
    let stem = bare(sample.file.split('.').next().unwrap_or_default());
    let scored = Table::ALL.iter().map(|&table| {
        let filled: u32 = required(table).iter().map(|c| sample.headers.iter().map(|h| fit(h, c)).max().unwrap_or(0)).sum();
        let all: u32 = columns(table).iter().map(|c| sample.headers.iter().map(|h| fit(h, c.name)).max().unwrap_or(0)).sum();
        let needed = u32::try_from(required(table).len() * 2).unwrap_or(1);
        let named = u32::from(stem == bare(table.code())) * 1000;
        (named + 100 * filled / needed + all, table)
    });
    let (score, table) = scored.max_by_key(|s| (s.0, std::cmp::Reverse(s.1)))?;
    if score >= 50 {
        return Some(for_table(sample, table));
    }
    is_of_currencies(sample).then(|| for_table(sample, Table::Fx))
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
    let mut mapping = Mapping {
        table,
        delimiter: sample.delimiter,
        dates: dates(sample, table, &mapped),
        decimal: decimal(sample, table, &mapped),
        columns: mapped,
        fixed: Vec::new(),
        wide: None,
        turned: None,
    };
    mapping.wide = wide(sample, &mapping);
    if let Some(Wide { dated: Dated::MonthEnd | Dated::NextMonthEnd, .. }) = mapping.wide {
        mapping.dates = DateOrder::YearMonthDay;
    }
    mapping
}

fn is_currency(header: &str) -> bool {
    header.len() == 3 && header.bytes().all(|b| b.is_ascii_uppercase()) && header.parse::<Currency>().is_ok()
}

/// Whether a file has a column of dates and otherwise only such as are called by currencies.
fn is_of_currencies(sample: &Sample) -> bool {
    let mut others = sample.headers.iter().filter(|h| !h.is_empty() && fit(h, "date") == 0).peekable();
    sample.headers.iter().any(|h| fit(h, "date") > 0) && others.peek().is_some() && others.all(|h| is_currency(h))
}

/// The columns of values, where a file of rates has a column for each currency or maturity: those called by a currency are taken for
/// it, of others a person says what they are.
fn wide(sample: &Sample, mapping: &Mapping) -> Option<Wide> {
    let (value, of) = match mapping.table {
        Table::Fx => ("rate", "quote"),
        Table::Rates => ("value", "currency"),
        _ => return None,
    };
    let is_mapped = |column: &str| mapping.columns.iter().any(|c| c.column == column);
    if is_mapped(value) || is_mapped(of) || !is_mapped("date") {
        return None;
    }
    let currency = |h: &&String| is_currency(h);
    let fixed = |h: &String| WideColumn { from: h.clone(), fixed: vec![FixedCell { column: of.to_owned(), value: h.clone() }] };
    let date = mapping.columns.iter().find(|c| c.column == "date").map(|c| c.from.as_str())?;
    let is_monthly = sample.column(date).all(|cell| month_end(cell).is_some()) && sample.column(date).next().is_some();
    Some(Wide {
        value: value.to_owned(),
        columns: sample.headers.iter().filter(currency).map(fixed).collect(),
        divide: 1.0,
        dated: if is_monthly { Dated::MonthEnd } else { Dated::Day },
        yearly_change: false,
    })
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

/// The one order in which every row is a date; where the first rows do not tell, all are looked at.
fn dates(sample: &Sample, table: Table, mapped: &[MappedColumn]) -> DateOrder {
    let all: Vec<&str> = cells(sample, table, mapped, &[CellKind::Date]).collect();
    let order = order(all.iter().copied());
    if order != DateOrder::Ask {
        return order;
    }
    let places = mapped.iter().filter(|m| columns(table).iter().any(|c| c.name == m.column && c.kind == CellKind::Date));
    let places: Vec<usize> = places.filter_map(|m| sample.headers.iter().position(|h| *h == m.from)).collect();
    let delimiter = u8::try_from(sample.delimiter).unwrap_or(b',');
    let Ok(mut rows) = sample.table.rows(delimiter) else { return order };
    let (mut record, mut typed) = (ByteRecord::new(), Vec::new());
    while let Ok(Some(_)) = rows.next(&mut record, &mut typed) {
        let row = texts(&record);
        match self::order(places.iter().filter_map(|at| row.get(*at)).map(String::as_str)) {
            DateOrder::DayMonthYear => return DateOrder::DayMonthYear,
            DateOrder::MonthDayYear => return DateOrder::MonthDayYear,
            _ => {}
        }
    }
    DateOrder::Ask
}

/// The order of some dates; [`DateOrder::Ask`] where day and month cannot be told apart in any of them. Among dates that begin with the
/// year others are none.
fn order<'s>(all: impl Iterator<Item = &'s str>) -> DateOrder {
    let (mut seen, mut dots) = (false, false);
    for cell in all {
        if cell.parse::<Day>().is_ok() {
            return DateOrder::YearMonthDay;
        }
        if day(cell, DateOrder::YearMonthDay).is_some() || month_end(cell).is_some() {
            continue;
        }
        let Some([a, b, _]) = cell.split(['T', ' ']).next().and_then(parts) else { continue };
        match (a, b) {
            (13..=31, _) => return DateOrder::DayMonthYear,
            (_, 13..=31) => return DateOrder::MonthDayYear,
            _ => (seen, dots) = (true, dots || cell.contains('.')),
        }
    }
    match (seen, dots) {
        (false, _) => DateOrder::YearMonthDay,
        (true, true) => DateOrder::DayMonthYear,
        (true, false) => DateOrder::Ask,
    }
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

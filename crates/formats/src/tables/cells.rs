//! Records of the dataset → lines of CSV.

use super::columns;
use crate::WriteError;
use artemon_core::domain::{Day, Item, Record, Table};
use csv::{ByteRecord, ReaderBuilder, Writer};
use std::{
    fmt::{Display, Write as _},
    io,
};

/// Lines of one table as CSV, ready to be put into a file.
#[derive(Clone, Debug)]
pub struct Block {
    /// The table.
    pub table: Table,
    /// How many rows it holds.
    pub rows: u64,
    /// Whether its first line is the table's header.
    pub begins: bool,
    /// The lines.
    pub bytes: Vec<u8>,
}

impl Block {
    /// Goes through the rows, the header left out.
    ///
    /// # Errors
    /// What `take` refuses.
    pub(crate) fn for_each_row(&self, mut take: impl FnMut(&ByteRecord) -> Result<(), WriteError>) -> Result<(), WriteError> {
        let mut csv = ReaderBuilder::new().has_headers(self.begins).from_reader(self.bytes.as_slice());
        let mut row = ByteRecord::new();
        while csv.read_byte_record(&mut row).map_err(|e| WriteError::Stream { source: io::Error::other(e) })? {
            take(&row)?;
        }
        Ok(())
    }
}

/// Turns records into blocks. Rows of one table must follow one another.
#[derive(Debug)]
pub struct BlockWriter {
    open: Option<Table>,
    rows: u64,
    begins: bool,
    lines: Writer<Vec<u8>>,
    scratch: String,
}

/// The size from which a block is handed on.
const BLOCK: usize = 1 << 18;

impl Default for BlockWriter {
    fn default() -> BlockWriter {
        BlockWriter { open: None, rows: 0, begins: false, lines: empty(), scratch: String::new() }
    }
}

impl BlockWriter {
    /// Adds a row; gives a block when one is full or the row begins another table.
    ///
    /// # Errors
    /// None that a record of the dataset can cause: memory takes every row.
    pub fn write(&mut self, record: &Record) -> io::Result<Option<Block>> {
        let table = record.table();
        let before = if self.open == Some(table) { None } else { self.begin(table)? };
        let mut row = Row { out: &mut self.lines, scratch: &mut self.scratch, failed: None };
        fill(&mut row, record);
        let failed = row.failed.map_or(Ok(()), Err);
        failed.and_then(|()| self.lines.write_record(None::<&[u8]>)).map_err(io::Error::other)?;
        self.rows += 1;
        if before.is_none() && self.lines.get_ref().len() > BLOCK { self.take() } else { Ok(before) }
    }

    /// Opens a table with its header, so that one without rows can be written too; gives the rest of the one before.
    ///
    /// # Errors
    /// As [`BlockWriter::write`].
    pub fn begin(&mut self, table: Table) -> io::Result<Option<Block>> {
        let before = self.take()?;
        (self.open, self.begins) = (Some(table), true);
        self.lines.write_record(columns(table).iter().map(|c| c.name)).map_err(io::Error::other)?;
        Ok(before)
    }

    /// What has been gathered.
    ///
    /// # Errors
    /// As [`BlockWriter::write`].
    pub fn take(&mut self) -> io::Result<Option<Block>> {
        let lines = std::mem::replace(&mut self.lines, empty());
        let bytes = lines.into_inner().map_err(|e| io::Error::other(e.to_string()))?;
        let (rows, begins) = (std::mem::take(&mut self.rows), std::mem::take(&mut self.begins));
        Ok(self.open.filter(|_| !bytes.is_empty()).map(|table| Block { table, rows, begins, bytes }))
    }
}

fn empty() -> Writer<Vec<u8>> {
    Writer::from_writer(Vec::with_capacity(BLOCK + BLOCK / 8))
}

/// A row being written; after the first failure nothing more is.
struct Row<'a> {
    out: &'a mut Writer<Vec<u8>>,
    scratch: &'a mut String,
    failed: Option<csv::Error>,
}

impl Row<'_> {
    fn text(&mut self, text: &str) -> &mut Self {
        if self.failed.is_none() {
            self.failed = self.out.write_field(text).err();
        }
        self
    }

    fn put(&mut self, value: impl Display) -> &mut Self {
        let mut scratch = std::mem::take(self.scratch);
        scratch.clear();
        let _ = write!(scratch, "{value}");
        self.text(&scratch);
        *self.scratch = scratch;
        self
    }

    /// The shortest decimal number that reads back as the same: what `Display` writes, in a fraction of the time.
    fn number(&mut self, value: f64) -> &mut Self {
        if let Some(hundredths) = hundredths(value) {
            return self.whole_hundredths(hundredths);
        }
        let mut digits = ryu::Buffer::new();
        let text = digits.format(value);
        if text.contains(['e', 'N', 'i']) { self.put(value) } else { self.text(text.strip_suffix(".0").unwrap_or(text)) }
    }

    /// A price or a count: `1234` → `12.34`, `1230` → `12.3`, `1200` → `12`.
    fn whole_hundredths(&mut self, hundredths: i64) -> &mut Self {
        let (whole, rest) = (hundredths / 100, (hundredths % 100).unsigned_abs());
        let mut digits = itoa::Buffer::new();
        if rest == 0 {
            return self.text(digits.format(whole));
        }
        let mut scratch = std::mem::take(self.scratch);
        scratch.clear();
        scratch.push_str(if hundredths < 0 && whole == 0 { "-0" } else { digits.format(whole) });
        scratch.push('.');
        let digit = |n: u64| char::from_digit(u32::try_from(n % 10).unwrap_or_default(), 10).unwrap_or_default();
        scratch.push(digit(rest / 10));
        scratch.extend((rest % 10 != 0).then(|| digit(rest)));
        self.text(&scratch);
        *self.scratch = scratch;
        self
    }

    fn maybe_number(&mut self, value: Option<f64>) -> &mut Self {
        match value {
            Some(v) => self.number(v),
            None => self.text(""),
        }
    }

    fn maybe(&mut self, value: Option<impl Display>) -> &mut Self {
        match value {
            Some(v) => self.put(v),
            None => self.text(""),
        }
    }

    fn day(&mut self, day: Day) -> &mut Self {
        self.put(day)
    }

    fn flag(&mut self, flag: bool) -> &mut Self {
        self.text(if flag { "true" } else { "false" })
    }
}

/// A number as whole hundredths when it is the one nearest to them; below 10^15, where no other decimal number of as few digits
/// reads back as the same. Minus zero is none.
#[allow(clippy::cast_possible_truncation, clippy::cast_precision_loss, clippy::float_cmp)]
fn hundredths(value: f64) -> Option<i64> {
    let near = (value * 100.0).round();
    let exact = near.abs() < 1e15 && near / 100.0 == value && !(value == 0.0 && value.is_sign_negative());
    exact.then_some(near as i64)
}

fn fill(row: &mut Row<'_>, record: &Record) {
    match record {
        Record::Price { symbol, bar: b } => {
            row.text(symbol).day(b.date);
            for price in [b.open, b.high, b.low, b.close, b.volume] {
                row.maybe_number((!price.is_nan()).then_some(price));
            }
        }
        Record::Statement(s) => {
            row.text(&s.company_id).put(s.fiscal_year).text(s.period.code()).day(s.period_end).day(s.filed_on);
            row.text(s.currency.as_str()).text(&s.source);
            for &item in Item::ALL {
                row.maybe_number(s.items.get(item));
            }
        }
        Record::Company(c) => {
            row.text(&c.id).text(&c.name).text(&c.country).text(&c.sector).text(&c.industry).text(c.currency.as_str());
            row.maybe(c.fiscal_year_end_month).text(c.kind.code()).text(&c.description).maybe(c.employees).maybe(c.founded).text(&c.lei);
        }
        Record::Listing(l) => {
            row.text(&l.symbol).text(&l.company_id).text(&l.mic).text(&l.isin).text(l.currency.as_str()).put(l.shares_per_unit);
            row.flag(l.primary).maybe(l.listed_on).maybe(l.delisted_on).maybe(l.delisting_return);
        }
        Record::Action(a) => {
            row.text(&a.symbol).day(a.ex_date).text(a.kind.code()).maybe(a.ratio).maybe(a.amount);
            row.maybe(a.declared_on).maybe(a.record_date).maybe(a.pay_date);
        }
        _ => fill_people_and_market(row, record),
    }
}

fn fill_people_and_market(row: &mut Row<'_>, record: &Record) {
    match record {
        Record::Estimate(e) => {
            row.text(&e.company_id).day(e.published_on).text(e.metric.code()).maybe(e.fiscal_year).maybe(e.period);
            row.number(e.mean).maybe_number(e.low).maybe_number(e.high).maybe(e.analysts);
        }
        Record::InsiderTrade(t) => {
            row.text(&t.company_id).text(&t.filing_id).day(t.filed_on).day(t.traded_on).text(&t.insider_id).text(&t.insider_name);
            row.maybe(t.role).text(&t.code).flag(t.acquired).number(t.shares).maybe_number(t.price).text(t.currency.as_str());
            row.maybe(t.shares_after).flag(t.direct).flag(t.planned).maybe(t.superseded_on);
        }
        Record::Ownership(o) => {
            row.text(&o.company_id).day(o.as_of).day(o.filed_on);
            row.maybe(o.insiders).maybe(o.controlling).maybe(o.institutions).maybe(o.pledged);
        }
        Record::Rate(r) => {
            row.day(r.date).text(r.currency.as_str()).text(r.series.code()).put(r.value);
        }
        Record::Fx(r) => {
            row.day(r.date).text(r.base.as_str()).text(r.quote.as_str()).put(r.rate);
        }
        Record::Officer(o) => {
            row.text(&o.company_id).text(&o.name).text(&o.role).maybe(o.since).maybe(o.until).maybe(o.birth_year);
        }
        Record::Event(e) => {
            row.text(&e.company_id).day(e.date).text(e.kind.code()).flag(e.confirmed).maybe(e.announced_on);
        }
        Record::News(n) => {
            row.text(n.company_id.as_deref().unwrap_or_default()).text(&n.published_at);
            row.text(&n.headline).text(&n.summary).text(&n.source);
        }
        Record::Index(i) => {
            row.text(&i.id).text(&i.name).text(i.currency.as_str());
        }
        Record::IndexMember(m) => {
            row.text(&m.index_id).text(&m.company_id).day(m.from).maybe(m.to);
        }
        Record::IndexLevel(l) => {
            row.text(&l.index_id).day(l.date).put(l.level);
        }
        Record::Annotation(a) => {
            row.text(&a.company_id).text(a.kind.code()).text(&a.name).text(&a.value).maybe(a.noted_on);
        }
        Record::Company(_) | Record::Listing(_) | Record::Statement(_) | Record::Price { .. } | Record::Action(_) => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn written(value: f64) -> String {
        let mut out = Writer::from_writer(Vec::new());
        let mut row = Row { out: &mut out, scratch: &mut String::new(), failed: None };
        row.number(value).text("");
        out.write_record(None::<&[u8]>).unwrap();
        String::from_utf8(out.into_inner().unwrap()).unwrap().trim_end_matches([',', '\n']).to_owned()
    }

    proptest! {
        /// Every number reads back to the last bit, and is written as the standard library writes it; where two texts of one
        /// length mean the same number, as of 869055976590363.25, it may be the other one.
        #[test]
        fn numbers_are_written_whole(any in any::<f64>(), price in 0.0..10_000.0f64, count in 0u64..1 << 53) {
            for value in [any, price, (price * 100.0).round() / 100.0, count as f64, -price, 0.0, -0.0, 1e-7, 1e21, -0.05, 0.1 + 0.2, 1e13] {
                let (text, standard) = (written(value), value.to_string());
                let same = text.len() == standard.len() && text.parse::<f64>().map(f64::to_bits) == Ok(value.to_bits());
                prop_assert!(text == standard || same, "{} for {}", text, standard);
            }
        }
    }
}

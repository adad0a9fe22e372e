//! Records of the dataset → rows of cells.

use artemon_core::domain::{Day, Item, Record};
use csv::Writer;
use std::{
    fmt::{Display, Write as _},
    io::Write,
};

/// Writes the cells of a record in the order of its table's columns.
pub(crate) fn write_cells<W: Write>(out: &mut Writer<W>, record: &Record, scratch: &mut String) -> csv::Result<()> {
    let mut row = Row { out, scratch, failed: None };
    fill(&mut row, record);
    match row.failed {
        Some(error) => Err(error),
        None => out.write_record(None::<&[u8]>),
    }
}

/// A row being written; after the first failure nothing more is.
struct Row<'a, W: Write> {
    out: &'a mut Writer<W>,
    scratch: &'a mut String,
    failed: Option<csv::Error>,
}

impl<W: Write> Row<'_, W> {
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

    /// The shortest decimal number that reads back as the same: what `Display` writes, in a third of the time.
    fn number(&mut self, value: f64) -> &mut Self {
        let mut digits = ryu::Buffer::new();
        let text = digits.format(value);
        if text.contains(['e', 'N', 'i']) { self.put(value) } else { self.text(text.strip_suffix(".0").unwrap_or(text)) }
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

fn fill<W: Write>(row: &mut Row<'_, W>, record: &Record) {
    match record {
        Record::Price { symbol, bar: b } => {
            row.text(symbol).day(b.date).number(b.open).number(b.high).number(b.low).number(b.close).number(b.volume);
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
            row.put(c.fiscal_year_end_month).text(c.kind.code()).text(&c.description).maybe(c.employees).maybe(c.founded).text(&c.lei);
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

fn fill_people_and_market<W: Write>(row: &mut Row<'_, W>, record: &Record) {
    match record {
        Record::Estimate(e) => {
            row.text(&e.company_id).day(e.published_on).text(e.metric.code()).maybe(e.fiscal_year).maybe(e.period);
            row.number(e.mean).maybe_number(e.low).maybe_number(e.high).maybe(e.analysts);
        }
        Record::InsiderTrade(t) => {
            row.text(&t.company_id).text(&t.filing_id).day(t.filed_on).day(t.traded_on).text(&t.insider_id).text(&t.insider_name);
            row.text(t.role.code()).text(&t.code).flag(t.acquired).put(t.shares).put(t.price).text(t.currency.as_str());
            row.maybe(t.shares_after).flag(t.direct).flag(t.planned);
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
            row.text(&e.company_id).day(e.date).text(e.kind.code()).flag(e.confirmed);
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
        /// Every number reads back to the last bit, and looks as it always has.
        #[test]
        fn numbers_are_written_whole(any in any::<f64>(), price in 0.0..10_000.0f64, count in 0u64..1 << 53) {
            for value in [any, price, (price * 100.0).round() / 100.0, count as f64, -price, 0.0, 1e-7, 1e21] {
                prop_assert_eq!(written(value), value.to_string());
            }
        }
    }
}

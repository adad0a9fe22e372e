//! Whose a row is, and what it adds to the sum of its owner's rows in its table.

use super::bars;
use artemon_core::domain::{Day, Period, Record, Role};

/// Whose data a row is; nobody's where it is of the market as a whole.
pub(super) fn owner(record: &Record) -> &str {
    match record {
        Record::Company(x) => &x.id,
        Record::Listing(x) => &x.company_id,
        Record::Statement(x) => &x.company_id,
        Record::Price { symbol, .. } => symbol,
        Record::Action(x) => &x.symbol,
        Record::Estimate(x) => &x.company_id,
        Record::InsiderTrade(x) => &x.company_id,
        Record::Ownership(x) => &x.company_id,
        Record::Rate(x) => x.currency.as_str(),
        Record::Fx(x) => x.base.as_str(),
        Record::Officer(x) => &x.company_id,
        Record::Event(x) => &x.company_id,
        Record::News(x) => x.company_id.as_deref().unwrap_or_default(),
        Record::Index(x) => &x.id,
        Record::IndexMember(x) => &x.index_id,
        Record::IndexLevel(x) => &x.index_id,
        Record::Annotation(x) => &x.company_id,
    }
}

/// One row counts as this much, beside its CRC.
const ROW: i64 = 1 << 32;

/// What a row adds: by all of its values, as they are read.
pub(super) fn of_row(record: &Record, room: &mut Vec<u8>) -> i64 {
    room.clear();
    let mut d = Digest(room);
    match record {
        Record::Company(x) => {
            d.texts(&[&x.id, &x.name, &x.country, &x.sector, &x.industry, x.currency.as_str(), x.kind.code(), &x.description, &x.lei]);
            d.whole(x.fiscal_year_end_month.unwrap_or(0).into()).maybe(x.employees).maybe_whole(x.founded);
        }
        Record::Listing(x) => {
            d.texts(&[&x.symbol, &x.company_id, &x.mic, &x.isin, x.currency.as_str()]).number(x.shares_per_unit).flag(x.primary);
            d.maybe_day(x.listed_on).maybe_day(x.delisted_on).maybe(x.delisting_return);
        }
        Record::Statement(x) => {
            d.texts(&[&x.company_id, x.period.code(), x.currency.as_str(), &x.source]);
            d.whole(x.fiscal_year).day(x.period_end).day(x.filed_on).bits(x.items.mask());
            for (_, figure) in x.items.iter() {
                d.number(figure);
            }
        }
        Record::Price { symbol, bar } => {
            d.texts(&[symbol]).day(bar.date).number(bar.open).number(bar.high).number(bar.low).number(bar.close).number(bar.volume);
        }
        Record::Action(x) => {
            d.texts(&[&x.symbol, x.kind.code()]).day(x.ex_date).maybe(x.ratio).maybe(x.amount);
            d.maybe_day(x.declared_on).maybe_day(x.record_date).maybe_day(x.pay_date);
        }
        Record::Estimate(x) => {
            d.texts(&[&x.company_id, x.metric.code(), x.period.map_or("", Period::code)]).day(x.published_on).maybe_whole(x.fiscal_year);
            d.number(x.mean).maybe(x.low).maybe(x.high).maybe(x.analysts);
        }
        Record::InsiderTrade(x) => {
            d.texts(&[
                &x.company_id,
                &x.filing_id,
                &x.insider_id,
                &x.insider_name,
                x.role.map_or("", Role::code),
                &x.code,
                x.currency.as_str(),
            ]);
            d.day(x.filed_on).day(x.traded_on).flag(x.acquired).flag(x.direct).flag(x.planned);
            d.number(x.shares).number(x.price.unwrap_or(-1.0)).maybe(x.shares_after);
            // Rows of before are told as they were.
            if let Some(day) = x.superseded_on {
                d.day(day);
            }
        }
        Record::Ownership(x) => {
            d.texts(&[&x.company_id]).day(x.as_of).day(x.filed_on);
            d.maybe(x.insiders).maybe(x.controlling).maybe(x.institutions).maybe(x.pledged);
        }
        Record::Rate(x) => {
            d.texts(&[x.currency.as_str(), x.series.code()]).day(x.date).number(x.value);
        }
        Record::Fx(x) => {
            d.texts(&[x.base.as_str(), x.quote.as_str()]).day(x.date).number(x.rate);
        }
        Record::Officer(x) => {
            d.texts(&[&x.company_id, &x.name, &x.role]).maybe_day(x.since).maybe_day(x.until).maybe_whole(x.birth_year);
        }
        Record::Event(x) => {
            d.texts(&[&x.company_id, x.kind.code()]).day(x.date).flag(x.confirmed);
            // Rows of before are told as they were.
            if let Some(day) = x.announced_on {
                d.day(day);
            }
        }
        Record::News(x) => {
            d.texts(&[x.company_id.as_deref().unwrap_or_default(), &x.published_at, &x.headline, &x.summary, &x.source]);
        }
        Record::Index(x) => {
            d.texts(&[&x.id, &x.name, x.currency.as_str()]);
        }
        Record::IndexMember(x) => {
            d.texts(&[&x.index_id, &x.company_id]).day(x.from).maybe_day(x.to);
        }
        Record::IndexLevel(x) => {
            d.texts(&[&x.index_id]).day(x.date).number(x.level);
        }
        Record::Annotation(x) => {
            d.texts(&[&x.company_id, x.kind.code(), &x.name, &x.value]).maybe_day(x.noted_on);
        }
    }
    ROW + i64::from(crc32fast::hash(room))
}

/// Puts the values of a row one after the other: one long piece is summed up much faster than many short ones.
struct Digest<'r>(&'r mut Vec<u8>);

impl<'r> Digest<'r> {
    fn bits(&mut self, bits: u64) -> &mut Digest<'r> {
        self.0.extend_from_slice(&bits.to_le_bytes());
        self
    }

    fn texts(&mut self, all: &[&str]) -> &mut Digest<'r> {
        for text in all {
            self.bits(text.len() as u64).0.extend_from_slice(text.as_bytes());
        }
        self
    }

    fn number(&mut self, x: f64) -> &mut Digest<'r> {
        self.bits(x.to_bits())
    }

    fn maybe(&mut self, x: Option<f64>) -> &mut Digest<'r> {
        self.flag(x.is_some()).number(x.unwrap_or_default())
    }

    fn whole(&mut self, n: i32) -> &mut Digest<'r> {
        self.0.extend_from_slice(&n.to_le_bytes());
        self
    }

    fn maybe_whole(&mut self, n: Option<i32>) -> &mut Digest<'r> {
        self.flag(n.is_some()).whole(n.unwrap_or_default())
    }

    fn day(&mut self, day: Day) -> &mut Digest<'r> {
        self.whole(day.epoch_days())
    }

    fn maybe_day(&mut self, day: Option<Day>) -> &mut Digest<'r> {
        self.maybe_whole(day.map(Day::epoch_days))
    }

    fn flag(&mut self, flag: bool) -> &mut Digest<'r> {
        self.0.push(flag.into());
        self
    }
}

/// What a chunk of bars adds: its key and its header, which has the CRC of the rest.
pub(in crate::dataset) fn of_chunk(symbol: &str, year: i32, bytes: &[u8]) -> i64 {
    let mut crc = crc32fast::Hasher::new();
    crc.update(symbol.as_bytes());
    crc.update(&year.to_le_bytes());
    crc.update(bars::header(bytes));
    ROW + i64::from(crc.finalize())
}

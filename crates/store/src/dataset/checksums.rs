//! What the rows of each owner in a table add up to: by it damage on the disk is noticed, whether SQLite notices it or not.
//!
//! The owner of a row is the company, listing, currency or index whose data it is. Its sum is that of the CRC-32 of its rows, each
//! counted as one in the upper half, so that neither their order nor the way they came matters. Sums are written in the transaction
//! that writes the rows.

use super::{
    Dataset,
    aside::SetAside,
    bars, is_shared,
    rows::{
        self, Chosen,
        insert::{Bound, Target, replace_all},
        prices::each_chunk,
    },
    schema::{checksums, listings},
    sound_rows,
};
use crate::StoreError;
use artemon_core::domain::{Day, Period, Record, Table};
use diesel::{prelude::*, sql_types::Text, sqlite::SqliteConnection};
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

/// Owners that one query asks for.
const AT_ONCE: usize = 400;
/// Owners above which the whole table is added up.
const MANY: usize = 4_000;

/// Sums by table and owner.
pub(super) type Sums = HashMap<(Table, String), i64>;

/// The name of a table in the database.
const fn name(table: Table) -> &'static str {
    match table {
        Table::Prices => "price_chunks",
        other => other.code(),
    }
}

/// The column that holds the owner of a row.
const fn owner_column(table: Table) -> &'static str {
    match table {
        Table::Companies | Table::Indexes => "id",
        Table::Prices | Table::Actions => "symbol",
        Table::Rates => "currency",
        Table::Fx => "base",
        Table::IndexMembers | Table::IndexLevels => "index_id",
        _ => "company_id",
    }
}

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
fn of_row(record: &Record, room: &mut Vec<u8>) -> i64 {
    room.clear();
    let mut d = Digest(room);
    match record {
        Record::Company(x) => {
            d.texts(&[&x.id, &x.name, &x.country, &x.sector, &x.industry, x.currency.as_str(), x.kind.code(), &x.description, &x.lei]);
            d.whole(x.fiscal_year_end_month.into()).maybe(x.employees).maybe_whole(x.founded);
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
            d.texts(&[&x.company_id, &x.filing_id, &x.insider_id, &x.insider_name, x.role.code(), &x.code, x.currency.as_str()]);
            d.day(x.filed_on).day(x.traded_on).flag(x.acquired).flag(x.direct).flag(x.planned);
            d.number(x.shares).number(x.price).maybe(x.shares_after);
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
pub(super) fn of_chunk(symbol: &str, year: i32, bytes: &[u8]) -> i64 {
    let mut crc = crc32fast::Hasher::new();
    crc.update(symbol.as_bytes());
    crc.update(&year.to_le_bytes());
    crc.update(bars::header(bytes));
    ROW + i64::from(crc.finalize())
}

/// Adds up rows by owner.
#[derive(Default)]
pub(super) struct Adding {
    sums: HashMap<String, i64>,
    /// The owner of the last row, who mostly has the next one too.
    last: (String, i64),
    /// For the values of a row.
    room: Vec<u8>,
}

impl Adding {
    pub(super) fn add_row(&mut self, record: &Record) {
        let sum = of_row(record, &mut self.room);
        self.add(owner(record), sum);
    }

    fn add(&mut self, owner: &str, sum: i64) {
        if self.last.0 != owner {
            self.close();
            owner.clone_into(&mut self.last.0);
        }
        self.last.1 = self.last.1.wrapping_add(sum);
    }

    fn close(&mut self) {
        let (owner, sum) = std::mem::take(&mut self.last);
        if sum != 0 {
            let so_far = self.sums.entry(owner).or_default();
            *so_far = so_far.wrapping_add(sum);
        }
    }

    pub(super) fn sums(mut self) -> HashMap<String, i64> {
        self.close();
        self.sums
    }
}

/// What the rows of some owners of a table add up to now, or of all.
pub(super) fn now(c: &mut SqliteConnection, table: Table, owners: Option<&[String]>) -> Result<HashMap<String, i64>, StoreError> {
    let mut adding = Adding::default();
    if table == Table::Prices {
        let mut take = |symbol: &Arc<str>, year: i32, bytes: Vec<u8>| {
            // A chunk that does not keep what its header says adds nothing that could be expected.
            adding.add(symbol, if bars::is_whole(&bytes) { of_chunk(symbol, year, &bytes) } else { 1 });
            Ok(())
        };
        match owners {
            None => each_chunk(c, None, &mut take)?,
            Some(owners) => owners.chunks(AT_ONCE).try_for_each(|symbols| each_chunk(c, Some(symbols), &mut take))?,
        }
        return Ok(adding.sums());
    }
    let mut take = |record: Record| {
        adding.add_row(&record);
        Ok(())
    };
    match owners {
        Some(owners) if !is_shared(table) => {
            for some in owners.chunks(AT_ONCE) {
                // Of the two a table has one.
                rows::read(c, table, Some(Chosen { companies: some, symbols: some }), &mut take)?;
            }
            if table == Table::News && owners.iter().any(String::is_empty) {
                rows::life::read_market_news(c, &mut take)?;
            }
        }
        _ => rows::read(c, table, None, &mut take)?,
    }
    Ok(adding.sums())
}

/// The sums that were kept of some owners, or of all.
pub(super) fn kept(c: &mut SqliteConnection, owners: Option<&[String]>) -> Result<Sums, StoreError> {
    use checksums as k;
    let columns = (k::of_table, k::owner, k::sum);
    let rows: Vec<(String, String, i64)> = match owners {
        None => k::table.select(columns).load(c)?,
        Some(owners) => {
            let some = |some: &[String]| k::table.filter(k::owner.eq_any(some)).select(columns).load(c);
            owners.chunks(AT_ONCE).map(some).collect::<QueryResult<Vec<_>>>()?.concat()
        }
    };
    Ok(by_table(rows))
}

/// The sums that were kept in some tables.
pub(super) fn kept_in(c: &mut SqliteConnection, tables: &[Table]) -> Result<Sums, StoreError> {
    use checksums as k;
    let codes: Vec<&str> = tables.iter().map(|t| t.code()).collect();
    let rows: Vec<(String, String, i64)> = k::table.filter(k::of_table.eq_any(codes)).select((k::of_table, k::owner, k::sum)).load(c)?;
    Ok(by_table(rows))
}

fn by_table(rows: Vec<(String, String, i64)>) -> Sums {
    rows.into_iter().filter_map(|(table, owner, sum)| Some(((table.parse().ok()?, owner), sum))).collect()
}

/// The owners in a table whose rows are not those that were written, by what they add up to now.
pub(super) fn unlike(kept: &Sums, table: Table, now: &HashMap<String, i64>, owners: Option<&[String]>) -> Vec<String> {
    let expected = kept.keys().filter(|(of, owner)| *of == table && owners.is_none_or(|some| some.contains(owner))).map(|key| &key.1);
    let all: HashSet<&String> = expected.chain(now.keys()).collect();
    let mut unlike: Vec<String> =
        all.into_iter().filter(|owner| kept.get(&(table, (*owner).clone())) != now.get(*owner)).cloned().collect();
    unlike.sort();
    unlike
}

/// A kept sum, as it is inserted.
struct SumRow {
    owner: String,
    table: Table,
    sum: i64,
}

impl Target for SumRow {
    const TABLE: &'static str = "checksums";
    const COLUMNS: &'static str = "owner,of_table,sum";
}

fn keep(c: &mut SqliteConnection, rows: &[SumRow]) -> QueryResult<()> {
    replace_all::<SumRow, _, 3>(c, rows, |row| [Bound::Text(&row.owner), Bound::Text(row.table.code()), Bound::Long(row.sum)])
}

/// Makes the sums of a dataset of an older version: with the layout they are others.
pub(super) fn make(c: &mut SqliteConnection) -> Result<(), StoreError> {
    c.immediate_transaction(|c| {
        diesel::delete(checksums::table).execute(c)?;
        Table::ALL.iter().try_for_each(|&table| {
            let rows: Vec<SumRow> = now(c, table, None)?.into_iter().map(|(owner, sum)| SumRow { owner, table, sum }).collect();
            Ok(keep(c, &rows)?)
        })
    })
}

/// The owners whose rows a transaction writes, so that their sums can be made at its end.
#[derive(Default)]
pub(super) struct Written {
    owners: HashMap<Table, HashSet<Arc<str>>>,
    /// What is damaged and stays so: it is written to, and not trusted any more than before.
    untrusted: HashSet<(Table, String)>,
    /// Whether what is damaged is replaced by what comes.
    heals: bool,
}

impl Written {
    pub(super) fn new(damaged: &[SetAside], heals: bool) -> Written {
        let untrusted = damaged.iter().map(|d| (d.table, d.owner.clone())).collect();
        Written { owners: HashMap::new(), untrusted, heals }
    }

    /// Notes that a row of an owner is to be written; what was damaged of it makes room first.
    pub(super) fn note(&mut self, c: &mut SqliteConnection, table: Table, owner: &str) -> Result<(), StoreError> {
        let known = self.owners.entry(table).or_default();
        if known.contains(owner) {
            return Ok(());
        }
        known.insert(owner.into());
        let key = (table, owner.to_owned());
        if self.heals && self.untrusted.remove(&key) {
            diesel::sql_query(format!("DELETE FROM {} WHERE {} = ?", name(table), owner_column(table)))
                .bind::<Text, _>(owner)
                .execute(c)?;
            diesel::delete(checksums::table.find((owner, table.code()))).execute(c)?;
        }
        Ok(())
    }

    /// A listing may belong to another company than before, which then has one less.
    pub(super) fn note_listing(&mut self, c: &mut SqliteConnection, symbol: &str, company: &str) -> Result<(), StoreError> {
        let before: Option<String> = listings::table.find(symbol).select(listings::company_id).first(c).optional()?;
        if let Some(before) = before.filter(|before| before != company) {
            self.note(c, Table::Listings, &before)?;
        }
        self.note(c, Table::Listings, company)
    }

    /// Whether bars of a listing may not be added to those that are there.
    pub(super) fn distrusts(&self, symbol: &str) -> bool {
        !self.untrusted.is_empty() && self.untrusted.contains(&(Table::Prices, symbol.to_owned()))
    }

    /// Keeps the sums as they are now; those of prices grew by `prices`.
    pub(super) fn settle(self, c: &mut SqliteConnection, prices: HashMap<Arc<str>, i64>) -> Result<(), StoreError> {
        let trusted = |table: Table, owner: &str| !self.untrusted.contains(&(table, owner.to_owned()));
        for (&table, owners) in self.owners.iter().filter(|(table, _)| **table != Table::Prices) {
            let owners: Vec<String> = owners.iter().filter(|owner| trusted(table, owner)).map(ToString::to_string).collect();
            // Owners that are many are most of the table.
            let some = (owners.len() < MANY).then_some(owners.as_slice());
            let mut now = now(c, table, some)?;
            let rows: Vec<SumRow> = owners.into_iter().filter_map(|o| Some(SumRow { sum: now.remove(&o)?, owner: o, table })).collect();
            keep(c, &rows)?;
        }
        if self.heals {
            // Rows of whom nobody knows anything.
            for (table, owner) in &self.untrusted {
                if kept(c, Some(std::slice::from_ref(owner)))?.contains_key(&(*table, owner.clone())) {
                    continue;
                }
                diesel::sql_query(format!("DELETE FROM {} WHERE {} = ?", name(*table), owner_column(*table)))
                    .bind::<Text, _>(owner)
                    .execute(c)?;
            }
        }
        let symbols: Vec<String> = prices.keys().map(ToString::to_string).collect();
        let before = kept(c, Some(&symbols))?;
        let grown = |(symbol, more): (Arc<str>, i64)| {
            let key = (Table::Prices, symbol.to_string());
            let sum = before.get(&key).copied().unwrap_or_default().wrapping_add(more);
            SumRow { owner: key.1, table: key.0, sum }
        };
        let rows: Vec<SumRow> = prices.into_iter().map(grown).collect();
        Ok(keep(c, &rows)?)
    }
}

impl Dataset {
    /// Looks at every row of every table: what is not as it was written.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub fn check(&self) -> Result<Vec<SetAside>, StoreError> {
        let mut c = self.0.own_reader()?;
        let kept = kept(&mut c, None)?;
        let mut found = Vec::new();
        for &table in Table::ALL {
            match now(&mut c, table, None) {
                Ok(now) => found.extend(unlike(&kept, table, &now, None).into_iter().map(|owner| SetAside { table, owner, company: None })),
                Err(_) if is_shared(table) => {
                    let (_, owners) = sound_rows(&mut c, table)?;
                    found.extend(owners.into_iter().map(|owner| SetAside { table, owner, company: None }));
                }
                Err(_) => found.extend(super::aside::one_by_one(&mut c, &kept, table)),
            }
        }
        super::aside::with_companies(&mut c, &mut found)?;
        self.remember_aside(&found);
        Ok(found)
    }
}

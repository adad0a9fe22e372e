//! What the rows of each owner in a table add up to: by it damage on the disk is noticed, whether SQLite notices it or not.
//!
//! The owner of a row is the company, listing, currency or index whose data it is. Its sum is that of the CRC-32 of its rows, each
//! counted as one in the upper half, so that neither their order nor the way they came matters. Sums are written in the transaction
//! that writes the rows.

use super::{
    aside::SetAside,
    bars,
    digest::{of_chunk, of_row, owner},
    rows::{
        insert::{Bound, Target, replace_all},
        prices::each_chunk,
    },
    schema::{checksums, listings},
    sound::read_of,
};
use crate::{StoreError, db};
use artemon_core::domain::{Record, Table};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    sql_types::{BigInt, Text},
    sqlite::SqliteConnection,
};
use std::{
    collections::{BTreeSet, HashMap, HashSet},
    sync::Arc,
};

/// Owners that one query asks for.
const AT_ONCE: usize = 400;
/// Owners above which the whole table is added up.
const MANY: usize = 4_000;

/// Sums by owner.
pub(super) type Sums = HashMap<String, i64>;

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
pub(super) fn now(c: &mut SqliteConnection, table: Table, owners: Option<&[String]>) -> Result<Sums, StoreError> {
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
        None => read_of(c, table, None, &mut take)?,
        Some(owners) => owners.chunks(AT_ONCE).try_for_each(|some| read_of(c, table, Some(some), &mut take))?,
    }
    Ok(adding.sums())
}

/// The sums that were kept of some owners, by table.
pub(super) fn kept(c: &mut SqliteConnection, owners: &[String]) -> Result<HashMap<Table, Sums>, StoreError> {
    use checksums as k;
    let mut all: HashMap<Table, Sums> = HashMap::new();
    for some in owners.chunks(AT_ONCE) {
        let rows = k::table.filter(k::owner.eq_any(some)).select((k::of_table, k::owner, k::sum));
        for (table, owner, sum) in rows.load::<(String, String, i64)>(c)? {
            if let Ok(table) = table.parse() {
                all.entry(table).or_default().insert(owner, sum);
            }
        }
    }
    Ok(all)
}

/// The sums that were kept in a table.
pub(super) fn kept_in(c: &mut SqliteConnection, table: Table) -> Result<Sums, StoreError> {
    use checksums as k;
    let rows = k::table.filter(k::of_table.eq(table.code())).select((k::owner, k::sum));
    Ok(rows.load::<(String, i64)>(c)?.into_iter().collect())
}

/// The owners whose rows are not those that were written, by what they add up to now.
pub(super) fn unlike(kept: &Sums, now: &Sums) -> Vec<String> {
    if kept == now {
        return Vec::new();
    }
    let all: BTreeSet<&String> = kept.keys().chain(now.keys()).collect();
    all.into_iter().filter(|owner| kept.get(*owner) != now.get(*owner)).cloned().collect()
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
            Ok::<(), StoreError>(keep(c, &rows)?)
        })?;
        Ok(db::mark_summed(c)?)
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
    /// What was damaged and made room.
    replaced: Vec<Replaced>,
    /// Tables with damage whose rows lie in order.
    in_order: HashSet<Table>,
}

impl Written {
    pub(super) fn new(damaged: &[SetAside], heals: bool) -> Written {
        let untrusted = damaged.iter().map(|d| (d.table, d.owner.clone())).collect();
        Written { untrusted, heals, ..Written::default() }
    }

    /// Notes that a row of an owner is to be written; what was damaged of it makes room first.
    pub(super) fn note(&mut self, c: &mut SqliteConnection, table: Table, owner: &str) -> Result<(), StoreError> {
        let known = self.owners.entry(table).or_default();
        if known.contains(owner) {
            return Ok(());
        }
        known.insert(owner.into());
        if self.heals && self.untrusted.remove(&(table, owner.to_owned())) {
            if self.in_order.insert(table) {
                put_in_order(c, table)?;
            }
            self.replaced.push(Replaced::make_room(c, table, owner)?);
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
    pub(super) fn settle(mut self, c: &mut SqliteConnection, mut prices: HashMap<Arc<str>, i64>) -> Result<(), StoreError> {
        for replaced in std::mem::take(&mut self.replaced) {
            if !replaced.is_made_good(c)? {
                replaced.put_back(c)?;
                prices.retain(|symbol, _| replaced.table != Table::Prices || **symbol != *replaced.owner);
                self.untrusted.insert((replaced.table, replaced.owner));
            }
        }
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
            let unknown: HashSet<Table> = self.untrusted.iter().map(|(table, _)| *table).collect();
            unknown.into_iter().filter(|table| self.in_order.insert(*table)).try_for_each(|table| put_in_order(c, table))?;
            for (table, owner) in &self.untrusted {
                let sums = kept(c, std::slice::from_ref(owner))?;
                if !sums.contains_key(table) {
                    // Rows of whom nobody knows anything.
                    remove(c, *table, owner)?;
                } else if sums.len() == 1 && amount(c, *table, owner)? == 0 {
                    // A sum of whom there is nothing anywhere: its name is what was damaged.
                    diesel::delete(checksums::table.find((owner, table.code()))).execute(c)?;
                }
            }
        }
        let symbols: Vec<String> = prices.keys().map(ToString::to_string).collect();
        let before = kept(c, &symbols)?.remove(&Table::Prices).unwrap_or_default();
        let grown = |(symbol, more): (Arc<str>, i64)| {
            let sum = before.get(&*symbol).copied().unwrap_or_default().wrapping_add(more);
            SumRow { owner: symbol.to_string(), table: Table::Prices, sum }
        };
        let rows: Vec<SumRow> = prices.into_iter().map(grown).collect();
        Ok(keep(c, &rows)?)
    }
}

/// Damaged rows of an owner that made room for what comes, and are kept until it is known that this is as much.
struct Replaced {
    table: Table,
    owner: String,
    /// How much was there, where it could be read: rows, of prices bytes.
    amount: i64,
    /// What it should have added up to, where that is known.
    sum: Option<i64>,
}

#[derive(QueryableByName)]
struct Amount {
    #[diesel(sql_type = BigInt)]
    amount: i64,
}

impl Replaced {
    fn make_room(c: &mut SqliteConnection, table: Table, owner: &str) -> Result<Replaced, StoreError> {
        let name = name(table);
        c.batch_execute(&format!("CREATE TEMP TABLE IF NOT EXISTS replaced_{name} AS SELECT * FROM {name} WHERE 0"))?;
        let sum = kept(c, &[owner.to_owned()])?.remove(&table).and_then(|mut sums| sums.remove(owner));
        // Nobody knows how much stood on a page that cannot be read: only all that was ever there makes it good.
        let kept = copy(c, name, &format!("replaced_{name}"), table, owner).and_then(|_| amount(c, table, owner)).unwrap_or(i64::MAX);
        remove(c, table, owner)?;
        diesel::delete(checksums::table.find((owner, table.code()))).execute(c)?;
        Ok(Replaced { table, owner: owner.to_owned(), amount: kept, sum })
    }

    /// Whether what came is what should have been there, or no less than was there.
    fn is_made_good(&self, c: &mut SqliteConnection) -> Result<bool, StoreError> {
        let now = now(c, self.table, Some(std::slice::from_ref(&self.owner)))?.remove(&self.owner);
        Ok(now == self.sum || amount(c, self.table, &self.owner)? >= self.amount)
    }

    /// A part, such as one day's prices, would hide what is missing: everything stays as it was.
    fn put_back(&self, c: &mut SqliteConnection) -> Result<(), StoreError> {
        let name = name(self.table);
        remove(c, self.table, &self.owner)?;
        copy(c, &format!("replaced_{name}"), name, self.table, &self.owner)?;
        let sum = self.sum.map(|sum| SumRow { owner: self.owner.clone(), table: self.table, sum });
        Ok(keep(c, sum.as_slice())?)
    }
}

fn amount(c: &mut SqliteConnection, table: Table, owner: &str) -> QueryResult<i64> {
    let of = if table == Table::Prices { "coalesce(sum(length(bars)), 0)" } else { "count(*)" };
    let query = format!("SELECT {of} AS amount FROM {} WHERE {} = ?", name(table), owner_column(table));
    Ok(diesel::sql_query(query).bind::<Text, _>(owner).get_result::<Amount>(c)?.amount)
}

fn copy(c: &mut SqliteConnection, from: &str, to: &str, table: Table, owner: &str) -> QueryResult<usize> {
    let query = format!("INSERT INTO {to} SELECT * FROM {from} WHERE {} = ?", owner_column(table));
    diesel::sql_query(query).bind::<Text, _>(owner).execute(c)
}

fn remove(c: &mut SqliteConnection, table: Table, owner: &str) -> QueryResult<usize> {
    diesel::sql_query(format!("DELETE FROM {} WHERE {} = ?", name(table), owner_column(table))).bind::<Text, _>(owner).execute(c)
}

#[derive(QueryableByName)]
struct Said {
    #[diesel(sql_type = Text)]
    said: String,
}

/// Writes a table anew where its rows do not lie in their order any more: what was damaged is the key of one, and neither it nor
/// others would be found by theirs.
fn put_in_order(c: &mut SqliteConnection, table: Table) -> Result<(), StoreError> {
    let name = name(table);
    let checked = diesel::sql_query(format!("SELECT integrity_check AS said FROM pragma_integrity_check('{name}') LIMIT 1"));
    if checked.get_result::<Said>(c)?.said != "ok" {
        c.batch_execute(&format!(
            "CREATE TEMP TABLE all_rows AS SELECT * FROM {name} NOT INDEXED; DELETE FROM {name}; \
             INSERT OR IGNORE INTO {name} SELECT * FROM all_rows; DROP TABLE all_rows;"
        ))?;
    }
    Ok(())
}

//! What the rows of each owner in a table add up to: by it damage on the disk is noticed, whether SQLite notices it or not.
//!
//! The owner of a row is the company, listing, currency or index whose data it is. Its sum is that of the CRC-32 of its rows, each
//! counted as one in the upper half, so that neither their order nor the way they came matters. Sums are written in the transaction
//! that writes the rows.

use super::{
    Dataset,
    aside::SetAside,
    bars,
    rows::{
        insert::{Bound, Target, replace_all},
        prices::each_chunk,
    },
    schema::{checksums, companies, listings},
};
use crate::StoreError;
use artemon_core::domain::{Record, Table};
use diesel::{
    connection::DefaultLoadingMode,
    deserialize::{self, FromSql, QueryableByName},
    prelude::*,
    row::{Field, NamedRow, Row},
    sql_types::{BigInt, Binary, Double, Text},
    sqlite::{Sqlite, SqliteConnection, SqliteType},
};
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

/// Owners that one query asks for.
const AT_ONCE: usize = 400;

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

/// A row with what it adds.
struct Summand {
    owner: Option<String>,
    sum: i64,
}

impl QueryableByName<Sqlite> for Summand {
    fn build<'a>(row: &impl NamedRow<'a, Sqlite>) -> deserialize::Result<Summand> {
        let owner = NamedRow::get::<diesel::sql_types::Nullable<Text>, Option<String>>(row, "owner")?;
        let mut crc = crc32fast::Hasher::new();
        for i in 1..row.field_count() {
            let field = Row::get(row, i).ok_or("a column is missing")?;
            let Some(value) = field.value() else {
                crc.update(&[0]);
                continue;
            };
            match value.value_type() {
                Some(SqliteType::Long | SqliteType::Integer | SqliteType::SmallInt) => {
                    crc.update(&[1]);
                    crc.update(&<i64 as FromSql<BigInt, Sqlite>>::from_sql(value)?.to_le_bytes());
                }
                Some(SqliteType::Double | SqliteType::Float) => {
                    crc.update(&[2]);
                    crc.update(&<f64 as FromSql<Double, Sqlite>>::from_sql(value)?.to_le_bytes());
                }
                Some(SqliteType::Binary) => {
                    crc.update(&[3]);
                    crc.update(&<Vec<u8> as FromSql<Binary, Sqlite>>::from_sql(value)?);
                }
                _ => {
                    let text = <String as FromSql<Text, Sqlite>>::from_sql(value)?;
                    crc.update(&[4]);
                    crc.update(&(text.len() as u64).to_le_bytes());
                    crc.update(text.as_bytes());
                }
            }
        }
        Ok(Summand { owner, sum: ROW + i64::from(crc.finalize()) })
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

/// What the rows of some owners of a table add up to now, or of all.
pub(super) fn now(c: &mut SqliteConnection, table: Table, owners: Option<&[String]>) -> Result<HashMap<String, i64>, StoreError> {
    let mut all = HashMap::new();
    let mut add = |owner: String, sum: i64| {
        let so_far: &mut i64 = all.entry(owner).or_default();
        *so_far = so_far.wrapping_add(sum);
    };
    if table == Table::Prices {
        let mut take = |symbol: &Arc<str>, year: i32, bytes: Vec<u8>| {
            // A chunk that does not keep what its header says adds nothing that could be expected.
            let whole = bars::is_whole(&bytes);
            add(symbol.to_string(), if whole { of_chunk(symbol, year, &bytes) } else { 1 });
            Ok(())
        };
        match owners {
            None => each_chunk(c, None, &mut take)?,
            Some(owners) => owners.chunks(AT_ONCE).try_for_each(|symbols| each_chunk(c, Some(symbols), &mut take))?,
        }
        return Ok(all);
    }
    let (name, owner) = (name(table), owner_column(table));
    let select = format!("SELECT {owner} AS owner, * FROM {name}");
    let mut run = |c: &mut SqliteConnection, filter: String, owners: &[String]| {
        let query = diesel::sql_query(format!("{select}{filter}")).into_boxed::<Sqlite>();
        let query = owners.iter().fold(query, |query, owner| query.bind::<Text, _>(owner));
        for row in RunQueryDsl::load_iter::<Summand, DefaultLoadingMode>(query, c)? {
            let row = row?;
            add(row.owner.unwrap_or_default(), row.sum);
        }
        Ok::<(), StoreError>(())
    };
    match owners {
        None => run(c, String::new(), &[])?,
        Some(owners) => {
            for some in owners.chunks(AT_ONCE) {
                run(c, format!(" WHERE {owner} IN ({})", vec!["?"; some.len()].join(",")), some)?;
            }
            if owners.iter().any(String::is_empty) {
                run(c, format!(" WHERE {owner} IS NULL"), &[])?;
            }
        }
    }
    Ok(all)
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

/// Makes the sums of a dataset that has none yet: older versions kept none.
pub(super) fn make(c: &mut SqliteConnection) -> Result<(), StoreError> {
    let some = checksums::table.select(checksums::owner).first::<String>(c).optional()?;
    let company = companies::table.select(companies::id).first::<String>(c).optional()?;
    if some.is_some() || company.is_none() {
        return Ok(());
    }
    c.immediate_transaction(|c| {
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
            let mut now = now(c, table, Some(&owners))?;
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
                Err(_) => found.extend(super::aside::one_by_one(&mut c, &kept, table)),
            }
        }
        super::aside::with_companies(&mut c, &mut found)?;
        self.remember_aside(&found);
        Ok(found)
    }
}

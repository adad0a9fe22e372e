//! What the rows of each table add up to, kept by triggers of the one connection that writes: damage on the disk is noticed by it.
//!
//! A row counts as one in the upper half and as the CRC-32 of its values, so that neither order nor the way they came matters.

use crate::{StoreError, db};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    sql_types::{BigInt, Text},
    sqlite::SqliteConnection,
};

#[diesel::declare_sql_function]
extern "SQL" {
    /// What a row adds, by its values as SQL writes them.
    fn row_sum(values: Text) -> BigInt;
}

/// One row counts as this much, beside its CRC.
const ROW: i64 = 1 << 32;

/// What is kept of a table where its rows cannot be trusted: they never add up to it.
const NEVER: i64 = -1;

#[derive(QueryableByName)]
struct Name {
    #[diesel(sql_type = Text)]
    name: String,
}

#[derive(QueryableByName)]
struct Sum {
    #[diesel(sql_type = BigInt)]
    sum: i64,
}

pub(super) fn names(c: &mut SqliteConnection, sql: &str) -> QueryResult<Vec<String>> {
    Ok(diesel::sql_query(sql).load::<Name>(c)?.into_iter().map(|n| n.name).collect())
}

/// All tables that hold something of persons.
pub(crate) fn tables(c: &mut SqliteConnection) -> QueryResult<Vec<String>> {
    names(
        c,
        "SELECT name FROM main.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE '\\_\\_%' ESCAPE '\\' \
         AND name <> 'checksums' ORDER BY name",
    )
}

/// The values of a row as one text.
fn values(c: &mut SqliteConnection, table: &str, of: &str) -> QueryResult<String> {
    let columns = names(c, &format!("SELECT name FROM pragma_table_info('{table}') ORDER BY cid"))?;
    Ok(columns.iter().map(|column| format!("quote({of}\"{column}\")")).collect::<Vec<_>>().join(" || ',' || "))
}

/// Makes the function known to a connection.
pub(crate) fn know(c: &mut SqliteConnection) -> QueryResult<()> {
    row_sum_utils::register_impl(c, |values: String| ROW + i64::from(crc32fast::hash(values.as_bytes())))
}

fn now(c: &mut SqliteConnection, table: &str) -> QueryResult<i64> {
    let values = values(c, table, "")?;
    let sum = format!("SELECT coalesce(sum(row_sum({values})), 0) AS sum FROM main.\"{table}\"");
    Ok(diesel::sql_query(sum).get_result::<Sum>(c)?.sum)
}

/// The tables whose rows are not those that were written, as of one moment; nothing is known where no sums were kept yet.
pub(crate) fn damaged(c: &mut SqliteConnection) -> Result<Vec<String>, StoreError> {
    know(c)?;
    db::at_one_moment(c, looked_at)
}

fn looked_at(c: &mut SqliteConnection) -> Result<Vec<String>, StoreError> {
    let layout = "SELECT name FROM main.sqlite_master WHERE type = 'table' AND name = '__diesel_schema_migrations'";
    if names(c, layout)?.is_empty() || !db::is_summed(c)? {
        return Ok(Vec::new());
    }
    let mut out = Vec::new();
    for table in tables(c)? {
        let kept = diesel::sql_query("SELECT sum FROM main.checksums WHERE of_table = ?");
        let kept = kept.bind::<Text, _>(&table).get_result::<Sum>(c).optional()?;
        // Whether or not SQLite can read it.
        if kept.map(|kept| kept.sum) != now(c, &table).ok() {
            out.push(table);
        }
    }
    Ok(out)
}

/// Keeps what the rows of each table add up to now; those of `damaged` are not trusted from here on either.
pub(crate) fn keep(c: &mut SqliteConnection, damaged: &[String]) -> Result<(), StoreError> {
    know(c)?;
    for table in tables(c)? {
        let sum = if damaged.contains(&table) { NEVER } else { now(c, &table)? };
        let row = "REPLACE INTO main.checksums (of_table, sum) VALUES (?, ?)";
        diesel::sql_query(row).bind::<Text, _>(&table).bind::<BigInt, _>(sum).execute(c)?;
    }
    Ok(db::mark_summed(c)?)
}

/// Keeps that nothing is left in a table.
pub(crate) fn keep_empty(c: &mut SqliteConnection, table: &str) -> QueryResult<()> {
    let sum = "UPDATE main.checksums SET sum = 0 WHERE of_table = ? AND sum <> ?";
    diesel::sql_query(sum).bind::<Text, _>(table).bind::<BigInt, _>(NEVER).execute(c).map(drop)
}

/// Keeps the sums right with each change that the connection makes.
pub(crate) fn follow(c: &mut SqliteConnection) -> Result<(), StoreError> {
    know(c)?;
    // A row that replaces another deletes it first.
    c.batch_execute("PRAGMA recursive_triggers = ON;")?;
    for table in tables(c)? {
        let (new, old) = (values(c, &table, "NEW.")?, values(c, &table, "OLD.")?);
        for (event, change) in [
            ("INSERT", format!("+ row_sum({new})")),
            ("DELETE", format!("- row_sum({old})")),
            ("UPDATE", format!("+ row_sum({new}) - row_sum({old})")),
        ] {
            c.batch_execute(&format!(
                "CREATE TEMP TRIGGER \"sum of {table} after {event}\" AFTER {event} ON main.\"{table}\" \
                 BEGIN UPDATE checksums SET sum = sum {change} WHERE of_table = '{table}' AND sum <> {NEVER}; END;"
            ))?;
        }
    }
    Ok(())
}

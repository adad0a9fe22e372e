//! Rows of the tables ⇄ records of the dataset; one file a part of the dataset.

pub(crate) mod companies;
pub(crate) mod indexes;
pub(crate) mod insert;
pub(crate) mod life;
pub(crate) mod market;
pub(crate) mod people;
pub(crate) mod prices;
pub(crate) mod statements;
mod texts;

use crate::StoreError;
use artemon_core::domain::{CodeError, Day, Record, Table};
use diesel::sqlite::SqliteConnection;
use std::str::FromStr;

/// Takes records read from the store; fails when it wants no more.
pub(crate) type Sink<'s> = dyn FnMut(Record) -> Result<(), StoreError> + 's;

/// Some companies with their listings. A statement takes a few hundred at most.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Chosen<'o> {
    pub(crate) companies: &'o [String],
    pub(crate) symbols: &'o [String],
}

/// All companies, or some.
pub(crate) type Only<'o> = Option<Chosen<'o>>;

/// Gives the rows of one table to `sink`, in the order of their keys. Tables that belong to no company are read whole.
pub(crate) fn read(c: &mut SqliteConnection, table: Table, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    match table {
        Table::Companies => companies::read(c, only, sink),
        Table::Listings => companies::read_listings(c, only, sink),
        Table::Statements => statements::read(c, only, sink),
        // Read by symbol, or as columns.
        Table::Prices => Ok(()),
        Table::Actions => market::read_actions(c, only, sink),
        Table::Estimates => people::read_estimates(c, only, sink),
        Table::InsiderTrades => people::read_trades(c, only, sink),
        Table::Ownership => people::read_ownership(c, only, sink),
        Table::Rates => market::read_rates(c, sink),
        Table::Fx => market::read_fx(c, sink),
        Table::Officers => life::read_officers(c, only, sink),
        Table::Events => life::read_events(c, only, sink),
        Table::News => life::read_news(c, only, sink),
        Table::Indexes => indexes::read(c, sink),
        Table::IndexMembers => indexes::read_members(c, only, sink),
        Table::IndexLevels => indexes::read_levels(c, sink),
        Table::Annotations => life::read_annotations(c, only, sink),
    }
}

/// Parses a code that the store itself wrote.
fn code<T: FromStr<Err = CodeError>>(text: &str) -> Result<T, StoreError> {
    text.parse().map_err(|e: CodeError| StoreError::Damaged { what: e.to_string() })
}

fn day(days: Option<i32>) -> Option<Day> {
    days.map(Day::from_epoch_days)
}

fn days(day: Option<Day>) -> Option<i32> {
    day.map(Day::epoch_days)
}

//! Reads what is as it was written, and says of whom something is not.

use super::{
    COMPANIES_A_QUERY, Dataset, Selection, SetAside,
    aside::with_companies,
    checksums::{self, Adding, Sums},
    digest::owner,
    is_by_symbol, is_shared,
    rows::{self, Chosen, Sink},
    schema::listings,
};
use crate::{StoreError, db::at_one_moment};
use artemon_core::domain::{Record, Table};
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::{collections::HashSet, ops::ControlFlow};

/// Owners whose rows are held at once, until it is known whether they are as they were written.
const HELD: usize = 100;

/// Gives the rows of some owners of a table, or of all, whether they are as they were written or not.
pub(super) fn read_of(c: &mut SqliteConnection, table: Table, owners: Option<&[String]>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let Some(owners) = owners.filter(|_| !is_shared(table)) else { return rows::read(c, table, None, sink) };
    // Of the two a table has one.
    rows::read(c, table, Some(Chosen { companies: owners, symbols: owners }), sink)?;
    let market = table == Table::News && owners.iter().any(String::is_empty);
    if market { rows::life::read_market_news(c, sink) } else { Ok(()) }
}

/// The rows of some owners of a table, or of all, but those that are not as they were written, and whose these are.
pub(super) fn sound_rows(c: &mut SqliteConnection, table: Table, owners: Option<&[String]>, kept: &Sums) -> (Vec<Record>, Vec<String>) {
    let (mut all, mut adding) = (Vec::new(), Adding::default());
    let read = read_of(c, table, owners, &mut |record| {
        adding.add_row(&record);
        all.push(record);
        Ok(())
    });
    match (read, owners) {
        (Ok(()), _) => {
            let now = adding.sums();
            let unlike: HashSet<String> = match owners {
                None => checksums::unlike(kept, &now).into_iter().collect(),
                Some(owners) => owners.iter().filter(|owner| kept.get(*owner) != now.get(*owner)).cloned().collect(),
            };
            if !unlike.is_empty() {
                all.retain(|record| !unlike.contains(owner(record)));
            }
            (all, unlike.into_iter().collect())
        }
        // A row that cannot be read hides those after it: each owner by itself, where that is possible.
        (Err(_), Some(owners)) if owners.len() > 1 && !is_shared(table) => {
            let (rows, unlike): (Vec<_>, Vec<_>) = owners.chunks(1).map(|one| sound_rows(c, table, Some(one), kept)).unzip();
            (rows.concat(), unlike.concat())
        }
        (Err(_), Some(owners)) => (Vec::new(), owners.to_vec()),
        (Err(_), None) => (Vec::new(), kept.keys().cloned().collect()),
    }
}

impl Dataset {
    /// Gives the rows of a selection to `sink`, table by table, in the order of their owners, until it breaks off; all as of one
    /// moment. What is damaged is left out, and answered. It reads by a connection of its own, so that a slow `sink` keeps nobody
    /// waiting.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub fn read(&self, selection: &Selection, mut sink: impl FnMut(Record) -> ControlFlow<()>) -> Result<Vec<SetAside>, StoreError> {
        let mut sink = |record| match sink(record) {
            ControlFlow::Continue(()) => Ok(()),
            ControlFlow::Break(()) => Err(StoreError::BrokenOff),
        };
        let wanted = |table: Table| {
            let table_is = selection.tables.as_ref().is_none_or(|some| some.contains(&table));
            table_is && (selection.companies.is_none() || !is_shared(table))
        };
        at_one_moment(&mut self.0.own_reader()?, |c| {
            let mut damaged: Vec<SetAside> = self.set_aside().into_iter().filter(|d| wanted(d.table)).collect();
            for &table in Table::ALL.iter().filter(|table| wanted(**table)) {
                match read_table(c, table, selection.companies.as_deref(), &mut sink) {
                    Err(StoreError::BrokenOff) => break,
                    unlike => damaged.extend(unlike?.into_iter().map(|owner| SetAside { table, owner, company: None })),
                }
            }
            with_companies(c, &mut damaged)?;
            damaged.sort();
            damaged.dedup();
            Ok(damaged)
        })
    }

    /// Looks at every row of every table, as of one moment: what is not as it was written.
    ///
    /// # Errors
    /// When the database cannot be read at all.
    pub fn check(&self) -> Result<Vec<SetAside>, StoreError> {
        let found = at_one_moment(&mut self.0.own_reader()?, |c| {
            let mut found = Vec::new();
            for &table in Table::ALL {
                let unlike = match checksums::now(c, table, None) {
                    Ok(now) => checksums::unlike(&checksums::kept_in(c, table)?, &now),
                    Err(_) => read_table(c, table, None, &mut |_| Ok(()))?,
                };
                found.extend(unlike.into_iter().map(|owner| SetAside { table, owner, company: None }));
            }
            with_companies(c, &mut found)?;
            Ok(found)
        })?;
        self.remember_aside(&found);
        Ok(found)
    }
}

/// The sound rows of a table, of some companies or of all; answers whose are not.
fn read_table(
    c: &mut SqliteConnection,
    table: Table,
    companies: Option<&[String]>,
    sink: &mut Sink<'_>,
) -> Result<Vec<String>, StoreError> {
    let kept = checksums::kept_in(c, table)?;
    // A listing is found by its symbol and belongs to its company: all at once keeps them in order.
    if companies.is_none() && (is_shared(table) || table == Table::Listings) {
        let (rows, unlike) = sound_rows(c, table, None, &kept);
        rows.into_iter().try_for_each(sink)?;
        return Ok(unlike);
    }
    let mut owners = match companies {
        None => kept.keys().cloned().collect(),
        Some(companies) if is_by_symbol(table) => symbols_of(c, companies)?,
        Some(companies) => companies.to_vec(),
    };
    owners.sort();
    let mut all = Vec::new();
    for some in owners.chunks(HELD) {
        if table == Table::Prices {
            for symbol in some {
                if !rows::prices::read_sound(c, symbol, kept.get(symbol).copied(), sink)? {
                    all.push(symbol.clone());
                }
            }
            continue;
        }
        let (rows, unlike) = sound_rows(c, table, Some(some), &kept);
        rows.into_iter().try_for_each(&mut *sink)?;
        all.extend(unlike);
    }
    Ok(all)
}

/// The symbols of the listings of some companies.
fn symbols_of(c: &mut SqliteConnection, companies: &[String]) -> QueryResult<Vec<String>> {
    let of = |ids: &[String]| listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(c);
    Ok(companies.chunks(COMPANIES_A_QUERY).map(of).collect::<QueryResult<Vec<_>>>()?.concat())
}

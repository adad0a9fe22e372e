//! What is damaged is set aside: it is not shown, and everything else is.

use super::{
    Dataset,
    checksums::{self, Sums},
    schema::listings,
};
use crate::StoreError;
use artemon_core::domain::Table;
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::{
    collections::HashMap,
    sync::{MutexGuard, PoisonError},
};

/// Rows that are not as they were written.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct SetAside {
    /// In which table.
    pub table: Table,
    /// Whose they are: the id of a company or index, a symbol, a currency; empty for the market as a whole.
    pub owner: String,
    /// The company whose figures would be wrong, where it is one's.
    pub company: Option<String>,
}

/// The damaged owners of a table that cannot be read as a whole.
pub(super) fn one_by_one(c: &mut SqliteConnection, kept: &Sums, table: Table) -> Vec<SetAside> {
    let owners = kept.iter().filter(|(key, _)| key.0 == table);
    let damaged = owners.filter(|((_, owner), sum)| {
        let now = checksums::now(c, table, Some(std::slice::from_ref(owner)));
        now.map_or(true, |now| now.get(owner) != Some(sum))
    });
    let mut all: Vec<SetAside> = damaged.map(|((_, owner), _)| SetAside { table, owner: owner.clone(), company: None }).collect();
    all.sort();
    all
}

/// Puts to each the company whose figures would be wrong.
pub(super) fn with_companies(c: &mut SqliteConnection, all: &mut [SetAside]) -> Result<(), StoreError> {
    let by_symbol = |table: Table| matches!(table, Table::Prices | Table::Actions);
    let symbols: Vec<&String> = all.iter().filter(|a| by_symbol(a.table)).map(|a| &a.owner).collect();
    let mut companies: HashMap<String, String> = HashMap::new();
    for some in symbols.chunks(400) {
        let rows = listings::table.filter(listings::symbol.eq_any(some)).select((listings::symbol, listings::company_id));
        companies.extend(rows.load::<(String, String)>(c)?);
    }
    for one in all {
        one.company = match one.table {
            table if super::is_shared(table) => None,
            table if by_symbol(table) => companies.get(&one.owner).cloned(),
            _ => Some(one.owner.clone()).filter(|owner| !owner.is_empty()),
        };
    }
    Ok(())
}

impl Dataset {
    /// What is set aside of the rows that were looked at.
    #[must_use]
    pub fn set_aside(&self) -> Vec<SetAside> {
        self.aside().clone()
    }

    fn aside(&self) -> MutexGuard<'_, Vec<SetAside>> {
        self.1.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Everything was looked at, and this was found.
    pub(super) fn remember_aside(&self, found: &[SetAside]) {
        *self.aside() = found.to_vec();
    }

    /// What meets the condition was looked at anew, and this was found.
    pub(super) fn look_anew(&self, looked_at: impl Fn(&SetAside) -> bool, found: Vec<SetAside>) {
        let mut aside = self.aside();
        aside.retain(|a| !looked_at(a));
        aside.extend(found);
        aside.sort();
        aside.dedup();
    }
}

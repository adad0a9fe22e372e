//! What is damaged is set aside: it is not shown, and everything else is.

use super::{COMPANIES_A_QUERY, Dataset, is_by_symbol, is_shared, schema::listings};
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

/// Puts to each the company whose figures would be wrong.
pub(super) fn with_companies(c: &mut SqliteConnection, all: &mut [SetAside]) -> Result<(), StoreError> {
    let symbols: Vec<&String> = all.iter().filter(|a| is_by_symbol(a.table)).map(|a| &a.owner).collect();
    let mut companies: HashMap<String, String> = HashMap::new();
    for some in symbols.chunks(COMPANIES_A_QUERY) {
        let rows = listings::table.filter(listings::symbol.eq_any(some)).select((listings::symbol, listings::company_id));
        companies.extend(rows.load::<(String, String)>(c)?);
    }
    for one in all {
        one.company = match one.table {
            table if is_shared(table) => None,
            table if is_by_symbol(table) => companies.get(&one.owner).cloned(),
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

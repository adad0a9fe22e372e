//! The user's assumption sets, with their versions, and what is assumed of single companies. Bodies are JSON.

use crate::{
    Store, StoreError,
    schema::{assumption_sets, overrides},
};
use diesel::{
    dsl::{max, not},
    prelude::*,
    sqlite::SqliteConnection,
};

/// A version of an assumption set.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = assumption_sets)]
#[allow(missing_docs)]
pub struct KeptSet {
    pub name: String,
    pub version: i32,
    pub body: String,
    pub saved_at: String,
}

/// What is assumed of a company.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Insertable)]
#[diesel(table_name = overrides)]
#[allow(missing_docs)]
pub struct KeptOverride {
    pub company_id: String,
    pub body: String,
    pub saved_at: String,
}

impl Store {
    /// Every version of every set, by name, oldest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn assumption_sets(&self) -> Result<Vec<KeptSet>, StoreError> {
        let kept = assumption_sets::table.filter(not(assumption_sets::forgotten)).select(KeptSet::as_select());
        Ok(kept.order_by((assumption_sets::name, assumption_sets::version)).load(&mut *self.connection()?)?)
    }

    /// Keeps the next version of a set; gives its number, from 1. A forgotten set of the name is gone for good.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_assumption_set(&self, name: &str, body: &str, saved_at: &str) -> Result<i32, StoreError> {
        let mut c = self.connection()?;
        let version = c.immediate_transaction(|c| {
            let forgotten = assumption_sets::table.filter(assumption_sets::name.eq(name)).filter(assumption_sets::forgotten);
            diesel::delete(forgotten).execute(c)?;
            let newest: Option<i32> =
                assumption_sets::table.filter(assumption_sets::name.eq(name)).select(max(assumption_sets::version)).first(c)?;
            let version = newest.unwrap_or(0) + 1;
            let row = KeptSet { name: name.to_owned(), version, body: body.to_owned(), saved_at: saved_at.to_owned() };
            diesel::insert_into(assumption_sets::table).values(row).execute(c)?;
            Ok::<i32, diesel::result::Error>(version)
        })?;
        Ok(version)
    }

    /// Forgets a set with all its versions, or brings back one that was forgotten since the store was opened; says whether
    /// there was one.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn forget_assumption_set(&self, name: &str, forget: bool) -> Result<bool, StoreError> {
        let found = assumption_sets::table.filter(assumption_sets::name.eq(name)).filter(assumption_sets::forgotten.ne(forget));
        Ok(diesel::update(found).set(assumption_sets::forgotten.eq(forget)).execute(&mut *self.connection()?)? > 0)
    }

    /// Drops forgotten sets for good.
    pub(crate) fn drop_forgotten(c: &mut SqliteConnection) -> QueryResult<usize> {
        diesel::delete(assumption_sets::table.filter(assumption_sets::forgotten)).execute(c)
    }

    /// What is assumed of companies, by company.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn overrides(&self) -> Result<Vec<KeptOverride>, StoreError> {
        Ok(overrides::table.order_by(overrides::company_id).load(&mut *self.connection()?)?)
    }

    /// Keeps what is assumed of a company, instead of what was.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_override(&self, own: &KeptOverride) -> Result<(), StoreError> {
        diesel::replace_into(overrides::table).values(own.clone()).execute(&mut *self.connection()?)?;
        Ok(())
    }

    /// Forgets what is assumed of a company; says whether anything was.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn forget_override(&self, company_id: &str) -> Result<bool, StoreError> {
        Ok(diesel::delete(overrides::table.find(company_id)).execute(&mut *self.connection()?)? > 0)
    }
}

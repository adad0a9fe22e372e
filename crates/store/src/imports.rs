//! What is kept of imports: their reports, and how CSV files were mapped.

use crate::{
    Store, StoreError,
    schema::{imports, mappings},
};
use diesel::prelude::*;

/// Imports kept; older ones are forgotten.
const KEPT: i64 = 200;

/// An import that has ended, one way or another.
#[derive(Clone, Debug, Insertable)]
#[diesel(table_name = imports)]
#[allow(missing_docs)]
pub struct NewImport {
    pub title: String,
    /// RFC 3339.
    pub finished_at: String,
    /// "done", "refused", "failed" or "cancelled".
    pub outcome: String,
    /// A sentence.
    pub message: String,
    pub row_count: i64,
    pub bad_rows: i64,
    /// The bad rows as CSV.
    pub report: String,
}

/// A kept import without its report.
#[derive(Clone, Debug, Queryable)]
#[allow(missing_docs)]
pub struct KeptImport {
    pub id: i32,
    pub title: String,
    pub finished_at: String,
    pub outcome: String,
    pub message: String,
    pub row_count: i64,
    pub bad_rows: i64,
}

impl Store {
    /// Keeps an import; returns its number.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_import(&self, new: &NewImport) -> Result<i32, StoreError> {
        let mut c = self.connection()?;
        let id = c.immediate_transaction(|c| {
            diesel::insert_into(imports::table).values(new).execute(c)?;
            let id: i32 = imports::table.select(imports::id).order_by(imports::id.desc()).first(c)?;
            let oldest = imports::table.select(imports::id).order_by(imports::id.desc()).offset(KEPT).first::<i32>(c).optional()?;
            if let Some(oldest) = oldest {
                diesel::delete(imports::table.filter(imports::id.le(oldest))).execute(c)?;
            }
            Ok::<i32, diesel::result::Error>(id)
        })?;
        Ok(id)
    }

    /// The kept imports, newest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn kept_imports(&self, most: i64) -> Result<Vec<KeptImport>, StoreError> {
        use imports::dsl as i;
        let columns = (i::id, i::title, i::finished_at, i::outcome, i::message, i::row_count, i::bad_rows);
        Ok(imports::table.select(columns).order_by(i::id.desc()).limit(most).load(&mut *self.connection()?)?)
    }

    /// The report of a kept import as CSV.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn import_report(&self, id: i32) -> Result<Option<String>, StoreError> {
        Ok(imports::table.find(id).select(imports::report).first(&mut *self.connection()?).optional()?)
    }

    /// How a CSV file with this header was mapped the last time, as JSON.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn mapping(&self, signature: &str) -> Result<Option<String>, StoreError> {
        Ok(mappings::table.find(signature).select(mappings::mapping).first(&mut *self.connection()?).optional()?)
    }

    /// Remembers how a CSV file with this header was mapped.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn remember_mapping(&self, signature: &str, mapping: &str) -> Result<(), StoreError> {
        let row = (mappings::signature.eq(signature), mappings::mapping.eq(mapping));
        diesel::replace_into(mappings::table).values(row).execute(&mut *self.connection()?)?;
        Ok(())
    }
}

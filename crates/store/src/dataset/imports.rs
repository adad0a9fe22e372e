//! What is kept of imports: their reports.

use super::{Batch, Dataset, schema::imports};
use crate::StoreError;
use diesel::{prelude::*, sqlite::SqliteConnection};

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

fn insert(c: &mut SqliteConnection, new: &NewImport) -> QueryResult<i32> {
    diesel::insert_into(imports::table).values(new).execute(c)?;
    let id: i32 = imports::table.select(imports::id).order_by(imports::id.desc()).first(c)?;
    let oldest = imports::table.select(imports::id).order_by(imports::id.desc()).offset(KEPT).first::<i32>(c).optional()?;
    if let Some(oldest) = oldest {
        diesel::delete(imports::table.filter(imports::id.le(oldest))).execute(c)?;
    }
    Ok(id)
}

impl Batch<'_> {
    /// Keeps the import whose rows these are: it lands with them.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_import(&mut self, new: &NewImport) -> Result<i32, StoreError> {
        Ok(insert(self.connection(), new)?)
    }
}

impl Dataset {
    /// Keeps an import that brought nothing; returns its number.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_import(&self, new: &NewImport) -> Result<i32, StoreError> {
        Ok(self.writer().immediate_transaction(|c| insert(c, new))?)
    }

    /// The kept imports, newest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn kept_imports(&self, most: i64) -> Result<Vec<KeptImport>, StoreError> {
        use imports::dsl as i;
        let columns = (i::id, i::title, i::finished_at, i::outcome, i::message, i::row_count, i::bad_rows);
        Ok(imports::table.select(columns).order_by(i::id.desc()).limit(most).load(&mut *self.reader()?)?)
    }

    /// The report of a kept import as CSV.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn import_report(&self, id: i32) -> Result<Option<String>, StoreError> {
        Ok(imports::table.find(id).select(imports::report).first(&mut *self.reader()?).optional()?)
    }
}

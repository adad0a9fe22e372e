//! What was done that others may have to know of: only added to, which triggers of the database see to.

use super::{People, person::PersonId, schema::audit};
use crate::{StoreError, moment::now};
use diesel::{prelude::*, sqlite::SqliteConnection};

/// An entry of the audit log.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct KeptEntry {
    /// From 1.
    pub n: i64,
    /// As RFC 3339.
    pub at: String,
    /// Empty where nobody was known.
    pub person: String,
    /// As known then.
    pub name: String,
    pub what: String,
    pub about: String,
    /// From where; empty at the terminal.
    pub address: String,
}

/// Something that is to be added to it.
#[derive(Clone, Copy, Debug, Default)]
#[allow(missing_docs)]
pub struct NewEntry<'e> {
    pub person: &'e str,
    pub name: &'e str,
    pub what: &'e str,
    pub about: &'e str,
    pub address: &'e str,
}

pub(super) fn insert_entry(c: &mut SqliteConnection, entry: &NewEntry<'_>) -> QueryResult<()> {
    use audit as a;
    let row = (
        a::at.eq(now()),
        a::person_id.eq(entry.person),
        a::name.eq(entry.name),
        a::what.eq(entry.what),
        a::about.eq(entry.about),
        a::address.eq(entry.address),
    );
    diesel::insert_into(a::table).values(row).execute(c).map(drop)
}

impl People {
    /// Adds an entry.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_entry(&self, entry: &NewEntry<'_>) -> Result<(), StoreError> {
        Ok(insert_entry(&mut self.writer(), entry)?)
    }

    /// Entries before a number, the newest first: of everybody, or of one person.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn entries(&self, of: Option<&PersonId>, before: i64, most: i64) -> Result<Vec<KeptEntry>, StoreError> {
        use audit as a;
        let mut all = a::table.filter(a::n.lt(before)).order_by(a::n.desc()).limit(most).into_boxed();
        if let Some(person) = of {
            all = all.filter(a::person_id.eq(person.as_str()));
        }
        Ok(all.load(&mut *self.reader()?)?)
    }
}

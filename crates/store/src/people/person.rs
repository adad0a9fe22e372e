//! Who there is, and the file that holds what is theirs.

use super::schema::persons;
use crate::{StoreError, db::Sort, files::PEOPLE};
use diesel::{prelude::*, sqlite::SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, embed_migrations};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations/people");
pub(crate) const SORT: Sort = Sort {
    file: PEOPLE,
    application: 0x4152_5031,
    known_by: "persons",
    migrations: || MIGRATIONS,
    cache: 4_000,
    // What was confirmed is on the disk.
    synchronous: "FULL",
};

/// By which a person is known.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct PersonId(pub(super) String);

impl PersonId {
    /// The id as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// The person at this machine.
pub const LOCAL: &str = "local";

pub(crate) fn add_local(c: &mut SqliteConnection) -> Result<(), StoreError> {
    let row = (persons::id.eq(LOCAL), persons::name.eq(""), persons::created_at.eq(now()));
    diesel::insert_or_ignore_into(persons::table).values(row).execute(c)?;
    Ok(())
}

/// Now, as RFC 3339.
pub(crate) fn now() -> String {
    chrono::Utc::now().to_rfc3339_opts(chrono::SecondsFormat::Secs, true)
}

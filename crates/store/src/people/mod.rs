//! What belongs to persons: their documents, what they assume of companies, what they prefer.

mod documents;
mod overrides;
mod preferences;
mod schema;

pub use documents::{Document, DocumentHead, DocumentVersion, NewDocument, Saved};
pub(crate) use documents::{insert_document, insert_next_version};
pub use overrides::KeptOverride;

use crate::{
    StoreError,
    db::{Db, Reader, Sort},
    files::{self, PEOPLE},
    legacy,
};
use diesel::{prelude::*, sqlite::SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, embed_migrations};
use schema::persons;
use std::{path::Path, sync::MutexGuard};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations/people");
pub(crate) const SORT: Sort = Sort { file: PEOPLE, application: 0x4152_5031, known_by: "persons", migrations: || MIGRATIONS, cache: 4_000 };

/// By which a person is known.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct PersonId(String);

impl PersonId {
    /// The id as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

/// The person at this machine.
pub const LOCAL: &str = "local";

/// What belongs to persons, on disk.
#[derive(Clone, Debug)]
pub struct People(Db);

impl People {
    /// Opens the file of a folder, making it with the local person when there is none.
    ///
    /// # Errors
    /// When the folder cannot be used, or the database is damaged, foreign or of a newer version.
    pub fn open(folder: &Path) -> Result<People, StoreError> {
        files::own_folder(folder)?;
        legacy::part(folder)?;
        let people = People(Db::open(folder, &SORT)?);
        add_local(&mut people.writer())?;
        Ok(people)
    }

    /// Opens the file of a folder to read it, perhaps beside a program that writes it; `None` when there is none.
    ///
    /// # Errors
    /// As [`People::open`]; when it must be brought up to date first.
    pub fn open_to_read(folder: &Path) -> Result<Option<People>, StoreError> {
        if !folder.join(PEOPLE).is_file() {
            return Ok(None);
        }
        Db::open_to_read(folder, &SORT).map(|db| Some(People(db)))
    }

    /// The person at this machine.
    #[must_use]
    pub fn local(&self) -> PersonId {
        PersonId(LOCAL.to_owned())
    }

    /// Grows with every change of what a person computes with.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn revision(&self, person: &PersonId) -> Result<i64, StoreError> {
        Ok(persons::table.find(person.as_str()).select(persons::revision).first(&mut *self.reader()?)?)
    }

    fn reader(&self) -> Result<Reader, StoreError> {
        self.0.reader()
    }

    fn writer(&self) -> MutexGuard<'_, SqliteConnection> {
        self.0.writer()
    }
}

pub(crate) fn add_local(c: &mut SqliteConnection) -> Result<(), StoreError> {
    let row = (persons::id.eq(LOCAL), persons::name.eq(""), persons::created_at.eq(now()));
    diesel::insert_or_ignore_into(persons::table).values(row).execute(c)?;
    Ok(())
}

/// Now, as RFC 3339.
pub(crate) fn now() -> String {
    chrono::Utc::now().to_rfc3339_opts(chrono::SecondsFormat::Secs, true)
}

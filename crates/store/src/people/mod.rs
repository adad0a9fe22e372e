//! What belongs to persons: their documents, what they assume of companies, what they prefer.

mod addresses;
mod backtests;
mod decisions;
pub(crate) mod documents;
mod firings;
mod ledger;
mod mails;
mod overrides;
pub(crate) mod person;
mod preferences;
mod runs;
mod schema;
mod visits;

pub use backtests::{EndedBacktest, KeptBacktest, WAITING};
pub use decisions::{KeptDecision, KeptReview, NewDecision};
pub use documents::{Document, DocumentHead, DocumentVersion, NewDocument, Saved};
pub use firings::{Firing, NewFiring};
pub use ledger::{KeptAccount, KeptEvent, KeptStatement, Landed, Landing, NewEvent, NewStatement};
pub use mails::{KeptMail, NewMail};
pub use overrides::KeptOverride;
pub use person::{LOCAL, PersonId};
pub use runs::KeptRun;
pub use visits::Visit;

use crate::{
    StoreError,
    db::{Db, Reader},
    files::{self, PEOPLE},
    legacy,
};
use diesel::{prelude::*, sqlite::SqliteConnection};
use person::{SORT, add_local};
use schema::persons;
use std::{path::Path, sync::MutexGuard};

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

//! What belongs to persons: their documents, what they assume of companies, what they prefer.

mod addresses;
mod audit;
mod backtests;
pub(crate) mod checksums;
mod credentials;
mod decisions;
mod departures;
pub(crate) mod documents;
mod firings;
mod invitations;
mod ledger;
mod mails;
mod overrides;
pub(crate) mod person;
mod preferences;
mod runs;
pub(crate) mod schema;
mod sessions;
mod shares;
mod tokens;
mod visits;

pub use addresses::KeptAddress;
pub use audit::{KeptEntry, NewEntry};
pub use backtests::{EndedBacktest, KeptBacktest, WAITING};
pub use credentials::{Joined, Joining, KeptCredential};
pub use decisions::{KeptDecision, KeptReview, NewDecision};
pub use departures::Departed;
pub use documents::{Document, DocumentHead, DocumentVersion, NewDocument, Saved};
pub use firings::{Firing, NewFiring};
pub use invitations::KeptInvitation;
pub use ledger::{KeptAccount, KeptEvent, KeptStatement, Landed, Landing, NewEvent, NewStatement};
pub use mails::{KeptMail, NewMail};
pub use overrides::KeptOverride;
pub use person::{LOCAL, PersonId, unguessable};
pub use runs::KeptRun;
pub use sessions::KeptSession;
pub use shares::KeptShare;
pub use tokens::KeptToken;
pub use visits::Visit;

use crate::{
    StoreError,
    copies::{self, Kept},
    db::{self, Db, Reader},
    files::{self, PEOPLE},
    legacy,
};
use diesel::{prelude::*, sqlite::SqliteConnection};
pub(crate) use person::SORT;
use person::add_local;
use schema::persons;
use std::{
    fs,
    path::Path,
    sync::{Arc, Mutex, MutexGuard, PoisonError},
};

/// What belongs to persons, on disk, and the tables of it that were not as they were written when it was opened.
#[derive(Clone, Debug)]
pub struct People(Db, Arc<Mutex<Vec<String>>>);

/// Refuses to begin with nothing where there was something: copies tell of it.
fn there(folder: &Path) -> Result<(), StoreError> {
    let path = folder.join(PEOPLE);
    let is_empty = |path: &Path| path.metadata().map_or(true, |m| m.len() == 0);
    let gone = is_empty(&path) && is_empty(&files::beside(&path, "-wal")) && copies::newest_sound_copy(folder).is_some();
    if gone { Err(StoreError::Gone { path }) } else { Ok(()) }
}

/// Ends all sessions in a copy, so that nobody is signed in again by putting it back.
pub(crate) fn forget_sessions(copy: &Path) -> Result<(), StoreError> {
    let mut c = db::to_look_at(copy, &SORT)?;
    c.immediate_transaction(|c| {
        if checksums::tables(c)?.iter().any(|table| table == "sessions") {
            diesel::delete(schema::sessions::table).execute(c)?;
            checksums::keep_empty(c, "sessions")?;
        }
        Ok::<_, diesel::result::Error>(())
    })?;
    files::settle(copy)
}

/// Copies kept of those made before an update.
const BEFORE_UPDATES: usize = 5;

impl People {
    /// Opens the file of a folder, making it with the local person when there never was one.
    ///
    /// # Errors
    /// When the folder cannot be used, or the database is gone, damaged, foreign or of a newer version.
    pub fn open(folder: &Path) -> Result<People, StoreError> {
        files::own_folder(folder)?;
        legacy::part(folder)?;
        there(folder)?;
        People::begin(folder)
    }

    /// The same where it is known that nothing is there.
    ///
    /// # Errors
    /// As [`People::open`].
    pub fn begin(folder: &Path) -> Result<People, StoreError> {
        let mut opening = Db::opening(folder, &SORT)?;
        let damaged = checksums::damaged(&mut opening.c)?;
        if opening.is_older() {
            copies::copy_people(folder, "before an update", BEFORE_UPDATES)?;
        }
        let people = People(opening.finish()?, Arc::default());
        let mut c = people.writer();
        if !db::is_summed(&mut c)? {
            c.immediate_transaction(|c| checksums::keep(c, &damaged))?;
        }
        checksums::follow(&mut c)?;
        add_local(&mut c)?;
        drop(c);
        *people.with_damaged() = damaged;
        Ok(people)
    }

    /// The tables that were not as they were written when the file was opened.
    #[must_use]
    pub fn damaged(&self) -> Vec<String> {
        self.with_damaged().clone()
    }

    fn with_damaged(&self) -> MutexGuard<'_, Vec<String>> {
        self.1.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Takes the place of all that is here with what a copy holds, in one transaction.
    ///
    /// # Errors
    /// A copy that is not sound. Nothing is changed then.
    pub fn take_back(&self, folder: &Path, copy: &Path) -> Result<(), StoreError> {
        if let Some(problem) = copies::examine(copy, Kept::People)?.into_iter().next() {
            return Err(StoreError::Unsound { path: copy.to_owned(), problem });
        }
        // Brought up to date beside.
        let made = folder.join("moving");
        files::clear(&made)?;
        files::own_folder(&made)?;
        let other = made.join(PEOPLE);
        fs::copy(copy, &other).map_err(files::failed(&made))?;
        drop(People::open(&made)?);
        files::settle(&other)?;
        let taken = {
            let mut c = self.writer();
            let newest: Option<i64> = persons::table.select(diesel::dsl::max(persons::revision)).first(&mut *c)?;
            copies::take_contents(&mut c, &other, newest.unwrap_or_default())
        };
        files::clear(&made)?;
        taken?;
        self.with_damaged().clear();
        Ok(())
    }

    /// Opens the file of a folder to read it, perhaps beside a program that writes it; `None` when there is none.
    ///
    /// # Errors
    /// As [`People::open`]; when it must be brought up to date first.
    pub fn open_to_read(folder: &Path) -> Result<Option<People>, StoreError> {
        there(folder)?;
        if !folder.join(PEOPLE).is_file() {
            return Ok(None);
        }
        let damaged = checksums::damaged(&mut crate::db::to_look_at(&folder.join(PEOPLE), &SORT)?)?;
        Ok(Some(People(Db::open_to_read(folder, &SORT)?, Arc::new(Mutex::new(damaged)))))
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

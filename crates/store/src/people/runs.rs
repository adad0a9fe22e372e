//! For which sessions saved screens were run.

use super::{
    People,
    person::PersonId,
    schema::{documents, runs},
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// A run of a saved screen.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
pub struct KeptRun {
    /// The session, as YYYY-MM-DD.
    pub as_of: String,
    /// How many companies passed.
    pub found: i32,
}

impl People {
    /// The last run of a person's document for a session before one.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn run_before(&self, person: &PersonId, document: &str, as_of: &str) -> Result<Option<KeptRun>, StoreError> {
        let mine = runs::table.inner_join(documents::table).filter(documents::person_id.eq(person.as_str()));
        let before = mine.filter(runs::document_id.eq(document)).filter(runs::as_of.lt(as_of));
        Ok(before.order_by(runs::as_of.desc()).select((runs::as_of, runs::found)).first(&mut *self.reader()?).optional()?)
    }

    /// Remembers a run; the last of a session counts.
    ///
    /// # Errors
    /// When there is no such document, and when it cannot be written.
    pub fn remember_run(&self, document: &str, run: &KeptRun) -> Result<(), StoreError> {
        use runs as r;
        let row = (r::document_id.eq(document), r::as_of.eq(&run.as_of), r::found.eq(run.found), r::ran_at.eq(now()));
        diesel::replace_into(r::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }
}

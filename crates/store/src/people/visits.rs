//! When persons looked at what happened, and what of it they put away.

use super::{
    People,
    person::PersonId,
    schema::{put_away, visits},
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;
use std::collections::HashMap;

/// A visit: up to which session somebody has seen what happened.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
pub struct Visit {
    /// The newest session seen in the visit that ended before this one; none at first.
    pub since: Option<String>,
    /// The newest session seen in this one.
    pub seen: String,
    /// When they looked last, as RFC 3339.
    pub looked_at: String,
    /// When the visit before this one ended.
    pub ended_at: Option<String>,
}

impl People {
    /// The visit of a person that goes on, or the last one.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn visit(&self, person: &PersonId) -> Result<Option<Visit>, StoreError> {
        use visits as v;
        let row = v::table.find(person.as_str()).select((v::since, v::seen, v::looked_at, v::ended_at));
        Ok(row.first(&mut *self.reader()?).optional()?)
    }

    /// Keeps a visit instead of the one before.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_visit(&self, person: &PersonId, visit: &Visit) -> Result<(), StoreError> {
        use visits as v;
        let row = (
            v::person_id.eq(person.as_str()),
            v::since.eq(&visit.since),
            v::seen.eq(&visit.seen),
            v::looked_at.eq(&visit.looked_at),
            v::ended_at.eq(&visit.ended_at),
        );
        diesel::replace_into(v::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }

    /// The lines that a person put away, each with the state in which it was.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn put_away(&self, person: &PersonId) -> Result<HashMap<String, String>, StoreError> {
        use put_away as p;
        let mine = p::table.filter(p::person_id.eq(person.as_str())).select((p::line, p::state));
        Ok(mine.load::<(String, String)>(&mut *self.reader()?)?.into_iter().collect())
    }

    /// Puts lines away, or takes them back: those without a state.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn put_lines_away(&self, person: &PersonId, lines: &[(String, Option<String>)]) -> Result<(), StoreError> {
        use put_away as p;
        self.writer().immediate_transaction::<(), diesel::result::Error, _>(|c| {
            for (line, state) in lines {
                let row = (p::person_id.eq(person.as_str()), p::line.eq(line));
                match state {
                    Some(state) => {
                        let all = (row.0, row.1, p::state.eq(state), p::put_at.eq(now()));
                        diesel::replace_into(p::table).values(all).execute(c)?;
                    }
                    None => {
                        diesel::delete(p::table.find((person.as_str(), line))).execute(c)?;
                    }
                }
            }
            Ok(())
        })?;
        Ok(())
    }
}

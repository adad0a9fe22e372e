//! Private addresses of calendars and feeds: whoever knows one may read what it is for.

use super::{
    People,
    person::{PersonId, now, unguessable},
    schema::addresses,
};
use crate::StoreError;
use diesel::prelude::*;

impl People {
    /// The token of a person's address for a purpose, if there is one.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn address(&self, person: &PersonId, purpose: &str) -> Result<Option<String>, StoreError> {
        use addresses as a;
        let mine = a::table.filter(a::person_id.eq(person.as_str())).filter(a::purpose.eq(purpose));
        Ok(mine.select(a::token).first(&mut *self.reader()?).optional()?)
    }

    /// Gives a person a new address for a purpose; the one before leads nowhere any more.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn renew_address(&self, person: &PersonId, purpose: &str) -> Result<String, StoreError> {
        use addresses as a;
        let token = unguessable();
        let row = (a::token.eq(&token), a::person_id.eq(person.as_str()), a::purpose.eq(purpose), a::made_at.eq(now()));
        diesel::replace_into(a::table).values(row).execute(&mut *self.writer())?;
        Ok(token)
    }

    /// Whose address a token is, and for which purpose.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn addressed(&self, token: &str) -> Result<Option<(PersonId, String)>, StoreError> {
        use addresses as a;
        let found = a::table.find(token).select((a::person_id, a::purpose)).first::<(String, String)>(&mut *self.reader()?).optional()?;
        Ok(found.map(|(person, purpose)| (PersonId(person), purpose)))
    }
}

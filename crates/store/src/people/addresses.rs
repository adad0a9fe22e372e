//! Private addresses of calendars and feeds: whoever knows one may read what it is for, until it ends.

use super::{People, person::PersonId, schema::addresses};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// An address.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = addresses)]
#[allow(missing_docs)]
pub struct KeptAddress {
    /// What stands in it, or its hash.
    pub token: String,
    /// Times are RFC 3339.
    pub made_at: String,
    pub ends_at: String,
}

impl People {
    /// A person's address for a purpose, if there is one that has not ended.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn address(&self, person: &PersonId, purpose: &str) -> Result<Option<KeptAddress>, StoreError> {
        use addresses as a;
        let mine = a::table.filter(a::person_id.eq(person.as_str())).filter(a::purpose.eq(purpose)).filter(a::ends_at.gt(now()));
        Ok(mine.select(KeptAddress::as_select()).first(&mut *self.reader()?).optional()?)
    }

    /// Gives a person a new address for a purpose; the one before leads nowhere any more.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn set_address(&self, person: &PersonId, purpose: &str, token: &str, ends_at: &str) -> Result<(), StoreError> {
        use addresses as a;
        let row =
            (a::token.eq(token), a::person_id.eq(person.as_str()), a::purpose.eq(purpose), a::made_at.eq(now()), a::ends_at.eq(ends_at));
        diesel::replace_into(a::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Whose address it is, and for which purpose, unless it has ended.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn addressed(&self, token: &str) -> Result<Option<(PersonId, String)>, StoreError> {
        use addresses as a;
        let found = a::table.find(token).filter(a::ends_at.gt(now())).select((a::person_id, a::purpose));
        Ok(found.first(&mut *self.reader()?).optional()?)
    }
}

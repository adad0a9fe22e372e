//! Access tokens of scripts. They are kept as hashes.

use super::{
    People,
    audit::{NewEntry, insert_entry},
    person::PersonId,
    schema::access_tokens,
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// An access token.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = access_tokens)]
#[allow(missing_docs)]
pub struct KeptToken {
    pub hash: String,
    pub id: String,
    #[diesel(column_name = person_id)]
    pub person: PersonId,
    pub name: String,
    /// Separated by spaces.
    pub scopes: String,
    /// Times are RFC 3339.
    pub made_at: String,
    pub ends_at: String,
    pub used_at: Option<String>,
}

impl People {
    /// Keeps a token.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_token(&self, token: &KeptToken, entry: &NewEntry<'_>) -> Result<(), StoreError> {
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            diesel::insert_into(access_tokens::table).values(token).execute(c)?;
            insert_entry(c, entry)
        })?)
    }

    /// The tokens of a person, the newest first; those that have ended too.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn tokens(&self, person: &PersonId) -> Result<Vec<KeptToken>, StoreError> {
        use access_tokens as t;
        let mine = t::table.filter(t::person_id.eq(person.as_str())).select(KeptToken::as_select());
        Ok(mine.order_by(t::made_at.desc()).load(&mut *self.reader()?)?)
    }

    /// A token by its hash, unless it has ended.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn token(&self, hash: &str) -> Result<Option<KeptToken>, StoreError> {
        use access_tokens as t;
        let valid = t::table.find(hash).filter(t::ends_at.gt(now())).select(KeptToken::as_select());
        Ok(valid.first(&mut *self.reader()?).optional()?)
    }

    /// Keeps when a token was used.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_token_used(&self, hash: &str, at: &str) -> Result<(), StoreError> {
        use access_tokens as t;
        diesel::update(t::table.find(hash)).set(t::used_at.eq(at)).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Ends a token of a person for good; `false` where there is none.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn end_token(&self, person: &PersonId, id: &str, entry: &NewEntry<'_>) -> Result<bool, StoreError> {
        use access_tokens as t;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let mine = t::table.filter(t::person_id.eq(person.as_str())).filter(t::id.eq(id));
            let gone = diesel::delete(mine).execute(c)? > 0;
            if gone {
                insert_entry(c, entry)?;
            }
            Ok::<_, diesel::result::Error>(gone)
        })?)
    }
}

//! Who is signed in, where, and in which browsers somebody signed in before. Cookies are kept as hashes.

use super::{
    People,
    credentials::sign_out,
    person::PersonId,
    schema::{devices, sessions},
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// Somebody who is signed in.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = sessions)]
#[allow(missing_docs)]
pub struct KeptSession {
    /// Of the cookie.
    pub hash: String,
    pub id: String,
    #[diesel(column_name = person_id)]
    pub person: PersonId,
    /// Times are RFC 3339.
    pub made_at: String,
    pub seen_at: String,
    /// When the passphrase was typed last.
    pub confirmed_at: String,
    pub address: String,
    pub browser: String,
}

/// Browsers that are remembered of a person; the oldest make room.
const DEVICES: i64 = 30;

impl People {
    /// Keeps a session; those of the person that were seen last at `ended` or before are forgotten.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_session(&self, session: &KeptSession, ended: &str) -> Result<(), StoreError> {
        use sessions as s;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let old = s::table.filter(s::person_id.eq(session.person.as_str())).filter(s::seen_at.le(ended));
            diesel::delete(old).execute(c)?;
            diesel::insert_into(s::table).values(session).execute(c).map(drop)
        })?)
    }

    /// The session of a cookie, by its hash.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn session(&self, hash: &str) -> Result<Option<KeptSession>, StoreError> {
        Ok(sessions::table.find(hash).select(KeptSession::as_select()).first(&mut *self.reader()?).optional()?)
    }

    /// Keeps when a session was seen, and when its passphrase was typed last. One that has ended stays so.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_session_seen(&self, session: &KeptSession) -> Result<(), StoreError> {
        use sessions as s;
        let values = (s::seen_at.eq(&session.seen_at), s::confirmed_at.eq(&session.confirmed_at));
        diesel::update(s::table.find(&session.hash)).set(values).execute(&mut *self.writer())?;
        Ok(())
    }

    /// The sessions of a person, the last seen first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn sessions(&self, person: &PersonId) -> Result<Vec<KeptSession>, StoreError> {
        use sessions as s;
        let mine = s::table.filter(s::person_id.eq(person.as_str())).select(KeptSession::as_select());
        Ok(mine.order_by(s::seen_at.desc()).load(&mut *self.reader()?)?)
    }

    /// Ends the session of a cookie.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn end_session(&self, hash: &str) -> Result<(), StoreError> {
        diesel::delete(sessions::table.find(hash)).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Ends a session of a person; `false` where there is none.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn end_session_of(&self, person: &PersonId, id: &str) -> Result<bool, StoreError> {
        use sessions as s;
        let mine = s::table.filter(s::person_id.eq(person.as_str())).filter(s::id.eq(id));
        Ok(diesel::delete(mine).execute(&mut *self.writer())? > 0)
    }

    /// Ends all sessions of a person but one; an empty hash ends all.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn end_sessions(&self, person: &PersonId, but: &str) -> Result<(), StoreError> {
        Ok(sign_out(&mut self.writer(), person.as_str(), but)?)
    }

    /// Remembers a browser in which a person signed in.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_device(&self, person: &PersonId, hash: &str) -> Result<(), StoreError> {
        use devices as d;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let mine = d::table.filter(d::person_id.eq(person.as_str())).order_by(d::made_at.desc()).select(d::hash);
            let too_many: Vec<String> = mine.offset(DEVICES - 1).limit(i64::MAX).load(c)?;
            diesel::delete(d::table.filter(d::hash.eq_any(too_many))).execute(c)?;
            let row = (d::hash.eq(hash), d::person_id.eq(person.as_str()), d::made_at.eq(now()));
            diesel::insert_into(d::table).values(row).execute(c).map(drop)
        })?)
    }

    /// Whether a person has signed in in this browser before.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn is_device_of(&self, person: &PersonId, hash: &str) -> Result<bool, StoreError> {
        use devices as d;
        let device = d::table.find(hash).filter(d::person_id.eq(person.as_str()));
        Ok(diesel::select(diesel::dsl::exists(device)).get_result(&mut *self.reader()?)?)
    }
}

//! What a person lets everybody on this server read who has the link.

use super::{
    People,
    audit::{NewEntry, insert_entry},
    person::{PersonId, unguessable},
    schema::{persons, shares},
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// Something that is shared.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct KeptShare {
    /// In the link.
    pub token: String,
    /// Whose it is.
    pub person: PersonId,
    /// Their name.
    pub name: String,
    /// "document" or "backtest".
    pub kind: String,
    pub object: String,
    /// Since when, as RFC 3339.
    pub shared_at: String,
}

macro_rules! whole {
    () => {{
        use shares as s;
        let with = s::table.inner_join(persons::table);
        with.select((s::token, s::person_id, persons::name, s::kind, s::object_id, s::shared_at))
    }};
}

impl People {
    /// Shares something of a person's; what is shared already keeps its link. Whose it is was looked at before.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn share(&self, person: &PersonId, kind: &str, object: &str, entry: &NewEntry<'_>) -> Result<KeptShare, StoreError> {
        use shares as s;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let known = || whole!().filter(s::kind.eq(kind)).filter(s::object_id.eq(object));
            if let Some(share) = known().first(c).optional()? {
                return Ok(share);
            }
            let token = unguessable();
            let row =
                (s::token.eq(token), s::person_id.eq(person.as_str()), s::kind.eq(kind), s::object_id.eq(object), s::shared_at.eq(now()));
            diesel::insert_into(s::table).values(row).execute(c)?;
            insert_entry(c, entry)?;
            known().first::<KeptShare>(c)
        })?)
    }

    /// What a person shares, the newest first.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn shares(&self, person: &PersonId) -> Result<Vec<KeptShare>, StoreError> {
        use shares as s;
        Ok(whole!().filter(s::person_id.eq(person.as_str())).order_by(s::shared_at.desc()).load(&mut *self.reader()?)?)
    }

    /// What a link leads to.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn shared(&self, token: &str) -> Result<Option<KeptShare>, StoreError> {
        Ok(whole!().filter(shares::token.eq(token)).first(&mut *self.reader()?).optional()?)
    }

    /// Takes back what a person shares; `false` where nothing is shared under the link.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn take_share_back(&self, person: &PersonId, token: &str, entry: &NewEntry<'_>) -> Result<bool, StoreError> {
        use shares as s;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let mine = s::table.find(token).filter(s::person_id.eq(person.as_str()));
            let gone = diesel::delete(mine).execute(c)? > 0;
            if gone {
                insert_entry(c, entry)?;
            }
            Ok::<_, diesel::result::Error>(gone)
        })?)
    }
}

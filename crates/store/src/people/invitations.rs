//! Links that let somebody choose a passphrase, once. They are kept as hashes.

use super::{
    People,
    audit::{NewEntry, insert_entry},
    person::PersonId,
    schema::invitations,
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// An invitation that was not taken up yet.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = invitations)]
#[allow(missing_docs)]
pub struct KeptInvitation {
    /// Of the link.
    pub hash: String,
    pub id: String,
    /// Who comes back in; none for somebody new.
    #[diesel(column_name = person_id)]
    pub person: Option<PersonId>,
    /// "owner" or "member".
    pub role: String,
    /// Whether whoever comes back has lost the second factor, too.
    pub second_factor_lost: bool,
    pub note: String,
    /// Who invites; none at the terminal.
    pub made_by: Option<PersonId>,
    /// Times are RFC 3339.
    pub made_at: String,
    pub ends_at: String,
}

impl People {
    /// Keeps an invitation. Of somebody who comes back only the newest counts.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_invitation(&self, invitation: &KeptInvitation, entry: &NewEntry<'_>) -> Result<(), StoreError> {
        use invitations as i;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            diesel::delete(i::table.filter(i::ends_at.le(now()))).execute(c)?;
            if let Some(person) = &invitation.person {
                diesel::delete(i::table.filter(i::person_id.eq(person.as_str()))).execute(c)?;
            }
            diesel::insert_into(i::table).values(invitation).execute(c)?;
            insert_entry(c, entry)
        })?)
    }

    /// The invitations that can be taken up, the newest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn invitations(&self) -> Result<Vec<KeptInvitation>, StoreError> {
        use invitations as i;
        let valid = i::table.filter(i::ends_at.gt(now())).select(KeptInvitation::as_select());
        Ok(valid.order_by(i::made_at.desc()).load(&mut *self.reader()?)?)
    }

    /// The invitation of a link, by its hash, if it can be taken up.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn invitation(&self, hash: &str) -> Result<Option<KeptInvitation>, StoreError> {
        use invitations as i;
        let valid = i::table.find(hash).filter(i::ends_at.gt(now())).select(KeptInvitation::as_select());
        Ok(valid.first(&mut *self.reader()?).optional()?)
    }

    /// Withdraws an invitation; `false` where there is none.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn withdraw_invitation(&self, id: &str, entry: &NewEntry<'_>) -> Result<bool, StoreError> {
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let gone = diesel::delete(invitations::table.filter(invitations::id.eq(id))).execute(c)? > 0;
            if gone {
                insert_entry(c, entry)?;
            }
            Ok::<_, diesel::result::Error>(gone)
        })?)
    }
}

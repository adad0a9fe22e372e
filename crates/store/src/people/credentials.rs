//! Who may sign in to a shared server, and with what.

use super::{
    People,
    audit::{NewEntry, insert_entry},
    person::PersonId,
    schema::{credentials, devices, invitations, persons, recovery_codes, sessions},
};
use crate::{StoreError, moment::now};
use diesel::{
    prelude::*,
    result::{DatabaseErrorKind, Error as QueryError},
    sqlite::SqliteConnection,
};

/// With what a person signs in.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct KeptCredential {
    pub person: PersonId,
    pub name: String,
    /// "owner" or "member".
    pub role: String,
    /// Argon2id, as a PHC string.
    pub passphrase: String,
    pub changed_at: String,
    /// In base 32; empty without a second factor.
    pub second_factor: String,
    /// When the person was first known here.
    pub joined_at: String,
}

/// Somebody who takes an invitation up.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct Joining<'j> {
    /// Of the invitation.
    pub hash: &'j str,
    pub name: &'j str,
    /// The name in small letters.
    pub key: &'j str,
    /// Argon2id, as a PHC string.
    pub passphrase: &'j str,
    pub address: &'j str,
}

/// What became of somebody who takes an invitation up.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Joined {
    /// They can sign in now.
    As(PersonId),
    /// Somebody else has the name; nothing was changed.
    NameTaken,
    /// The invitation is used, withdrawn or too old; nothing was changed.
    Ended,
}

macro_rules! whole {
    () => {{
        use credentials as c;
        c::table.inner_join(persons::table).select((
            c::person_id,
            persons::name,
            c::role,
            c::passphrase,
            c::changed_at,
            c::second_factor,
            persons::created_at,
        ))
    }};
}

impl People {
    /// Everybody who may sign in, by name.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn credentials(&self) -> Result<Vec<KeptCredential>, StoreError> {
        Ok(whole!().order_by(credentials::key).load(&mut *self.reader()?)?)
    }

    /// With what somebody signs in whose name this is, in small letters.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn credential_named(&self, key: &str) -> Result<Option<KeptCredential>, StoreError> {
        Ok(whole!().filter(credentials::key.eq(key)).first(&mut *self.reader()?).optional()?)
    }

    /// With what a person signs in; nothing for one who cannot.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn credential(&self, person: &PersonId) -> Result<Option<KeptCredential>, StoreError> {
        Ok(whole!().filter(credentials::person_id.eq(person.as_str())).first(&mut *self.reader()?).optional()?)
    }

    /// Takes an invitation up, which is used then: somebody new comes in, or somebody who is known gets another passphrase and is
    /// signed out everywhere. The first owner becomes the person at this machine.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn join(&self, joining: &Joining<'_>) -> Result<Joined, StoreError> {
        use invitations as i;
        let mut c = self.writer();
        let done = c.immediate_transaction(|c| {
            let valid = i::table.find(joining.hash).filter(i::ends_at.gt(now()));
            let asked = valid.select((i::person_id, i::role, i::second_factor_lost));
            let Some((known, role, lost)) = asked.first::<(Option<String>, String, bool)>(c).optional()? else {
                return Ok(Joined::Ended);
            };
            diesel::delete(i::table.find(joining.hash)).execute(c)?;
            let person = match known {
                Some(person) => come_back(c, &person, &role, lost, joining)?,
                None => come_in(c, &role, joining)?,
            };
            Ok(Joined::As(PersonId(person)))
        });
        match done {
            Err(QueryError::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Ok(Joined::NameTaken),
            done => Ok(done?),
        }
    }

    /// Gives a person another passphrase; all their sessions but one end, and links back in.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn change_passphrase(&self, person: &PersonId, passphrase: &str, but: &str, entry: &NewEntry<'_>) -> Result<(), StoreError> {
        use credentials as k;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let values = (k::passphrase.eq(passphrase), k::changed_at.eq(now()));
            diesel::update(k::table.find(person.as_str())).set(values).execute(c)?;
            diesel::delete(invitations::table.filter(invitations::person_id.eq(person.as_str()))).execute(c)?;
            sign_out(c, person.as_str(), but)?;
            insert_entry(c, entry)
        })?)
    }

    /// Makes a person an owner or a member; `false` where there would be no owner left.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn change_role(&self, person: &PersonId, role: &str, entry: &NewEntry<'_>) -> Result<bool, StoreError> {
        use credentials as k;
        let mut c = self.writer();
        let done = c.immediate_transaction(|c| {
            diesel::update(k::table.find(person.as_str())).set(k::role.eq(role)).execute(c)?;
            if owners(c)? == 0 {
                return Err(QueryError::RollbackTransaction);
            }
            insert_entry(c, entry)
        });
        match done {
            Err(QueryError::RollbackTransaction) => Ok(false),
            done => Ok(done.map(|()| true)?),
        }
    }

    /// Sets a person's second factor, with the hashes of its recovery codes, or takes it away where the secret is empty.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn set_second_factor(
        &self,
        person: &PersonId,
        secret: &str,
        used_step: i64,
        codes: &[String],
        entry: &NewEntry<'_>,
    ) -> Result<(), StoreError> {
        use credentials as k;
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| {
            let values = (k::second_factor.eq(secret), k::used_step.eq(used_step));
            diesel::update(k::table.find(person.as_str())).set(values).execute(c)?;
            insert_codes(c, person, codes)?;
            insert_entry(c, entry)
        })?)
    }

    /// Gives a person other recovery codes.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn set_recovery_codes(&self, person: &PersonId, codes: &[String], entry: &NewEntry<'_>) -> Result<(), StoreError> {
        let mut c = self.writer();
        Ok(c.immediate_transaction(|c| insert_codes(c, person, codes).and_then(|()| insert_entry(c, entry)))?)
    }

    /// How many recovery codes a person has left.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn recovery_codes_left(&self, person: &PersonId) -> Result<i64, StoreError> {
        use recovery_codes as r;
        Ok(r::table.filter(r::person_id.eq(person.as_str())).count().get_result(&mut *self.reader()?)?)
    }

    /// Uses the code of a step of time; `false` where it or a later one was used already.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn use_step(&self, person: &PersonId, step: i64) -> Result<bool, StoreError> {
        use credentials as k;
        let unused = k::table.find(person.as_str()).filter(k::used_step.lt(step));
        Ok(diesel::update(unused).set(k::used_step.eq(step)).execute(&mut *self.writer())? == 1)
    }

    /// Uses a recovery code; `false` where there is no such code any more.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn use_recovery_code(&self, person: &PersonId, hash: &str) -> Result<bool, StoreError> {
        let code = recovery_codes::table.find((person.as_str(), hash));
        Ok(diesel::delete(code).execute(&mut *self.writer())? == 1)
    }
}

fn insert_codes(c: &mut SqliteConnection, person: &PersonId, codes: &[String]) -> QueryResult<()> {
    use recovery_codes as r;
    diesel::delete(r::table.filter(r::person_id.eq(person.as_str()))).execute(c)?;
    let rows: Vec<_> = codes.iter().map(|hash| (r::person_id.eq(person.as_str()), r::hash.eq(hash))).collect();
    rows.iter().try_for_each(|row| diesel::insert_into(r::table).values(row).execute(c).map(drop))
}

pub(super) fn owners(c: &mut SqliteConnection) -> QueryResult<i64> {
    credentials::table.filter(credentials::role.eq("owner")).count().get_result(c)
}

/// Ends all sessions of a person but one.
pub(super) fn sign_out(c: &mut SqliteConnection, person: &str, but: &str) -> QueryResult<()> {
    use sessions as s;
    diesel::delete(s::table.filter(s::person_id.eq(person)).filter(s::hash.ne(but))).execute(c).map(drop)
}

fn come_in(c: &mut SqliteConnection, role: &str, joining: &Joining<'_>) -> QueryResult<String> {
    use persons as p;
    let id = if role == "owner" && credentials::table.count().get_result::<i64>(c)? == 0 {
        diesel::update(p::table.find(super::LOCAL)).set(p::name.eq(joining.name)).execute(c)?;
        super::LOCAL.to_owned()
    } else {
        let id = uuid::Uuid::new_v4().to_string();
        let row = (p::id.eq(&id), p::name.eq(joining.name), p::created_at.eq(now()));
        diesel::insert_into(p::table).values(row).execute(c)?;
        id
    };
    insert_credential(c, &id, role, joining)?;
    told(c, &id, "joined", role, joining)?;
    Ok(id)
}

/// Their name stays as it is, and so do the role of somebody who could sign in and the second factor, unless it was lost, too.
fn come_back(c: &mut SqliteConnection, id: &str, role: &str, lost: bool, joining: &Joining<'_>) -> QueryResult<String> {
    use credentials as k;
    let values = (k::passphrase.eq(joining.passphrase), k::changed_at.eq(now()));
    if diesel::update(k::table.find(id)).set(values).execute(c)? == 0 {
        diesel::update(persons::table.find(id)).set(persons::name.eq(joining.name)).execute(c)?;
        insert_credential(c, id, role, joining)?;
    }
    if lost {
        diesel::update(k::table.find(id)).set(k::second_factor.eq("")).execute(c)?;
        diesel::delete(recovery_codes::table.filter(recovery_codes::person_id.eq(id))).execute(c)?;
    }
    diesel::delete(devices::table.filter(devices::person_id.eq(id))).execute(c)?;
    sign_out(c, id, "")?;
    told(c, id, "came back", "", joining)?;
    Ok(id.to_owned())
}

fn insert_credential(c: &mut SqliteConnection, id: &str, role: &str, joining: &Joining<'_>) -> QueryResult<()> {
    use credentials as k;
    let row = (
        k::person_id.eq(id),
        k::key.eq(joining.key),
        k::role.eq(role),
        k::passphrase.eq(joining.passphrase),
        k::changed_at.eq(now()),
        k::second_factor.eq(""),
        k::used_step.eq(0),
    );
    diesel::insert_into(k::table).values(row).execute(c).map(drop)
}

fn told(c: &mut SqliteConnection, id: &str, what: &str, about: &str, joining: &Joining<'_>) -> QueryResult<()> {
    let name: String = persons::table.find(id).select(persons::name).first(c)?;
    insert_entry(c, &NewEntry { person: id, name: &name, what, about, address: joining.address })
}

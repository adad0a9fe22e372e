//! Messages to persons: to be sent, sent, or waiting to be tried again.

use super::{People, person::PersonId, schema::mails};
use crate::{StoreError, moment::now};
use diesel::{prelude::*, sqlite::SqliteConnection};

/// A message to be sent.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct NewMail {
    /// By what it is the same message: another of the key is not kept.
    pub key: String,
    /// The session up to which it tells, as YYYY-MM-DD.
    pub session: String,
    pub recipient: String,
    pub subject: String,
    pub text: String,
    pub html: String,
    /// When it is due, as RFC 3339.
    pub due_at: String,
}

/// A message with what became of it.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = mails)]
#[allow(missing_docs)]
pub struct KeptMail {
    pub id: String,
    #[diesel(column_name = person_id)]
    pub person: String,
    pub key: String,
    pub recipient: String,
    pub subject: String,
    pub text: String,
    pub html: String,
    pub made_at: String,
    pub sent_at: Option<String>,
    pub attempts: i32,
    /// When to try again; none when not.
    pub next_at: Option<String>,
    /// Why the last attempt failed.
    pub problem: String,
}

pub(super) fn insert_mail(c: &mut SqliteConnection, person: &PersonId, new: &NewMail) -> QueryResult<()> {
    use mails as m;
    let made = now();
    let row = (
        m::id.eq(uuid::Uuid::new_v4().to_string()),
        m::person_id.eq(person.as_str()),
        m::key.eq(&new.key),
        m::session.eq(&new.session),
        m::recipient.eq(&new.recipient),
        m::subject.eq(&new.subject),
        m::text.eq(&new.text),
        m::html.eq(&new.html),
        m::made_at.eq(&made),
        m::next_at.eq(&new.due_at),
    );
    diesel::insert_or_ignore_into(m::table).values(row).execute(c).map(drop)
}

impl People {
    /// Keeps a message to be sent, unless one of its key is kept.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn add_mail(&self, person: &PersonId, new: &NewMail) -> Result<(), StoreError> {
        Ok(insert_mail(&mut self.writer(), person, new)?)
    }

    /// The messages of a person, newest first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn mails(&self, person: &PersonId, most: i64) -> Result<Vec<KeptMail>, StoreError> {
        let mine = mails::table.filter(mails::person_id.eq(person.as_str()));
        Ok(mine
            .select(KeptMail::as_select())
            .order_by((mails::session.desc(), mails::made_at.desc(), mails::key))
            .limit(most)
            .load(&mut *self.reader()?)?)
    }

    /// A message of a person.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn mail(&self, person: &PersonId, id: &str) -> Result<Option<KeptMail>, StoreError> {
        let mine = mails::table.find(id).filter(mails::person_id.eq(person.as_str()));
        Ok(mine.select(KeptMail::as_select()).first(&mut *self.reader()?).optional()?)
    }

    /// The newest session up to which messages told whose key begins with a word.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn told_upto(&self, person: &PersonId, word: &str) -> Result<Option<String>, StoreError> {
        let mine = mails::table.filter(mails::person_id.eq(person.as_str())).filter(mails::key.like(format!("{word} %")));
        Ok(mine.select(diesel::dsl::max(mails::session)).first(&mut *self.reader()?)?)
    }

    /// The messages of all persons that are due at a time, of the oldest session first.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn due_mails(&self, at: &str) -> Result<Vec<KeptMail>, StoreError> {
        let due = mails::table.filter(mails::sent_at.is_null()).filter(mails::next_at.le(at));
        Ok(due.select(KeptMail::as_select()).order_by((mails::session, mails::made_at, mails::key)).load(&mut *self.reader()?)?)
    }

    /// A message was sent.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn mail_sent(&self, id: &str) -> Result<(), StoreError> {
        use mails as m;
        let values = (m::sent_at.eq(now()), m::next_at.eq(None::<String>), m::problem.eq(""), m::attempts.eq(m::attempts + 1));
        diesel::update(m::table.find(id)).set(values).execute(&mut *self.writer())?;
        Ok(())
    }

    /// A message was not sent; when to try again.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn mail_failed(&self, id: &str, problem: &str, next_at: &str) -> Result<(), StoreError> {
        use mails as m;
        let values = (m::problem.eq(problem), m::next_at.eq(next_at), m::attempts.eq(m::attempts + 1));
        diesel::update(m::table.find(id)).set(values).execute(&mut *self.writer())?;
        Ok(())
    }

    /// All messages of a person that wait are due now.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn try_mails_now(&self, person: &PersonId) -> Result<(), StoreError> {
        use mails as m;
        let waiting = m::table.filter(m::person_id.eq(person.as_str())).filter(m::sent_at.is_null());
        diesel::update(waiting).set(m::next_at.eq(now())).execute(&mut *self.writer())?;
        Ok(())
    }
}

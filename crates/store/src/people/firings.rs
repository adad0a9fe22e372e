//! What alerts said, session by session. All that a session says lands at once, with the mark that it was worked out: a break in
//! between repeats it without saying anything twice.

use super::{
    People,
    mails::{NewMail, insert_mail},
    person::PersonId,
    schema::{firings, persons, worked},
};
use crate::{StoreError, moment::now};
use diesel::prelude::*;

/// What an alert says of a company on a session.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct NewFiring {
    pub alert_id: String,
    /// As YYYY-MM-DD.
    pub session: String,
    /// Empty where it is about none.
    pub company_id: String,
    pub symbol: String,
    pub name: String,
    /// The name of the alert.
    pub alert: String,
    pub sentence: String,
}

/// What an alert said.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = firings)]
#[allow(missing_docs)]
pub struct Firing {
    pub alert_id: String,
    pub session: String,
    pub company_id: String,
    pub symbol: String,
    pub name: String,
    pub alert: String,
    pub sentence: String,
    pub fired_at: String,
    /// When somebody saw it; none until then.
    pub seen_at: Option<String>,
}

/// What the ids of feeds begin with: they say things to whoever reads the feed, not to the person.
const FEEDS: &str = "feed %";

impl People {
    /// Everybody there is.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn persons(&self) -> Result<Vec<PersonId>, StoreError> {
        let ids = persons::table.select(persons::id).order_by(persons::id).load::<String>(&mut *self.reader()?)?;
        Ok(ids.into_iter().map(PersonId).collect())
    }

    /// The last session that was worked out for a person.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn worked(&self, person: &PersonId) -> Result<Option<String>, StoreError> {
        Ok(worked::table.find(person.as_str()).select(worked::session).first(&mut *self.reader()?).optional()?)
    }

    /// Keeps what a session says, and that it was worked out; what was said before is not said again.
    ///
    /// # Errors
    /// When it cannot be written: then nothing is.
    pub fn keep_session(&self, person: &PersonId, session: &str, said: &[NewFiring], mails: &[NewMail]) -> Result<(), StoreError> {
        use firings as f;
        self.writer().immediate_transaction::<(), diesel::result::Error, _>(|c| {
            for s in said {
                let row = (
                    f::person_id.eq(person.as_str()),
                    f::alert_id.eq(&s.alert_id),
                    f::session.eq(&s.session),
                    f::company_id.eq(&s.company_id),
                    f::symbol.eq(&s.symbol),
                    f::name.eq(&s.name),
                    f::alert.eq(&s.alert),
                    f::sentence.eq(&s.sentence),
                    f::fired_at.eq(now()),
                );
                diesel::insert_or_ignore_into(f::table).values(row).execute(c)?;
            }
            mails.iter().try_for_each(|m| insert_mail(c, person, m))?;
            let row = (worked::person_id.eq(person.as_str()), worked::session.eq(session));
            diesel::replace_into(worked::table).values(row).execute(c)?;
            Ok(())
        })?;
        Ok(())
    }

    /// What alerts said after a session and up to another, newest first.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn firings(&self, person: &PersonId, after: &str, upto: &str, most: i64) -> Result<Vec<Firing>, StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).filter(f::session.gt(after)).filter(f::session.le(upto));
        let mine = mine.filter(f::alert_id.not_like(FEEDS));
        Ok(mine.select(Firing::as_select()).order_by((f::session.desc(), f::alert, f::symbol)).limit(most).load(&mut *self.reader()?)?)
    }

    /// How many things alerts said after a session and up to another.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn firings_count(&self, person: &PersonId, after: &str, upto: &str) -> Result<usize, StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).filter(f::session.gt(after)).filter(f::session.le(upto));
        let count: i64 = mine.filter(f::alert_id.not_like(FEEDS)).count().get_result(&mut *self.reader()?)?;
        Ok(usize::try_from(count).unwrap_or(0))
    }

    /// What one alert or feed said, the newest first.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn firings_of(&self, person: &PersonId, alert: &str, most: i64) -> Result<Vec<Firing>, StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).filter(f::alert_id.eq(alert));
        Ok(mine.select(Firing::as_select()).order_by((f::session.desc(), f::symbol)).limit(most).load(&mut *self.reader()?)?)
    }

    /// The alerts that have said anything, with the last session on which each did.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn last_firings(&self, person: &PersonId) -> Result<Vec<(String, String)>, StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).group_by(f::alert_id);
        let rows = mine.select((f::alert_id, diesel::dsl::max(f::session))).load::<(String, Option<String>)>(&mut *self.reader()?)?;
        Ok(rows.into_iter().filter_map(|(alert, session)| Some((alert, session?))).collect())
    }

    /// How many things said nobody has seen.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn unseen_firings(&self, person: &PersonId) -> Result<i64, StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).filter(f::seen_at.is_null()).filter(f::alert_id.not_like(FEEDS));
        Ok(mine.count().get_result(&mut *self.reader()?)?)
    }

    /// Everything said so far was seen.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn see_firings(&self, person: &PersonId) -> Result<(), StoreError> {
        use firings as f;
        let mine = f::table.filter(f::person_id.eq(person.as_str())).filter(f::seen_at.is_null());
        diesel::update(mine).set(f::seen_at.eq(now())).execute(&mut *self.writer())?;
        Ok(())
    }
}

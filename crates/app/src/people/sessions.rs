//! Who is signed in, and for how long.

use super::{Visitor, secret::hash};
use crate::{AppError, Ctx, Home};
use artemon_store::{KeptSession, PersonId, moment};
use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A session ends when nothing was asked for so long, and after so long whatever is asked.
const IDLE: Duration = Duration::hours(2);
const LONGEST: Duration = Duration::hours(24);
/// How often it is kept that somebody is there.
const SEEN_EVERY: Duration = Duration::minutes(1);
/// How long a passphrase counts for what cannot be undone.
const CONFIRMED: Duration = Duration::minutes(10);

/// Somebody who is signed in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Signed {
    /// By which the session is known where sessions are listed.
    pub id: String,
    pub person: String,
    pub made_at: DateTime<Utc>,
    pub seen_at: DateTime<Utc>,
    /// When the passphrase was typed last.
    pub confirmed_at: DateTime<Utc>,
    pub address: String,
    pub browser: String,
}

/// A session in a list.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SessionEntry {
    pub id: String,
    /// As RFC 3339.
    pub made_at: String,
    pub seen_at: String,
    pub address: String,
    pub browser: String,
    /// Whether it is the one that asks.
    pub this: bool,
}

/// The longest name of a browser that is kept, in characters.
const LONGEST_BROWSER: usize = 200;

impl Signed {
    pub(super) fn new(person: &PersonId, visitor: &Visitor) -> Signed {
        let now = Utc::now();
        Signed {
            id: uuid::Uuid::new_v4().to_string(),
            person: person.as_str().to_owned(),
            made_at: now,
            seen_at: now,
            confirmed_at: now,
            address: visitor.address.clone(),
            browser: visitor.browser.chars().filter(|c| !c.is_control()).take(LONGEST_BROWSER).collect(),
        }
    }

    /// Whose session it is.
    #[must_use]
    pub fn person(&self) -> PersonId {
        PersonId::known(&self.person)
    }

    /// The same, seen now; nothing where that was kept a moment ago.
    #[must_use]
    pub fn seen_now(&self) -> Option<Signed> {
        let now = Utc::now();
        (now - self.seen_at >= SEEN_EVERY).then(|| Signed { seen_at: now, ..self.clone() })
    }

    /// The same, its passphrase typed now.
    #[must_use]
    pub fn confirmed_now(&self) -> Signed {
        let now = Utc::now();
        Signed { seen_at: now, confirmed_at: now, ..self.clone() }
    }

    /// Whether the passphrase was typed a moment ago.
    #[must_use]
    pub fn is_confirmed(&self) -> bool {
        Utc::now() - self.confirmed_at < CONFIRMED
    }

    fn goes_on(&self, now: DateTime<Utc>) -> bool {
        now - self.seen_at < IDLE && now - self.made_at < LONGEST
    }
}

/// A moment that was kept; long ago where it cannot be read, so that nothing goes on by it.
fn time(text: &str) -> DateTime<Utc> {
    moment::read(text).unwrap_or_default()
}

fn kept(cookie: &str, s: &Signed) -> KeptSession {
    KeptSession {
        hash: hash(cookie),
        id: s.id.clone(),
        person: s.person(),
        made_at: moment::text(s.made_at),
        seen_at: moment::text(s.seen_at),
        confirmed_at: moment::text(s.confirmed_at),
        address: s.address.clone(),
        browser: s.browser.clone(),
    }
}

/// Keeps a session by its cookie: a new one, or what has changed of one that goes on.
///
/// # Errors
/// When it cannot be kept.
pub fn keep_session(home: &Home, cookie: &str, signed: &Signed, is_new: bool) -> Result<(), AppError> {
    let session = kept(cookie, signed);
    if is_new {
        return Ok(home.people.add_session(&session, &moment::text(Utc::now() - IDLE))?);
    }
    Ok(home.people.keep_session_seen(&session)?)
}

/// Whoever is signed in with a cookie.
///
/// # Errors
/// When it cannot be read.
pub fn session_of_cookie(home: &Home, cookie: &str) -> Result<Option<Signed>, AppError> {
    let found = home.people.session(&hash(cookie))?.map(|s| Signed {
        id: s.id,
        person: s.person.as_str().to_owned(),
        made_at: time(&s.made_at),
        seen_at: time(&s.seen_at),
        confirmed_at: time(&s.confirmed_at),
        address: s.address,
        browser: s.browser,
    });
    Ok(found.filter(|signed| signed.goes_on(Utc::now())))
}

/// Ends the session of a cookie.
///
/// # Errors
/// When it cannot be kept.
pub fn end_session_of_cookie(home: &Home, cookie: &str) -> Result<(), AppError> {
    Ok(home.people.end_session(&hash(cookie))?)
}

/// Whether one of the caller's sessions goes on.
///
/// # Errors
/// When it cannot be read.
pub fn session_goes_on(ctx: &Ctx, id: &str) -> Result<bool, AppError> {
    Ok(sessions(&ctx.home, &ctx.person, id)?.iter().any(|s| s.this))
}

/// The sessions of a person that go on.
pub(super) fn sessions(home: &Home, person: &PersonId, this: &str) -> Result<Vec<SessionEntry>, AppError> {
    let now = Utc::now();
    let goes_on = |s: &KeptSession| now - time(&s.seen_at) < IDLE && now - time(&s.made_at) < LONGEST;
    let entry = |s: KeptSession| SessionEntry {
        this: s.id == this,
        id: s.id,
        made_at: s.made_at,
        seen_at: s.seen_at,
        address: s.address,
        browser: s.browser,
    };
    Ok(home.people.sessions(person)?.into_iter().filter(goes_on).map(entry).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_session_ends_when_nobody_is_there_and_at_last_whatever_is_asked() {
        let signed = Signed::new(&PersonId::known("anna"), &Visitor::default());
        let after =
            |made: Duration, seen: Duration| Signed { seen_at: signed.made_at + seen, ..signed.clone() }.goes_on(signed.made_at + made);
        let (hours, minute) = (Duration::hours, Duration::minutes(1));
        assert!(after(hours(2) - minute, hours(0)) && !after(hours(2), hours(0)), "idle");
        assert!(after(hours(24) - minute, hours(23)) && !after(hours(24), hours(24)), "at last");
        assert!(signed.is_confirmed() && signed.seen_now().is_none());
        let earlier = Signed { confirmed_at: signed.made_at - Duration::minutes(10), ..signed.clone() };
        assert!(!earlier.is_confirmed() && earlier.confirmed_now().is_confirmed());
    }
}

//! Where sessions are kept: among what belongs to persons.

use artemon_app::{AppError, Home, Signed, end_session_of_cookie, keep_session, session_of_cookie};
use async_trait::async_trait;
use std::{collections::HashMap, sync::Arc};
use time::OffsetDateTime;
use tower_sessions::{
    SessionStore,
    session::{Id, Record},
    session_store::{Error, Result},
};

/// Under which name a session holds who is signed in.
pub(crate) const SIGNED: &str = "signed";

/// What belongs to persons, as a place for sessions.
#[derive(Clone, Debug)]
pub(crate) struct People(pub(super) Arc<Home>);

/// A session's cookie as it is hashed.
pub(crate) fn cookie_of(id: Id) -> String {
    id.to_string()
}

impl People {
    /// Off the async threads.
    async fn with<T: Send + 'static>(&self, work: impl FnOnce(&Home) -> std::result::Result<T, AppError> + Send + 'static) -> Result<T> {
        let home = self.0.clone();
        let done = tokio::task::spawn_blocking(move || work(&home)).await;
        done.map_err(|e| Error::Backend(e.to_string()))?.map_err(|e| Error::Backend(e.for_log()))
    }

    async fn keep(&self, record: &Record, is_new: bool) -> Result<()> {
        let Some(signed) = record.data.get(SIGNED).cloned() else { return Ok(()) };
        let signed: Signed = serde_json::from_value(signed).map_err(|e| Error::Decode(e.to_string()))?;
        let cookie = cookie_of(record.id);
        self.with(move |home| keep_session(home, &cookie, &signed, is_new)).await
    }
}

#[async_trait]
impl SessionStore for People {
    async fn create(&self, record: &mut Record) -> Result<()> {
        self.keep(record, true).await
    }

    async fn save(&self, record: &Record) -> Result<()> {
        self.keep(record, false).await
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let cookie = cookie_of(*id);
        let Some(signed) = self.with(move |home| session_of_cookie(home, &cookie)).await? else { return Ok(None) };
        let signed = serde_json::to_value(signed).map_err(|e| Error::Encode(e.to_string()))?;
        // Whether it goes on has been looked at.
        let expiry_date = OffsetDateTime::now_utc().saturating_add(time::Duration::days(1));
        Ok(Some(Record { id: *id, data: HashMap::from([(SIGNED.to_owned(), signed)]), expiry_date }))
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        let cookie = cookie_of(*id);
        self.with(move |home| end_session_of_cookie(home, &cookie)).await
    }
}

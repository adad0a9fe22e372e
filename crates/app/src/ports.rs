//! The border to what is outside: time, and sessions to come. Each has a stand-in, so that whatever needs it can be tried.

use artemon_core::domain::{Day, Record};
use chrono::{DateTime, Utc};
use std::fmt::Debug;

pub use crate::mail::Envelope;

/// What time it is.
pub trait Clock: Send + Sync + Debug {
    /// Now.
    fn now(&self) -> DateTime<Utc>;
}

/// A session with the rows that it brings.
pub type Session = (Day, Vec<Record>);

/// Brings the data of sessions as they end.
pub trait Feed: Send + Sync + Debug {
    /// The sessions that may come, oldest first, those that came included.
    fn sessions(&self) -> &[Session];
}

/// Takes messages: a mail server, or what stands in for one.
pub trait Mail: Send + Sync + Debug {
    /// Takes one message; else says why not, without a full stop.
    ///
    /// # Errors
    /// When it is not taken.
    fn send(&self, message: &Envelope) -> Result<(), String>;
}

/// The machine's clock.
#[derive(Clone, Copy, Debug, Default)]
pub struct SystemClock;

impl Clock for SystemClock {
    fn now(&self) -> DateTime<Utc> {
        Utc::now()
    }
}

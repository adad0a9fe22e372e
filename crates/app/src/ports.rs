//! The border to what is outside: time, and sessions to come. Each has a stand-in, so that whatever needs it can be tried.

use artemon_core::{
    domain::{Day, Record},
    ledger::Ledger,
    panel::AsOf,
};
use artemon_formats::Known;
use artemon_sim::broker;
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

/// Brings the data of sessions as they end. What goes wrong is said without a full stop.
pub trait Feed: Send + Sync + Debug {
    /// The sessions that it has after a day, oldest first.
    ///
    /// # Errors
    /// When it does not answer.
    fn ahead(&self, last: Day) -> Result<Vec<Day>, String>;

    /// The rows that a session brings; what they may refer to is known.
    ///
    /// # Errors
    /// When it does not answer, or with rows that cannot be read.
    fn session(&self, day: Day, known: &mut Known) -> Result<Vec<Record>, String>;
}

/// Works the orders of simulated accounts, and books what happens to what they hold.
pub trait Broker: Send + Sync + Debug {
    /// Works a session: all that it does is in the ledger's journal then. What goes wrong is said without a full stop.
    ///
    /// # Errors
    /// When the books would contradict themselves.
    fn work(&self, ledger: &mut Ledger, market: AsOf<'_>, session: broker::Session) -> Result<(), String>;
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

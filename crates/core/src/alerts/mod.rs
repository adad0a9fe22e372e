//! Conditions that become true: of companies between one session and the next, and over the past years.
//!
//! Whether something became true follows from the two sessions alone: nothing is remembered, and the same sessions always say the
//! same.

mod fired;
mod past;
mod words;

pub use fired::{Condition, Fired, fired};
pub use past::{LookedAt, Past, past};
pub use words::condition_in_words;

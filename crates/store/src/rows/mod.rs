//! Rows of the tables ⇄ records of the dataset; one file a part of the dataset.

pub(crate) mod companies;
pub(crate) mod market;
pub(crate) mod people;
pub(crate) mod prices;
pub(crate) mod statements;

use crate::StoreError;
use artemon_core::domain::{CodeError, Day, Record};
use std::str::FromStr;

/// Takes records read from the store.
pub(crate) type Sink<'s> = dyn FnMut(Record) + 's;

/// Parses a code that the store itself wrote.
fn code<T: FromStr<Err = CodeError>>(text: &str) -> Result<T, StoreError> {
    text.parse().map_err(|e: CodeError| StoreError::Damaged { what: e.to_string() })
}

fn day(days: Option<i32>) -> Option<Day> {
    days.map(Day::from_epoch_days)
}

fn days(day: Option<Day>) -> Option<i32> {
    day.map(Day::epoch_days)
}

//! Texts and packed items of rows, read without a copy of each: of texts, millions of rows repeat the same few.

use crate::dataset::items;
use artemon_core::domain::{CodeError, Items};
use diesel::{
    deserialize::{self, FromSql, FromSqlRow},
    sql_types::{Binary, Text},
    sqlite::{Sqlite, SqliteValue},
};
use rustc_hash::FxHashSet;
use std::{cell::RefCell, fmt, str::FromStr, sync::Arc};

/// A code that the store itself wrote.
#[derive(Clone, Copy, Debug, FromSqlRow)]
pub(crate) struct Coded<T>(pub(crate) T);

impl<T: FromStr<Err = CodeError>> FromSql<Text, Sqlite> for Coded<T> {
    fn from_sql(mut value: SqliteValue<'_, '_, '_>) -> deserialize::Result<Coded<T>> {
        Ok(Coded(value.read_text().parse()?))
    }
}

/// The key of a company or listing: rows come in the order of their keys, so that most repeat the one before.
#[derive(Clone, Debug, FromSqlRow)]
pub(crate) struct Key(pub(crate) Arc<str>);

/// The items of a filing; `None` when they are damaged.
#[derive(Clone, Debug, FromSqlRow)]
pub(crate) struct Packed(pub(crate) Option<Items>);

impl FromSql<Binary, Sqlite> for Packed {
    fn from_sql(mut value: SqliteValue<'_, '_, '_>) -> deserialize::Result<Packed> {
        Ok(Packed(items::decode(value.read_blob())))
    }
}

/// A text of a row that others have as well: names, transaction codes.
#[derive(Clone, Debug, FromSqlRow)]
pub(crate) struct Shared(pub(crate) Arc<str>);

/// How many shared texts are remembered.
const SHARED: usize = 4_096;

thread_local! {
    static LAST: RefCell<Arc<str>> = RefCell::new("".into());
    static KNOWN: RefCell<FxHashSet<Arc<str>>> = RefCell::default();
}

impl FromSql<Text, Sqlite> for Shared {
    fn from_sql(mut value: SqliteValue<'_, '_, '_>) -> deserialize::Result<Shared> {
        let text = value.read_text();
        KNOWN.with_borrow_mut(|known| {
            if let Some(same) = known.get(text) {
                return Ok(Shared(same.clone()));
            }
            if known.len() >= SHARED {
                known.clear();
            }
            let new: Arc<str> = text.into();
            known.insert(new.clone());
            Ok(Shared(new))
        })
    }
}

impl FromSql<Text, Sqlite> for Key {
    fn from_sql(mut value: SqliteValue<'_, '_, '_>) -> deserialize::Result<Key> {
        let key = value.read_text();
        LAST.with_borrow_mut(|last| {
            if **last != *key {
                *last = key.into();
            }
            Ok(Key(last.clone()))
        })
    }
}

impl fmt::Display for Key {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

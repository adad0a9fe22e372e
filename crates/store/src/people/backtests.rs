//! Backtests: what was asked, and what came of it.

use super::{People, person::PersonId, schema::backtests};
use crate::{StoreError, moment::now};
use diesel::{
    dsl::sql,
    prelude::*,
    sql_types::{Nullable, Text},
};
use flate2::{Compression, read::ZlibDecoder, write::ZlibEncoder};
use std::io::{Read, Write};

/// The state of one that has no outcome yet.
pub const WAITING: &str = "waiting";

/// A backtest as it is listed.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = backtests)]
#[allow(missing_docs)]
pub struct KeptBacktest {
    pub id: String,
    pub name: String,
    /// The name of the screen that it tries.
    pub screen: String,
    /// Its document.
    pub settings: String,
    /// "waiting", or how it ended.
    pub state: String,
    /// Why it was refused.
    pub message: String,
    /// By what the data is known that it ran on.
    pub dataset: String,
    /// The assumption set, with its version.
    pub assumptions: String,
    /// Of the product.
    pub version: String,
    pub asked_at: String,
    pub ended_at: Option<String>,
    pub deleted_at: Option<String>,
    /// The figures of the list, as JSON.
    pub summary: Option<String>,
    /// What variants of it came to, as JSON.
    pub variants: Option<String>,
}

/// How a backtest ended.
#[derive(Clone, Debug, PartialEq, Eq)]
#[allow(missing_docs)]
pub struct EndedBacktest<'e> {
    pub state: &'e str,
    pub message: &'e str,
    pub dataset: &'e str,
    pub assumptions: &'e str,
    pub version: &'e str,
    pub summary: Option<&'e str>,
    /// The whole outcome as JSON; kept compressed.
    pub outcome: Option<&'e str>,
}

impl People {
    /// Asks for a backtest; gives its id.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn ask_backtest(&self, person: &PersonId, name: &str, screen: &str, settings: &str) -> Result<String, StoreError> {
        use backtests as b;
        let id = uuid::Uuid::new_v4().to_string();
        let row = (
            (b::id.eq(&id), b::person_id.eq(person.as_str()), b::name.eq(name), b::screen.eq(screen), b::settings.eq(settings)),
            (b::state.eq(WAITING), b::message.eq(""), b::dataset.eq(""), b::assumptions.eq(""), b::version.eq("")),
            b::asked_at.eq(now_exactly()),
        );
        diesel::insert_into(b::table).values(row).execute(&mut *self.writer())?;
        Ok(id)
    }

    /// A person's backtests, newest first, deleted ones too.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn backtests(&self, person: &PersonId) -> Result<Vec<KeptBacktest>, StoreError> {
        use backtests as b;
        let mine = b::table.filter(b::person_id.eq(person.as_str())).order_by((b::asked_at.desc(), b::id));
        Ok(mine.select(KeptBacktest::as_select()).load(&mut *self.reader()?)?)
    }

    /// One of a person's backtests.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn backtest(&self, person: &PersonId, id: &str) -> Result<Option<KeptBacktest>, StoreError> {
        use backtests as b;
        let mine = b::table.find(id).filter(b::person_id.eq(person.as_str()));
        Ok(mine.select(KeptBacktest::as_select()).first(&mut *self.reader()?).optional()?)
    }

    /// The whole outcome of a person's backtest as JSON, if it has one.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn backtest_outcome(&self, person: &PersonId, id: &str) -> Result<Option<String>, StoreError> {
        use backtests as b;
        let mine = b::table.find(id).filter(b::person_id.eq(person.as_str()));
        let packed: Option<Option<Vec<u8>>> = mine.select(b::outcome).first(&mut *self.reader()?).optional()?;
        let Some(packed) = packed.flatten() else { return Ok(None) };
        let mut text = String::new();
        ZlibDecoder::new(&packed[..]).read_to_string(&mut text).map_err(|e| StoreError::Outcome(e.to_string()))?;
        Ok(Some(text))
    }

    /// The backtest that has waited longest of the person whose last one ended longest ago: nobody waits for all of another's.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn next_backtest(&self) -> Result<Option<(PersonId, KeptBacktest)>, StoreError> {
        use backtests as b;
        let next = b::table.filter(b::state.eq(WAITING)).filter(b::deleted_at.is_null()).order_by((
            sql::<Nullable<Text>>("(SELECT max(ended.ended_at) FROM backtests AS ended WHERE ended.person_id = backtests.person_id)"),
            b::asked_at,
            b::id,
        ));
        let found: Option<(String, KeptBacktest)> =
            next.select((b::person_id, KeptBacktest::as_select())).first(&mut *self.reader()?).optional()?;
        Ok(found.map(|(person, kept)| (PersonId(person), kept)))
    }

    /// Ends a backtest that waits; one that was cancelled meanwhile stays so. Whether it was ended.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn end_backtest(&self, person: &PersonId, id: &str, ended: &EndedBacktest<'_>) -> Result<bool, StoreError> {
        use backtests as b;
        let packed = ended.outcome.map(packed).transpose()?;
        let waiting = b::table.find(id).filter(b::person_id.eq(person.as_str())).filter(b::state.eq(WAITING));
        let set = (
            (b::state.eq(ended.state), b::message.eq(ended.message), b::dataset.eq(ended.dataset)),
            (b::assumptions.eq(ended.assumptions), b::version.eq(ended.version), b::ended_at.eq(now())),
            (b::summary.eq(ended.summary), b::outcome.eq(packed)),
        );
        Ok(diesel::update(waiting).set(set).execute(&mut *self.writer())? > 0)
    }

    /// Keeps what variants of a backtest came to.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_variants(&self, person: &PersonId, id: &str, variants: &str) -> Result<(), StoreError> {
        use backtests as b;
        let mine = b::table.find(id).filter(b::person_id.eq(person.as_str()));
        diesel::update(mine).set(b::variants.eq(variants)).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Names a backtest; whether the person has it.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn name_backtest(&self, person: &PersonId, id: &str, name: &str) -> Result<bool, StoreError> {
        use backtests as b;
        let mine = b::table.find(id).filter(b::person_id.eq(person.as_str()));
        Ok(diesel::update(mine).set(b::name.eq(name)).execute(&mut *self.writer())? > 0)
    }

    /// Deletes a backtest until it is restored, or restores it; whether the person has it.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn delete_backtest(&self, person: &PersonId, id: &str, deleted: bool) -> Result<bool, StoreError> {
        use backtests as b;
        let mine = b::table.find(id).filter(b::person_id.eq(person.as_str()));
        Ok(diesel::update(mine).set(b::deleted_at.eq(deleted.then(now))).execute(&mut *self.writer())? > 0)
    }
}

/// Now, as RFC 3339 with thousandths: those that were asked for in one second stay in order.
fn now_exactly() -> String {
    chrono::Utc::now().to_rfc3339_opts(chrono::SecondsFormat::Millis, true)
}

fn packed(text: &str) -> Result<Vec<u8>, StoreError> {
    let mut out = ZlibEncoder::new(Vec::new(), Compression::fast());
    let written = out.write_all(text.as_bytes()).and_then(|()| out.finish());
    written.map_err(|e| StoreError::Outcome(e.to_string()))
}

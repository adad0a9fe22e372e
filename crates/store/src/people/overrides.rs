//! What a person assumes of single companies. Bodies are JSON.

use super::{People, person::PersonId, schema::overrides};
use crate::{StoreError, moment::now};
use diesel::{prelude::*, sqlite::SqliteConnection};

/// What is assumed of a company, with how the company was last seen.
#[derive(Clone, Debug, PartialEq, Eq, Queryable)]
#[allow(missing_docs)]
pub struct KeptOverride {
    pub company_id: String,
    pub symbol: String,
    pub isin: String,
    pub name: String,
    pub body: String,
}

impl People {
    /// What a person assumes of companies, by company.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn overrides(&self, person: &PersonId) -> Result<Vec<KeptOverride>, StoreError> {
        use overrides as o;
        let mine = o::table.filter(o::person_id.eq(person.as_str()));
        Ok(mine.select((o::company_id, o::symbol, o::isin, o::name, o::body)).order_by(o::company_id).load(&mut *self.reader()?)?)
    }

    /// Keeps what a person assumes of a company, instead of what was.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_override(&self, person: &PersonId, own: &KeptOverride) -> Result<(), StoreError> {
        Ok(put(&mut self.writer(), person, own)?)
    }

    /// Forgets what a person assumes of a company; says whether anything was.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn forget_override(&self, person: &PersonId, company_id: &str) -> Result<bool, StoreError> {
        Ok(diesel::delete(overrides::table.find((person.as_str(), company_id))).execute(&mut *self.writer())? > 0)
    }

    /// Gives what was assumed of one company to another, as which it is known now; what was assumed of that one is replaced.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn move_override(&self, person: &PersonId, from: &str, to: &KeptOverride) -> Result<bool, StoreError> {
        let moved = self.writer().immediate_transaction(|c| {
            if diesel::delete(overrides::table.find((person.as_str(), from))).execute(c)? == 0 {
                return Ok::<bool, diesel::result::Error>(false);
            }
            put(c, person, to)?;
            Ok(true)
        })?;
        Ok(moved)
    }
}

fn put(c: &mut SqliteConnection, person: &PersonId, own: &KeptOverride) -> QueryResult<()> {
    use overrides as o;
    let row = (
        o::person_id.eq(person.as_str()),
        o::company_id.eq(&own.company_id),
        o::symbol.eq(&own.symbol),
        o::isin.eq(&own.isin),
        o::name.eq(&own.name),
        o::body.eq(&own.body),
        o::saved_at.eq(now()),
    );
    diesel::replace_into(o::table).values(row).execute(c).map(drop)
}

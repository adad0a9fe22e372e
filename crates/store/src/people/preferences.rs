//! What a person prefers, and how their CSV files were mapped.

use super::{
    People,
    person::PersonId,
    schema::{mappings, preferences},
};
use crate::StoreError;
use diesel::prelude::*;

impl People {
    /// A preference.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn preference(&self, person: &PersonId, key: &str) -> Result<Option<String>, StoreError> {
        let row = preferences::table.find((person.as_str(), key));
        Ok(row.select(preferences::value).first(&mut *self.reader()?).optional()?)
    }

    /// Sets a preference.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn prefer(&self, person: &PersonId, key: &str, value: &str) -> Result<(), StoreError> {
        use preferences as p;
        let row = (p::person_id.eq(person.as_str()), p::key.eq(key), p::value.eq(value));
        diesel::replace_into(p::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Everything remembered whose signature begins like this, the rest of each signature beside it.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn mappings_beginning(&self, person: &PersonId, prefix: &str) -> Result<Vec<(String, String)>, StoreError> {
        let of_person = mappings::table.filter(mappings::person_id.eq(person.as_str()));
        let all: Vec<(String, String)> = of_person.select((mappings::signature, mappings::mapping)).load(&mut *self.reader()?)?;
        Ok(all.into_iter().filter_map(|(signature, mapping)| Some((signature.strip_prefix(prefix)?.to_owned(), mapping))).collect())
    }

    /// How a CSV file with this header was mapped the last time, as JSON.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn mapping(&self, person: &PersonId, signature: &str) -> Result<Option<String>, StoreError> {
        let row = mappings::table.find((person.as_str(), signature));
        Ok(row.select(mappings::mapping).first(&mut *self.reader()?).optional()?)
    }

    /// Remembers several things in one transaction, by their signatures.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn remember_mappings(&self, person: &PersonId, all: &[(String, String)]) -> Result<(), StoreError> {
        use mappings as m;
        if all.is_empty() {
            return Ok(());
        }
        let rows: Vec<_> = all
            .iter()
            .map(|(signature, mapping)| (m::person_id.eq(person.as_str()), m::signature.eq(signature), m::mapping.eq(mapping)))
            .collect();
        let mut c = self.writer();
        c.immediate_transaction(|c| rows.iter().try_for_each(|row| diesel::replace_into(m::table).values(row).execute(c).map(drop)))?;
        Ok(())
    }

    /// Remembers how a CSV file with this header was mapped.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn remember_mapping(&self, person: &PersonId, signature: &str, mapping: &str) -> Result<(), StoreError> {
        use mappings as m;
        let row = (m::person_id.eq(person.as_str()), m::signature.eq(signature), m::mapping.eq(mapping));
        diesel::replace_into(m::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }
}

//! Measures that the user wrote.

use crate::{Store, StoreError, schema::own_measures};
use diesel::prelude::*;

/// A measure as it is kept.
#[derive(Clone, Debug, PartialEq, Eq, Queryable, Insertable)]
#[diesel(table_name = own_measures, treat_none_as_default_value = false)]
#[allow(missing_docs)]
pub struct KeptMeasure {
    pub id: String,
    pub label: String,
    pub note: String,
    pub unit: Option<String>,
    pub formula: String,
}

impl Store {
    /// All, by id.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn own_measures(&self) -> Result<Vec<KeptMeasure>, StoreError> {
        Ok(own_measures::table.order_by(own_measures::id).load(&mut *self.connection()?)?)
    }

    /// Adds a measure, or changes the one of the same id.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_own_measure(&self, measure: &KeptMeasure) -> Result<(), StoreError> {
        diesel::replace_into(own_measures::table).values(measure.clone()).execute(&mut *self.connection()?)?;
        Ok(())
    }

    /// Forgets a measure; says whether there was one.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn forget_own_measure(&self, id: &str) -> Result<bool, StoreError> {
        Ok(diesel::delete(own_measures::table.find(id)).execute(&mut *self.connection()?)? > 0)
    }
}

//! The market at month ends, kept since it takes long to compute and the past does not change while sessions are added.

use super::{Dataset, schema::gauges};
use crate::StoreError;
use diesel::prelude::*;
use std::collections::HashMap;

impl Dataset {
    /// What is kept under some settings, by date.
    ///
    /// # Errors
    /// When it cannot be read.
    pub fn gauges(&self, settings: &str) -> Result<HashMap<String, String>, StoreError> {
        use gauges as g;
        let found = g::table.filter(g::settings.eq(settings)).select((g::date, g::body));
        Ok(found.load::<(String, String)>(&mut *self.reader()?)?.into_iter().collect())
    }

    /// Keeps the market at a date.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn keep_gauge(&self, settings: &str, date: &str, body: &str) -> Result<(), StoreError> {
        use gauges as g;
        let row = (g::settings.eq(settings), g::date.eq(date), g::body.eq(body));
        diesel::replace_into(g::table).values(row).execute(&mut *self.writer())?;
        Ok(())
    }

    /// Forgets all of it: the past may have changed.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn forget_gauges(&self) -> Result<(), StoreError> {
        diesel::delete(gauges::table).execute(&mut *self.writer())?;
        Ok(())
    }
}

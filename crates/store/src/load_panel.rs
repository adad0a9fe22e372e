//! The whole dataset, or some companies of it, into a panel: bars on one thread, all else on another.

use crate::{
    Store, StoreError,
    rows::{self, Chosen, life, prices},
    schema::listings,
    store::{COMPANIES_A_QUERY, is_shared, read_some},
};
use artemon_core::{
    domain::Table,
    panel::{BarColumns, PanelBuilder, Snapshot},
};
use diesel::prelude::*;
use std::sync::Arc;

/// Whether a table is read row by row into the panel.
const fn is_read_by_row(table: Table) -> bool {
    !matches!(table, Table::Prices | Table::Annotations)
}

impl Store {
    /// Everything.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn load_panel(&self) -> Result<Snapshot, StoreError> {
        let (bars, others) = std::thread::scope(|s| {
            let bars = s.spawn(|| self.all_bars());
            let others = self.all_others();
            (bars.join(), others)
        });
        let mut builder = others?;
        let bars = bars.unwrap_or_else(|_| Err(StoreError::Damaged { what: "reading the prices ended early".to_owned() }))?;
        bars.into_iter().for_each(|(symbol, columns)| builder.push_bars(&symbol, columns));
        Ok(builder.build())
    }

    fn all_bars(&self) -> Result<Vec<(Arc<str>, BarColumns)>, StoreError> {
        let mut all = Vec::new();
        prices::read_columns(&mut *self.connection()?, None, |symbol, columns| all.push((symbol.clone(), columns)))?;
        Ok(all)
    }

    fn all_others(&self) -> Result<PanelBuilder, StoreError> {
        let mut builder = PanelBuilder::default();
        let mut c = self.connection()?;
        for &table in Table::ALL {
            if is_read_by_row(table) {
                rows::read(&mut c, table, None, &mut |r| builder.push(r))?;
            }
        }
        Ok(builder)
    }

    /// A builder with these companies as they are now, and with what belongs to no company when asked for.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn load_changed(&self, companies: &[String], market: bool) -> Result<PanelBuilder, StoreError> {
        let mut builder = PanelBuilder::default();
        let mut c = self.connection()?;
        for ids in companies.chunks(COMPANIES_A_QUERY) {
            for &table in Table::ALL.iter().filter(|t| is_read_by_row(**t) && !is_shared(**t)) {
                read_some(&mut c, table, ids, &mut |r| builder.push(r))?;
            }
            let symbols: Vec<String> = listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(&mut c)?;
            let only = Some(Chosen { companies: ids, symbols: &symbols });
            prices::read_columns(&mut c, only, |symbol, columns| builder.push_bars(symbol, columns))?;
        }
        if market {
            for &table in Table::ALL.iter().filter(|t| is_shared(**t)) {
                rows::read(&mut c, table, None, &mut |r| builder.push(r))?;
            }
            life::read_market_news(&mut c, &mut |r| builder.push(r))?;
        }
        Ok(builder)
    }
}

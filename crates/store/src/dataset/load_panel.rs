//! The whole dataset, or some companies of it, into a panel: some companies at a time, on all cores.

use super::{
    COMPANIES_A_QUERY, Dataset, is_shared,
    rows::{self, Chosen, life, prices},
    schema::{companies, listings},
};
use crate::StoreError;
use artemon_core::{
    domain::{Record, Table},
    panel::{PanelBuilder, PanelPart, Snapshot},
};
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::sync::Mutex;

/// Companies read at once by one thread: bounds the rows that wait to be sorted into the panel.
const COMPANIES_AT_ONCE: usize = 100;

impl Dataset {
    /// Everything.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn load_panel(&self) -> Result<Snapshot, StoreError> {
        let ids: Vec<String> = companies::table.select(companies::id).order_by(companies::id).load(&mut *self.reader()?)?;
        let waiting = Mutex::new(ids.chunks(COMPANIES_AT_ONCE));
        let threads = std::thread::available_parallelism().map_or(2, usize::from).min(4);
        let work = || {
            let mut c = self.reader()?;
            let mut parts: Vec<PanelPart> = Vec::new();
            loop {
                let next = waiting.lock().unwrap_or_else(std::sync::PoisonError::into_inner).next();
                let Some(ids) = next else { return Ok::<_, StoreError>(parts) };
                let mut builder = PanelBuilder::default();
                read_companies(&mut c, ids, &mut builder)?;
                parts.push(builder.build_part());
            }
        };
        let parts = std::thread::scope(|s| {
            let all: Vec<_> = (0..threads).map(|_| s.spawn(work)).collect();
            let ended = || StoreError::Damaged { what: "reading the dataset ended early".to_owned() };
            all.into_iter().map(|t| t.join().unwrap_or_else(|_| Err(ended()))).collect::<Result<Vec<_>, _>>()
        })?;
        let mut shared = PanelBuilder::default();
        read_shared(&mut *self.reader()?, &mut shared)?;
        Ok(shared.join(parts.into_iter().flatten()))
    }

    /// A builder with these companies as they are now, and with what belongs to no company when asked for.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn load_changed(&self, companies: &[String], market: bool) -> Result<PanelBuilder, StoreError> {
        let mut builder = PanelBuilder::default();
        let mut c = self.reader()?;
        companies.chunks(COMPANIES_A_QUERY).try_for_each(|ids| read_companies(&mut c, ids, &mut builder))?;
        if market {
            read_shared(&mut c, &mut builder)?;
        }
        Ok(builder)
    }
}

/// All rows of some companies but the annotations.
fn read_companies(c: &mut SqliteConnection, ids: &[String], builder: &mut PanelBuilder) -> Result<(), StoreError> {
    let symbols: Vec<String> = listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(c)?;
    let only = Some(Chosen { companies: ids, symbols: &symbols });
    for &table in Table::ALL.iter().filter(|t| !is_shared(**t) && !matches!(t, Table::Prices | Table::Annotations)) {
        rows::read(c, table, only, &mut pushing(builder))?;
    }
    prices::read_columns(c, only, |symbol, columns| builder.push_bars(symbol, columns))
}

/// What belongs to no company.
fn read_shared(c: &mut SqliteConnection, builder: &mut PanelBuilder) -> Result<(), StoreError> {
    for &table in Table::ALL.iter().filter(|t| is_shared(**t)) {
        rows::read(c, table, None, &mut pushing(builder))?;
    }
    life::read_market_news(c, &mut pushing(builder))
}

/// Pushes every row.
fn pushing(builder: &mut PanelBuilder) -> impl FnMut(Record) -> Result<(), StoreError> + '_ {
    |record| {
        builder.push(record);
        Ok(())
    }
}

//! The whole dataset, or some companies of it, into a panel: some companies at a time, on all cores.

use super::{
    Dataset, is_shared,
    rows::{self, Chosen, life, prices},
    schema::{companies, listings},
};
use crate::StoreError;
use artemon_core::{
    domain::{Record, Table},
    panel::{Changes, PanelBuilder, PanelPart, Snapshot},
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
        let parts = self.load_parts(&ids, With::Bars)?;
        Ok(self.load_market()?.join(parts))
    }

    /// Some companies as they are now: those of `anew` whole, of `facts` all but their bars; and what belongs to no company when
    /// asked for.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn load_changed(&self, anew: &[String], facts: &[String], market: bool) -> Result<Changes, StoreError> {
        Ok(Changes {
            companies: self.load_parts(anew, With::Bars)?,
            facts: self.load_parts(facts, With::FactsAlone)?,
            market: market.then(|| self.load_market()).transpose()?,
            ..Changes::default()
        })
    }

    fn load_parts(&self, ids: &[String], with: With) -> Result<Vec<PanelPart>, StoreError> {
        let waiting = Mutex::new(ids.chunks(COMPANIES_AT_ONCE));
        let threads = std::thread::available_parallelism().map_or(2, usize::from).min(4).min(ids.len().div_ceil(COMPANIES_AT_ONCE));
        let work = || {
            let mut c = self.reader()?;
            let mut parts: Vec<PanelPart> = Vec::new();
            loop {
                let next = waiting.lock().unwrap_or_else(std::sync::PoisonError::into_inner).next();
                let Some(ids) = next else { return Ok::<_, StoreError>(parts) };
                let mut builder = PanelBuilder::default();
                read_companies(&mut c, ids, with, &mut builder)?;
                parts.push(builder.build_part());
            }
        };
        let parts = std::thread::scope(|s| {
            let all: Vec<_> = (0..threads).map(|_| s.spawn(work)).collect();
            let ended = || StoreError::Damaged { what: "reading the dataset ended early".to_owned() };
            all.into_iter().map(|t| t.join().unwrap_or_else(|_| Err(ended()))).collect::<Result<Vec<_>, _>>()
        })?;
        Ok(parts.into_iter().flatten().collect())
    }

    /// With what belongs to no company.
    fn load_market(&self) -> Result<PanelBuilder, StoreError> {
        let mut builder = PanelBuilder::default();
        read_shared(&mut *self.reader()?, &mut builder)?;
        Ok(builder)
    }
}

/// What is read of companies.
#[derive(Clone, Copy, PartialEq, Eq)]
enum With {
    Bars,
    FactsAlone,
}

/// All rows of some companies but the annotations.
fn read_companies(c: &mut SqliteConnection, ids: &[String], with: With, builder: &mut PanelBuilder) -> Result<(), StoreError> {
    let symbols: Vec<String> = listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(c)?;
    let only = Some(Chosen { companies: ids, symbols: &symbols });
    for &table in Table::ALL.iter().filter(|t| !is_shared(**t) && !matches!(t, Table::Prices | Table::Annotations)) {
        rows::read(c, table, only, &mut pushing(builder))?;
    }
    if with == With::FactsAlone {
        return Ok(());
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

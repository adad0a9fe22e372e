//! Writes rows inside one transaction, each by a prepared statement of its table.

use super::{checksums::Written, digest::owner};
use crate::{
    StoreError,
    dataset::rows::{companies, indexes, life, market, people, prices::PriceWriter, statements},
    dataset::schema::settings,
};
use artemon_core::domain::{
    Action, Annotation, Bar, Company, Estimate, Event, FxRate, Index, IndexLevel, IndexMember, InsiderTrade, Listing, News, Officer,
    Ownership, Rate, Record, Statement, Table,
};
use diesel::{prelude::*, sqlite::SqliteConnection};
use std::sync::Arc;

/// Rows written at once.
const ROWS_AT_ONCE: usize = 500;
/// Bars gathered before their chunks are written: bounds the memory of an import.
const BARS_GATHERED: usize = 1_000_000;

/// Rows of one table that wait to be written together: the statement of a table stays warm.
struct Waiting<T> {
    rows: Vec<T>,
    write: fn(&mut SqliteConnection, &[T]) -> QueryResult<()>,
}

impl<T> Waiting<T> {
    const fn new(write: fn(&mut SqliteConnection, &[T]) -> QueryResult<()>) -> Waiting<T> {
        Waiting { rows: Vec::new(), write }
    }

    fn put(&mut self, c: &mut SqliteConnection, row: T) -> Result<(), StoreError> {
        self.rows.push(row);
        if self.rows.len() >= ROWS_AT_ONCE { self.flush(c) } else { Ok(()) }
    }

    fn flush(&mut self, c: &mut SqliteConnection) -> Result<(), StoreError> {
        if !self.rows.is_empty() {
            (self.write)(c, &self.rows)?;
            self.rows.clear();
        }
        Ok(())
    }
}

macro_rules! batch {
    ($($field:ident: $row:ty = $write:path),+ $(,)?) => {
        /// Rows on their way into the store.
        pub struct Batch<'c> {
            c: &'c mut SqliteConnection,
            written: Written,
            prices: PriceWriter,
            $($field: Waiting<$row>),+
        }

        impl<'c> Batch<'c> {
            pub(super) fn new(c: &'c mut SqliteConnection, written: Written) -> Batch<'c> {
                Batch { c, written, prices: PriceWriter::default(), $($field: Waiting::new($write)),+ }
            }

            /// Writes all that wait, and what the rows add up to.
            pub(super) fn end(mut self) -> Result<(), StoreError> {
                $(self.$field.flush(self.c)?;)+
                self.prices.flush(self.c)?;
                self.written.settle(self.c, self.prices.grown())
            }
        }
    };
}

batch! {
    companies: Company = companies::write,
    listings: Listing = companies::write_listings,
    statements: Statement = statements::write,
    actions: Action = market::write_actions,
    estimates: Estimate = people::write_estimates,
    trades: InsiderTrade = people::write_trades,
    ownership: Ownership = people::write_ownership,
    rates: Rate = market::write_rates,
    fx: FxRate = market::write_fx,
    officers: Officer = life::write_officers,
    events: Event = life::write_events,
    news: News = life::write_news,
    indexes: Index = indexes::write,
    members: IndexMember = indexes::write_members,
    levels: IndexLevel = indexes::write_levels,
    annotations: Annotation = life::write_annotations,
}

impl Batch<'_> {
    pub(super) const fn connection(&mut self) -> &mut SqliteConnection {
        self.c
    }

    /// Adds a row, replacing one of the same key.
    ///
    /// # Errors
    /// When the database refuses.
    pub fn put(&mut self, record: Record) -> Result<(), StoreError> {
        let c = &mut *self.c;
        match &record {
            Record::Listing(x) => self.written.note_listing(c, &x.symbol, &x.company_id)?,
            other => self.written.note(c, other.table(), owner(other))?,
        }
        match record {
            Record::Price { symbol, .. } if self.written.distrusts(&symbol) => Ok(()),
            Record::Price { symbol, bar } => {
                if self.prices.put(symbol, bar) < BARS_GATHERED {
                    Ok(())
                } else {
                    self.prices.flush(c)
                }
            }
            Record::Company(x) => self.companies.put(c, x),
            Record::Listing(x) => self.listings.put(c, x),
            Record::Statement(x) => self.statements.put(c, *x),
            Record::Action(x) => self.actions.put(c, x),
            Record::Estimate(x) => self.estimates.put(c, x),
            Record::InsiderTrade(x) => self.trades.put(c, *x),
            Record::Ownership(x) => self.ownership.put(c, x),
            Record::Rate(x) => self.rates.put(c, x),
            Record::Fx(x) => self.fx.put(c, x),
            Record::Officer(x) => self.officers.put(c, x),
            Record::Event(x) => self.events.put(c, x),
            Record::News(x) => self.news.put(c, *x),
            Record::Index(x) => self.indexes.put(c, x),
            Record::IndexMember(x) => self.members.put(c, x),
            Record::IndexLevel(x) => self.levels.put(c, x),
            Record::Annotation(x) => self.annotations.put(c, *x),
        }
    }

    /// Adds bars of one listing and calendar year.
    ///
    /// # Errors
    /// When the database refuses.
    pub fn put_bars(&mut self, symbol: Arc<str>, bars: Vec<Bar>) -> Result<(), StoreError> {
        self.written.note(self.c, Table::Prices, &symbol)?;
        if self.written.distrusts(&symbol) {
            return Ok(());
        }
        self.prices.put_many(self.c, symbol, bars)
    }

    /// Sets a setting of the dataset.
    ///
    /// # Errors
    /// When the database refuses.
    pub fn set(&mut self, key: &str, value: &str) -> Result<(), StoreError> {
        let row = (settings::key.eq(key), settings::value.eq(value));
        diesel::replace_into(settings::table).values(row).execute(self.c)?;
        Ok(())
    }
}

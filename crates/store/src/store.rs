//! Opening, writing in one transaction, reading everything.

use crate::{
    StoreError,
    rows::{self, companies, market, people, prices, statements},
    schema::{companies as companies_table, listings as listings_table, settings},
};
use artemon_core::domain::{Action, Bar, Company, Estimate, FxRate, InsiderTrade, Listing, Ownership, Rate, Record, Statement};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    r2d2::{ConnectionManager, CustomizeConnection, Pool},
    sqlite::SqliteConnection,
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::{
    collections::HashSet,
    path::{Path, PathBuf},
    sync::Arc,
};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Readers that may be open at once.
const POOL: u32 = 4;
/// Rows written by one statement.
const ROWS_A_STATEMENT: usize = 500;
/// Bars gathered before their chunks are written: bounds the memory of an import.
const BARS_GATHERED: usize = 1_000_000;

/// The dataset on disk.
#[derive(Clone)]
pub struct Store {
    path: PathBuf,
    pool: Pool<ConnectionManager<SqliteConnection>>,
}

impl std::fmt::Debug for Store {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Store").field("path", &self.path).finish_non_exhaustive()
    }
}

/// The keys that rows of an import may refer to.
#[derive(Clone, Debug, Default)]
pub struct Keys {
    /// Company ids.
    pub companies: HashSet<Arc<str>>,
    /// Symbols.
    pub symbols: HashSet<Arc<str>>,
}

#[derive(Debug)]
struct Pragmas;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Pragmas {
    fn on_acquire(&self, c: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        // busy_timeout first: switching to WAL needs a lock
        c.batch_execute("PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; PRAGMA foreign_keys = ON;")
            .map_err(diesel::r2d2::Error::QueryError)
    }
}

impl Store {
    /// Opens the dataset in a folder, creating and migrating it as needed.
    ///
    /// # Errors
    /// When the file is no database, is damaged, or is locked.
    pub fn open(folder: &Path) -> Result<Store, StoreError> {
        let path = folder.join("artemon.sqlite");
        let corrupt = |problem: String| StoreError::Corrupt { path: path.clone(), problem };
        check_file(&path).map_err(corrupt)?;
        let manager = ConnectionManager::new(path.to_string_lossy());
        let pool = Pool::builder()
            .max_size(POOL)
            .min_idle(Some(1))
            .connection_timeout(std::time::Duration::from_secs(8))
            .connection_customizer(Box::new(Pragmas))
            .build(manager)
            .map_err(|e| corrupt(e.to_string()))?;
        let store = Store { path: path.clone(), pool };
        let mut c = store.connection()?;
        c.run_pending_migrations(MIGRATIONS).map_err(|e| corrupt(e.to_string()))?;
        Ok(store)
    }

    fn connection(&self) -> Result<diesel::r2d2::PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        self.pool.get().map_err(|e| StoreError::Corrupt { path: self.path.clone(), problem: e.to_string() })
    }

    /// Runs `work` in one transaction: all of its rows land, or none.
    ///
    /// # Errors
    /// Those of `work`, and the store's own.
    pub fn write<T, E: From<StoreError>>(&self, work: impl FnOnce(&mut Batch<'_>) -> Result<T, E>) -> Result<T, E> {
        let mut c = self.connection()?;
        let mut outcome = None;
        let committed = c.immediate_transaction::<(), diesel::result::Error, _>(|c| {
            let mut batch = Batch::new(c);
            let done = work(&mut batch).and_then(|t| batch.flush().map(|()| t).map_err(E::from));
            let failed = done.is_err();
            outcome = Some(done);
            if failed { Err(diesel::result::Error::RollbackTransaction) } else { Ok(()) }
        });
        match (outcome, committed) {
            (Some(Err(e)), _) => Err(e),
            (Some(Ok(t)), Ok(())) => Ok(t),
            (_, Err(e)) => Err(StoreError::from(e).into()),
            (None, Ok(())) => Err(StoreError::Damaged { what: "a transaction without work".to_owned() }.into()),
        }
    }

    /// Gives every row of the dataset to `sink`, table by table, in the order of their keys.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn read(&self, mut sink: impl FnMut(Record)) -> Result<(), StoreError> {
        let mut c = self.connection()?;
        let sink: &mut rows::Sink<'_> = &mut sink;
        companies::read(&mut c, sink)?;
        statements::read(&mut c, sink)?;
        prices::read(&mut c, sink)?;
        market::read_actions(&mut c, sink)?;
        people::read(&mut c, sink)?;
        market::read(&mut c, sink)
    }

    /// The keys in the dataset.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn keys(&self) -> Result<Keys, StoreError> {
        let mut c = self.connection()?;
        let companies: Vec<String> = companies_table::table.select(companies_table::id).load(&mut c)?;
        let symbols: Vec<String> = listings_table::table.select(listings_table::symbol).load(&mut c)?;
        let shared = |v: Vec<String>| v.into_iter().map(Arc::from).collect();
        Ok(Keys { companies: shared(companies), symbols: shared(symbols) })
    }

    /// A setting of the dataset.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn setting(&self, key: &str) -> Result<Option<String>, StoreError> {
        let mut c = self.connection()?;
        Ok(settings::table.find(key).select(settings::value).first(&mut c).optional()?)
    }
}

/// A file that is there must begin as SQLite databases do; an empty one is new.
fn check_file(path: &Path) -> Result<(), String> {
    use std::io::Read;
    let Ok(mut file) = std::fs::File::open(path) else { return Ok(()) };
    let mut head = [0u8; 16];
    match file.read(&mut head) {
        Ok(0) => Ok(()),
        Ok(_) if head == *b"SQLite format 3\0" => Ok(()),
        Ok(_) => Err("it is not an Artemon database".to_owned()),
        Err(e) => Err(e.to_string()),
    }
}

/// Gathers rows and writes them in batches, inside the transaction.
pub struct Batch<'c> {
    c: &'c mut SqliteConnection,
    companies: Vec<Company>,
    listings: Vec<Listing>,
    statements: Vec<Statement>,
    bars: Vec<(Arc<str>, Bar)>,
    actions: Vec<Action>,
    estimates: Vec<Estimate>,
    trades: Vec<InsiderTrade>,
    ownership: Vec<Ownership>,
    rates: Vec<Rate>,
    fx: Vec<FxRate>,
}

impl<'c> Batch<'c> {
    fn new(c: &'c mut SqliteConnection) -> Batch<'c> {
        Batch {
            c,
            companies: vec![],
            listings: vec![],
            statements: vec![],
            bars: vec![],
            actions: vec![],
            estimates: vec![],
            trades: vec![],
            ownership: vec![],
            rates: vec![],
            fx: vec![],
        }
    }

    /// Adds a row, replacing one of the same key.
    ///
    /// # Errors
    /// When the database refuses.
    pub fn put(&mut self, record: Record) -> Result<(), StoreError> {
        let c = &mut *self.c;
        match record {
            Record::Company(x) => gather(c, &mut self.companies, x, companies::write),
            Record::Listing(x) => gather(c, &mut self.listings, x, companies::write_listings),
            Record::Statement(x) => gather(c, &mut self.statements, *x, statements::write),
            Record::Action(x) => gather(c, &mut self.actions, x, market::write_actions),
            Record::Estimate(x) => gather(c, &mut self.estimates, x, people::write_estimates),
            Record::InsiderTrade(x) => gather(c, &mut self.trades, *x, people::write_trades),
            Record::Ownership(x) => gather(c, &mut self.ownership, x, people::write_ownership),
            Record::Rate(x) => gather(c, &mut self.rates, x, market::write_rates),
            Record::Fx(x) => gather(c, &mut self.fx, x, market::write_fx),
            Record::Price { symbol, bar } => {
                self.bars.push((symbol, bar));
                if self.bars.len() < BARS_GATHERED { Ok(()) } else { prices::write(c, std::mem::take(&mut self.bars)) }
            }
        }
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

    fn flush(&mut self) -> Result<(), StoreError> {
        let c = &mut *self.c;
        companies::write(c, &self.companies)?;
        companies::write_listings(c, &self.listings)?;
        statements::write(c, &self.statements)?;
        prices::write(c, std::mem::take(&mut self.bars))?;
        market::write_actions(c, &self.actions)?;
        people::write_estimates(c, &self.estimates)?;
        people::write_trades(c, &self.trades)?;
        people::write_ownership(c, &self.ownership)?;
        market::write_rates(c, &self.rates)?;
        market::write_fx(c, &self.fx)?;
        Ok(())
    }
}

fn gather<T>(
    c: &mut SqliteConnection,
    rows: &mut Vec<T>,
    row: T,
    write: fn(&mut SqliteConnection, &[T]) -> QueryResult<()>,
) -> Result<(), StoreError> {
    rows.push(row);
    if rows.len() >= ROWS_A_STATEMENT {
        write(c, rows)?;
        rows.clear();
    }
    Ok(())
}

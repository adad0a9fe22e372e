//! Opening, writing in one transaction, reading everything.

use crate::{
    Batch, StoreError,
    rows::{self, Chosen, Sink},
    schema::{companies, indexes, listings, settings},
};
use artemon_core::domain::{Record, Table};
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
/// Companies that one query asks for.
pub(crate) const COMPANIES_A_QUERY: usize = 400;

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
    /// Index ids.
    pub indexes: HashSet<Arc<str>>,
}

/// Which part of the dataset to read.
#[derive(Clone, Debug, Default)]
pub struct Selection {
    /// Only these tables, in the order of the dataset.
    pub tables: Option<Vec<Table>>,
    /// Only these companies; tables that belong to no company are left out then.
    pub companies: Option<Vec<String>>,
}

#[derive(Debug)]
struct Pragmas;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Pragmas {
    fn on_acquire(&self, c: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        // The page size takes effect on a new file only; busy_timeout before WAL, which needs a lock.
        c.batch_execute(
            "PRAGMA page_size = 16384; PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; \
             PRAGMA foreign_keys = OFF; PRAGMA cache_size = -64000;",
        )
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
        check_layout(&mut c).map_err(corrupt)?;
        c.run_pending_migrations(MIGRATIONS).map_err(|e| corrupt(e.to_string()))?;
        Store::drop_forgotten(&mut c)?;
        Ok(store)
    }

    pub(crate) fn connection(&self) -> Result<diesel::r2d2::PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        self.pool.get().map_err(|e| StoreError::Corrupt { path: self.path.clone(), problem: e.to_string() })
    }

    /// Runs `work` in one transaction: all of its rows land, or none. References are not checked again here: whoever
    /// writes has checked them, since a bad one is to be reported with its file and line.
    ///
    /// # Errors
    /// Those of `work`, and the store's own.
    pub fn write<T, E: From<StoreError>>(&self, work: impl FnOnce(&mut Batch<'_>) -> Result<T, E>) -> Result<T, E> {
        let mut c = self.connection()?;
        c.batch_execute("PRAGMA foreign_keys = OFF").map_err(StoreError::from)?;
        let mut outcome = None;
        let committed = c.immediate_transaction::<(), diesel::result::Error, _>(|c| {
            let mut batch = Batch::new(c);
            let done = work(&mut batch).and_then(|t| batch.flush().map(|()| t).map_err(E::from));
            let failed = done.is_err();
            outcome = Some(done);
            if failed { Err(diesel::result::Error::RollbackTransaction) } else { Ok(()) }
        });
        c.batch_execute("PRAGMA foreign_keys = ON").map_err(StoreError::from)?;
        match (outcome, committed) {
            (Some(Err(e)), _) => Err(e),
            (Some(Ok(t)), Ok(())) => Ok(t),
            (_, Err(e)) => Err(StoreError::from(e).into()),
            (None, Ok(())) => Err(StoreError::Damaged { what: "a transaction without work".to_owned() }.into()),
        }
    }

    /// Gives the rows of a selection to `sink`, table by table, in the order of their keys.
    ///
    /// # Errors
    /// When a row or chunk is damaged.
    pub fn read(&self, selection: &Selection, mut sink: impl FnMut(Record)) -> Result<(), StoreError> {
        let mut c = self.connection()?;
        for &table in Table::ALL {
            if selection.tables.as_ref().is_some_and(|t| !t.contains(&table)) {
                continue;
            }
            match &selection.companies {
                None => rows::read(&mut c, table, None, &mut sink)?,
                Some(_) if is_shared(table) => {}
                Some(ids) => ids.chunks(COMPANIES_A_QUERY).try_for_each(|ids| read_some(&mut c, table, ids, &mut sink))?,
            }
        }
        Ok(())
    }

    /// The keys in the dataset.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn keys(&self) -> Result<Keys, StoreError> {
        let mut c = self.connection()?;
        let shared = |v: Vec<String>| v.into_iter().map(Arc::from).collect();
        Ok(Keys {
            companies: shared(companies::table.select(companies::id).load(&mut c)?),
            symbols: shared(listings::table.select(listings::symbol).load(&mut c)?),
            indexes: shared(indexes::table.select(indexes::id).load(&mut c)?),
        })
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

/// Whether a table belongs to no company.
pub(crate) const fn is_shared(table: Table) -> bool {
    matches!(table, Table::Rates | Table::Fx | Table::Indexes | Table::IndexMembers | Table::IndexLevels)
}

fn read_some(c: &mut SqliteConnection, table: Table, ids: &[String], sink: &mut Sink<'_>) -> Result<(), StoreError> {
    let symbols: Vec<String> = listings::table.filter(listings::company_id.eq_any(ids)).select(listings::symbol).load(c)?;
    rows::read(c, table, Some(Chosen { companies: ids, symbols: &symbols }), sink)
}

/// Filings were once kept in other tables, before the first release.
fn check_layout(c: &mut SqliteConnection) -> Result<(), String> {
    match c.batch_execute("SELECT items FROM statements LIMIT 0") {
        Err(e) if e.to_string().contains("no such column") => {
            Err("it was made by a trial version of Artemon; export it with that version and import it into a new folder".to_owned())
        }
        _ => Ok(()),
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

//! The dataset: what was imported, and what became of each import.
//!
//! Daily bars are stored as columnar chunks, everything else as ordinary tables.

mod aside;
mod bars;
mod batch;
mod checksums;
mod digest;
mod gauges;
mod imports;
mod items;
mod load_panel;
mod rows;
mod schema;
mod sound;

pub use aside::SetAside;
pub use batch::Batch;
pub use imports::{KeptImport, NewImport};

use crate::{
    StoreError,
    db::{self, Db, Reader, Sort},
    files::{self, DATASET},
    legacy,
};
use artemon_core::domain::Table;
use checksums::Written;
use diesel::{connection::SimpleConnection, prelude::*, sqlite::SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, embed_migrations};
use schema::{companies, indexes, listings, settings};
use std::{
    collections::HashSet,
    path::Path,
    sync::{Arc, Mutex, MutexGuard},
};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations/dataset");
pub(crate) const SORT: Sort = Sort {
    file: DATASET,
    application: 0x4152_4431,
    known_by: "companies",
    migrations: || MIGRATIONS,
    cache: 64_000,
    // Imports wait for the disk themselves; what is kept besides can be made again.
    synchronous: "NORMAL",
};
/// Companies that one query asks for.
const COMPANIES_A_QUERY: usize = 400;

/// The dataset on disk, and what of it is set aside because it is damaged.
#[derive(Clone, Debug)]
pub struct Dataset(Db, Arc<Mutex<Vec<SetAside>>>);

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

impl Dataset {
    /// Opens the dataset of a folder, making an empty one when there is none. A folder of an older version is brought up to
    /// date: what belongs to persons moves to its own file.
    ///
    /// # Errors
    /// When the folder cannot be used, or the database is damaged, foreign or of a newer version.
    pub fn open(folder: &Path) -> Result<Dataset, StoreError> {
        files::own_folder(folder)?;
        legacy::part(folder)?;
        let db = Db::open(folder, &SORT)?;
        if !db::is_summed(&mut db.writer())? {
            checksums::make(&mut db.writer())?;
        }
        Ok(Dataset(db, Arc::default()))
    }

    /// Opens the dataset of a folder to read it, perhaps beside a program that writes it.
    ///
    /// # Errors
    /// As [`Dataset::open`]; when it must be brought up to date first.
    pub fn open_to_read(folder: &Path) -> Result<Dataset, StoreError> {
        if !folder.join(DATASET).is_file() && files::has_dataset(folder) {
            return Err(StoreError::Older { path: folder.join(files::LEGACY) });
        }
        Ok(Dataset(Db::open_to_read(folder, &SORT)?, Arc::default()))
    }

    fn reader(&self) -> Result<Reader, StoreError> {
        self.0.reader()
    }

    fn writer(&self) -> MutexGuard<'_, SqliteConnection> {
        self.0.writer()
    }

    /// Runs `work` in one transaction: all of its rows land, or none. References are not checked again here: whoever
    /// writes has checked them, since a bad one is to be reported with its file and line. What is damaged stays so.
    ///
    /// # Errors
    /// Those of `work`, and the store's own.
    pub fn write<T, E: From<StoreError>>(&self, work: impl FnOnce(&mut Batch<'_>) -> Result<T, E>) -> Result<T, E> {
        self.written(false, work)
    }

    /// As [`Dataset::write`]; rows of whom something is damaged replace all that was there.
    ///
    /// # Errors
    /// As [`Dataset::write`].
    pub fn write_anew<T, E: From<StoreError>>(&self, work: impl FnOnce(&mut Batch<'_>) -> Result<T, E>) -> Result<T, E> {
        self.written(true, work)
    }

    fn written<T, E: From<StoreError>>(&self, heals: bool, work: impl FnOnce(&mut Batch<'_>) -> Result<T, E>) -> Result<T, E> {
        let written = Written::new(&self.set_aside(), heals);
        let mut c = self.writer();
        let c = Unchecked::of(&mut c)?;
        let mut outcome = None;
        let committed = c.0.immediate_transaction::<(), diesel::result::Error, _>(|c| {
            let mut batch = Batch::new(c, written);
            let done = work(&mut batch).and_then(|t| batch.end().map(|()| t).map_err(E::from));
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

    /// The keys in the dataset.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn keys(&self) -> Result<Keys, StoreError> {
        let mut c = self.reader()?;
        let shared = |v: Vec<String>| v.into_iter().map(Arc::from).collect();
        Ok(Keys {
            companies: shared(companies::table.select(companies::id).load(&mut c)?),
            symbols: shared(listings::table.select(listings::symbol).load(&mut c)?),
            indexes: shared(indexes::table.select(indexes::id).load(&mut c)?),
        })
    }

    /// Whether there is no company in it.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn is_empty(&self) -> Result<bool, StoreError> {
        let first = companies::table.select(companies::id).limit(1).first::<String>(&mut *self.reader()?).optional()?;
        Ok(first.is_none())
    }

    /// The ids of companies by symbol, ISIN or id, in the order asked for; none where there is no such company.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn find_companies(&self, keys: &[String]) -> Result<Vec<Option<String>>, StoreError> {
        let mut c = self.reader()?;
        let mut find = |key: &String| {
            let wanted = key.trim().to_uppercase();
            let listed = listings::table.filter(listings::symbol.eq(&wanted).or(listings::isin.eq(&wanted)));
            let by_listing =
                listed.order_by(listings::is_primary.desc()).select(listings::company_id).first::<String>(&mut *c).optional()?;
            let mut by_id = || companies::table.find(key.trim()).select(companies::id).first::<String>(&mut *c).optional();
            Ok(match by_listing {
                Some(id) => Some(id),
                None => by_id()?,
            })
        };
        keys.iter().map(&mut find).collect()
    }

    /// A setting of the dataset.
    ///
    /// # Errors
    /// When the database cannot be read.
    pub fn setting(&self, key: &str) -> Result<Option<String>, StoreError> {
        let mut c = self.reader()?;
        Ok(settings::table.find(key).select(settings::value).first(&mut c).optional()?)
    }
}

/// Whether a table belongs to no company.
const fn is_shared(table: Table) -> bool {
    matches!(table, Table::Rates | Table::Fx | Table::Indexes | Table::IndexMembers | Table::IndexLevels)
}

/// Whether the rows of a table belong to a listing.
const fn is_by_symbol(table: Table) -> bool {
    matches!(table, Table::Prices | Table::Actions)
}

/// A writer that does not check references while it lives: whoever writes has checked them. What it commits is on the disk.
struct Unchecked<'c>(&'c mut SqliteConnection);

impl Unchecked<'_> {
    fn of(c: &mut SqliteConnection) -> Result<Unchecked<'_>, StoreError> {
        c.batch_execute("PRAGMA foreign_keys = OFF; PRAGMA synchronous = FULL;").map_err(StoreError::from)?;
        Ok(Unchecked(c))
    }
}

impl Drop for Unchecked<'_> {
    fn drop(&mut self) {
        // Outside of a transaction, as here, it cannot be refused.
        self.0.batch_execute("PRAGMA foreign_keys = ON; PRAGMA synchronous = NORMAL;").ok();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use diesel::sql_types::Integer;

    #[derive(QueryableByName)]
    struct Pragma {
        #[diesel(sql_type = Integer)]
        foreign_keys: i32,
    }

    fn checks_references(c: &mut SqliteConnection) -> bool {
        diesel::sql_query("PRAGMA foreign_keys").get_result::<Pragma>(c).unwrap().foreign_keys == 1
    }

    /// Whichever connection one gets, references are checked; also one that was given back, and the writer after an import that
    /// had them off, whether it landed or not.
    #[test]
    fn every_connection_checks_references() {
        let folder = tempfile::tempdir().unwrap();
        let dataset = Dataset::open(folder.path()).unwrap();
        for _ in 0..2 {
            let mut held: Vec<Reader> = (0..3).map(|_| dataset.reader().unwrap()).collect();
            assert!(held.iter_mut().all(|c| checks_references(c)));
        }
        assert!(checks_references(&mut dataset.0.own_reader().unwrap()) && checks_references(&mut dataset.writer()));
        dataset.write::<(), StoreError>(|_| Ok(())).unwrap();
        assert!(checks_references(&mut dataset.writer()));
        dataset.write::<(), StoreError>(|_| Err(StoreError::BrokenOff)).unwrap_err();
        assert!(checks_references(&mut dataset.writer()));
    }
}

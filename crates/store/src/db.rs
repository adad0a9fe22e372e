//! A SQLite file in WAL mode: one writer, a pool of readers, and checks that it is ours before anything is written to it.
//!
//! Nothing but SQLite may open a file that is open here. On Unix its locks belong to the process, and closing any descriptor of the file
//! gives them all up (POSIX). To another program, a viewer say, the database then seems abandoned: it folds the log in and removes it,
//! and what is saved here afterwards is lost.

use crate::{StoreError, files};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    r2d2::{ConnectionManager, CustomizeConnection, Pool, PooledConnection},
    sql_types::{Integer, Text},
    sqlite::SqliteConnection,
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness};
use std::{
    collections::HashSet,
    path::{Path, PathBuf},
    sync::{Arc, Mutex, MutexGuard, PoisonError},
    time::Duration,
};

/// Readers that may be open at once.
const READERS: u32 = 6;
/// How long to wait for a reader.
const PATIENCE: Duration = Duration::from_secs(8);

/// What sort of database it is.
pub(crate) struct Sort {
    /// The file's name.
    pub(crate) file: &'static str,
    /// By which SQLite files of this sort are known (`PRAGMA application_id`).
    pub(crate) application: i32,
    /// A table that files of this sort had before they were marked so.
    pub(crate) known_by: &'static str,
    pub(crate) migrations: fn() -> EmbeddedMigrations,
    /// Kilobytes of pages that a connection keeps.
    pub(crate) cache: u32,
    /// Whether each commit waits for the disk (`PRAGMA synchronous`).
    pub(crate) synchronous: &'static str,
}

/// A database that is ours and not yet brought up to date.
pub(crate) struct Opening<'s> {
    pub(crate) c: SqliteConnection,
    path: PathBuf,
    sort: &'s Sort,
    state: State,
}

impl Opening<'_> {
    /// Whether there is something in it that must be brought up to date.
    pub(crate) fn is_older(&self) -> bool {
        self.state == State::Older
    }

    /// Brings it up to date.
    pub(crate) fn finish(self) -> Result<Db, StoreError> {
        let Opening { mut c, path, sort, state } = self;
        c.batch_execute(&format!("PRAGMA application_id = {};", sort.application))?;
        if state != State::Current {
            c.run_pending_migrations((sort.migrations)()).map_err(|e| corrupt(&path)(e.to_string()))?;
        }
        let address = address(&path);
        Db::with_writer(path, address, sort, c)
    }
}

/// An open database. Clones share it.
#[derive(Clone)]
pub(crate) struct Db {
    path: PathBuf,
    address: String,
    pragmas: String,
    writer: Arc<Mutex<SqliteConnection>>,
    readers: Pool<ConnectionManager<SqliteConnection>>,
}

pub(crate) type Reader = PooledConnection<ConnectionManager<SqliteConnection>>;

impl std::fmt::Debug for Db {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Db").field("path", &self.path).finish_non_exhaustive()
    }
}

impl Db {
    /// Opens the database of a folder, making it when there is none and bringing an older one up to date.
    pub(crate) fn open(folder: &Path, sort: &Sort) -> Result<Db, StoreError> {
        Db::opening(folder, sort)?.finish()
    }

    /// The same, with something to be done before it is brought up to date.
    pub(crate) fn opening<'s>(folder: &Path, sort: &'s Sort) -> Result<Opening<'s>, StoreError> {
        files::own_folder(folder)?;
        let path = folder.join(sort.file);
        files::own_file(&path).map_err(files::failed(folder))?;
        let mut c = connect(&path, &address(&path))?;
        let state = check(&mut c, &path, sort)?;
        c.batch_execute(&format!("{LAYOUT} {}", pragmas(sort))).map_err(unreadable(&path))?;
        Ok(Opening { c, path, sort, state })
    }

    /// Opens the database of a folder to read it, perhaps beside another program that writes it; nothing is changed.
    pub(crate) fn open_to_read(folder: &Path, sort: &Sort) -> Result<Db, StoreError> {
        let path = folder.join(sort.file);
        let (mut c, address, state) = looking(&path, sort)?;
        if state != State::Current || !is_summed(&mut c)? {
            return Err(StoreError::Older { path });
        }
        c.batch_execute(&pragmas(sort)).map_err(unreadable(&path))?;
        c.batch_execute(READ_ONLY)?;
        Db::with_writer(path, address, sort, c)
    }

    fn with_writer(path: PathBuf, address: String, sort: &Sort, writer: SqliteConnection) -> Result<Db, StoreError> {
        let pragmas = pragmas(sort);
        let readers = Pool::builder()
            .max_size(READERS)
            .min_idle(Some(0))
            .connection_timeout(PATIENCE)
            .connection_customizer(Box::new(Reading(pragmas.clone())))
            .build(ConnectionManager::new(&address))
            .map_err(|e| corrupt(&path)(e.to_string()))?;
        Ok(Db { path, address, pragmas, writer: Arc::new(Mutex::new(writer)), readers })
    }

    /// A reader of the pool.
    pub(crate) fn reader(&self) -> Result<Reader, StoreError> {
        self.readers.get().map_err(|_| StoreError::Busy)
    }

    /// A reader apart from the pool, for whoever may be slow.
    pub(crate) fn own_reader(&self) -> Result<SqliteConnection, StoreError> {
        let mut c = connect(&self.path, &self.address)?;
        c.batch_execute(&self.pragmas).map_err(unreadable(&self.path))?;
        c.batch_execute(READ_ONLY)?;
        Ok(c)
    }

    /// The writer: there is one, so that writers wait for one another here and not in SQLite.
    pub(crate) fn writer(&self) -> MutexGuard<'_, SqliteConnection> {
        self.writer.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// Reads as of one moment. It ends by going back, since nothing was written: after a page that cannot be read, SQLite would not
/// commit, and everything else that was read would be lost.
pub(crate) fn at_one_moment<T>(
    c: &mut SqliteConnection,
    read: impl FnOnce(&mut SqliteConnection) -> Result<T, StoreError>,
) -> Result<T, StoreError> {
    let mut outcome = None;
    let ended = c.transaction::<(), diesel::result::Error, _>(|c| {
        outcome = Some(read(c));
        Err(diesel::result::Error::RollbackTransaction)
    });
    // The way back may fail after damage, too; where nothing was read, the way in did.
    outcome.unwrap_or_else(|| Err(ended.err().map_or(StoreError::Busy, StoreError::from)))
}

#[derive(Debug)]
struct Reading(String);

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Reading {
    fn on_acquire(&self, c: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        c.batch_execute(&self.0).and_then(|()| c.batch_execute(READ_ONLY)).map_err(diesel::r2d2::Error::QueryError)
    }
}

const READ_ONLY: &str = "PRAGMA query_only = ON;";

/// What is kept in the file; the page size takes effect on a new one only.
const LAYOUT: &str = "PRAGMA page_size = 16384; PRAGMA journal_mode = WAL;";

fn pragmas(sort: &Sort) -> String {
    let Sort { cache, synchronous, .. } = sort;
    format!("PRAGMA busy_timeout = 5000; PRAGMA synchronous = {synchronous}; PRAGMA foreign_keys = ON; PRAGMA cache_size = -{cache};")
}

fn address(path: &Path) -> String {
    path.display().to_string()
}

/// A connection that has changed nothing yet.
fn connect(path: &Path, address: &str) -> Result<SqliteConnection, StoreError> {
    let mut c = SqliteConnection::establish(address).map_err(|e| corrupt(path)(e.to_string()))?;
    c.batch_execute("PRAGMA busy_timeout = 5000;")?;
    Ok(c)
}

/// A connection to look at a file that is there, its address, and how it stands to this version. SQLite wants to write beside what
/// it reads; where that is not possible, and no other program can be writing either, the file is read as one that never changes.
fn looking(path: &Path, sort: &Sort) -> Result<(SqliteConnection, String, State), StoreError> {
    let look = |address: String| {
        let mut c = connect(path, &address)?;
        let state = check(&mut c, path, sort)?;
        Ok((c, address, state))
    };
    let waits = || files::beside(path, "-wal").metadata().is_ok_and(|m| m.len() > 0);
    match look(address(path)) {
        Err(StoreError::ReadOnly) if !waits() => {
            let escaped = address(path).replace('%', "%25").replace('?', "%3f").replace('#', "%23");
            look(format!("file:{escaped}?immutable=1"))
        }
        looked => looked,
    }
}

/// What keeps a file from being read, in words.
fn unreadable(path: &Path) -> impl Fn(diesel::result::Error) -> StoreError {
    let path = path.to_owned();
    move |e| match StoreError::from(e) {
        StoreError::Query(e) => corrupt(&path)(e.to_string()),
        StoreError::Damaged { what } => corrupt(&path)(what),
        other => other,
    }
}

fn corrupt(path: &Path) -> impl Fn(String) -> StoreError {
    let path = path.to_owned();
    move |problem| StoreError::Corrupt { path: path.clone(), problem }
}

#[derive(QueryableByName)]
struct Number {
    #[diesel(sql_type = Integer)]
    application_id: i32,
}

#[derive(QueryableByName)]
struct Name {
    #[diesel(sql_type = Text)]
    name: String,
}

fn names(c: &mut SqliteConnection, query: &str) -> QueryResult<HashSet<String>> {
    Ok(diesel::sql_query(query).load::<Name>(c)?.into_iter().map(|n| n.name).collect())
}

/// Opens a file as it is, to look at it or to copy it.
pub(crate) fn to_look_at(path: &Path, sort: &Sort) -> Result<SqliteConnection, StoreError> {
    let missing = || std::io::Error::from(std::io::ErrorKind::NotFound);
    if !path.is_file() {
        return Err(files::failed(path)(missing()));
    }
    let (c, _, state) = looking(path, sort)?;
    // One without anything in it is none of ours either.
    if state == State::New { Err(StoreError::Foreign { path: path.to_owned() }) } else { Ok(c) }
}

/// How a file stands to this version.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum State {
    New,
    Older,
    Current,
}

/// Refuses a file that is not ours or of a newer version, without touching it.
fn check(c: &mut SqliteConnection, path: &Path, sort: &Sort) -> Result<State, StoreError> {
    let bad = |e: diesel::result::Error| match e.to_string() {
        text if text.contains("not a database") && !begins_as_database(path) => StoreError::Foreign { path: path.to_owned() },
        _ => unreadable(path)(e),
    };
    let application = diesel::sql_query("PRAGMA application_id").get_result::<Number>(c).map_err(&bad)?.application_id;
    let tables = names(c, "SELECT name FROM sqlite_master WHERE type = 'table'").map_err(&bad)?;
    let ours = application == sort.application || application == 0 && (tables.is_empty() || tables.contains(sort.known_by));
    let applied = if tables.contains("__diesel_schema_migrations") {
        names(c, "SELECT version AS name FROM __diesel_schema_migrations").map_err(&bad)?
    } else {
        HashSet::new()
    };
    if !ours || (applied.is_empty() && !tables.is_empty()) {
        return Err(StoreError::Foreign { path: path.to_owned() });
    }
    let known = known_versions(sort).map_err(corrupt(path))?;
    if !applied.is_subset(&known) {
        return Err(StoreError::Newer { path: path.to_owned() });
    }
    Ok(match applied.len() {
        0 => State::New,
        some if some < known.len() => State::Older,
        _ => State::Current,
    })
}

#[derive(QueryableByName)]
struct Layouts {
    #[diesel(sql_type = Integer)]
    summed: i32,
    #[diesel(sql_type = Integer)]
    now: i32,
}

/// Whether checksums were kept of the layout as it is now: they are made anew after each migration, and a program that is killed in
/// between makes them at its next start.
pub(crate) fn is_summed(c: &mut SqliteConnection) -> QueryResult<bool> {
    layouts(c).map(|of| of.summed == of.now)
}

/// Marks that checksums are those of the layout as it is now.
pub(crate) fn mark_summed(c: &mut SqliteConnection) -> QueryResult<()> {
    let now = layouts(c)?.now;
    c.batch_execute(&format!("PRAGMA user_version = {now};"))
}

fn layouts(c: &mut SqliteConnection) -> QueryResult<Layouts> {
    let both = "SELECT user_version AS summed, (SELECT count(*) FROM __diesel_schema_migrations) AS now FROM pragma_user_version";
    diesel::sql_query(both).get_result(c)
}

fn known_versions(sort: &Sort) -> Result<HashSet<String>, String> {
    use diesel::migration::MigrationSource;
    let all = MigrationSource::<diesel::sqlite::Sqlite>::migrations(&(sort.migrations)()).map_err(|e| e.to_string())?;
    Ok(all.iter().map(|m| m.name().version().as_owned().to_string()).collect())
}

/// Whether a file that SQLite does not know as a database begins like one: then it is damaged, and of something else where it does not.
fn begins_as_database(path: &Path) -> bool {
    use std::io::Read;
    let mut head = [0u8; 16];
    std::fs::File::open(path).and_then(|mut file| file.read_exact(&mut head)).is_ok() && head == *b"SQLite format 3\0"
}

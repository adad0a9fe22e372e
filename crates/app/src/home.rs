//! An open data folder: its two databases, the current dataset, what runs in the background.

use crate::{
    AppError,
    backtests::Workshop,
    dataset::{
        import::forget_uploads,
        opened::{self, Opened},
    },
    jobs::Jobs,
    ledger::OwnLedger,
    people::Attempts,
    ports::{Clock, Feed, SystemClock},
    settings::{self, OwnSettings},
};
use arc_swap::ArcSwap;
use artemon_core::domain::Currency;
use artemon_store::{Dataset, FolderLock, People, PersonId, has_dataset};
use std::{
    collections::HashMap,
    path::{Path, PathBuf},
    sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError, TryLockError},
    time::{Duration, Instant},
};
use tokio::sync::watch;

/// How long open pages ask anew once other data has come.
const ASKING: Duration = Duration::from_secs(3);

/// How to open a data folder.
#[derive(Clone, Debug, Default)]
pub struct Options {
    /// The folder.
    pub folder: PathBuf,
    /// Base currency, instead of the dataset's own.
    pub base: Option<Currency>,
    /// How many bytes the browser may bring at once, instead of [`UPLOAD_BYTES`](crate::UPLOAD_BYTES).
    pub upload_bytes: Option<u64>,
    /// How many daily copies of what is one's own are kept, instead of [`DAILY`](crate::DAILY).
    pub daily_copies: Option<usize>,
    /// Whether several people use it, each signed in.
    pub shared: bool,
    /// Whether each of them must have a second factor.
    pub second_factor: bool,
}

/// An open data folder.
#[derive(Debug)]
pub struct Home {
    pub(crate) options: Options,
    pub(crate) store: Dataset,
    pub(crate) people: People,
    pub(crate) jobs: Jobs,
    /// Where backtests are worked on.
    pub(crate) workshop: Workshop,
    pub(crate) clock: Arc<dyn Clock>,
    /// What the demo world has in store; made when first asked for.
    pub(crate) feed: OnceLock<Arc<dyn Feed>>,
    /// What was tried of late to sign in.
    pub(crate) attempts: Attempts,
    /// Whose exports run.
    pub(crate) exports: Mutex<Vec<PersonId>>,
    dataset: ArcSwap<Opened>,
    /// Where the server listens, as links to it begin.
    address: OnceLock<String>,
    /// Held while messages are sent.
    sending: Mutex<()>,
    /// When other data came last, with what alerts said of it.
    news: watch::Sender<Option<Instant>>,
    /// Held while rows are stored and the dataset is made anew: one after the other.
    changing: Mutex<()>,
    /// Held while events are added to a journal: one after the other.
    booking: Mutex<()>,
    /// The ledger of each person, as of the end of its journal and a dataset.
    pub(crate) ledgers: Mutex<HashMap<PersonId, Arc<OwnLedger>>>,
    /// What each person computes with, as of a revision of theirs and a dataset.
    settings: Mutex<HashMap<PersonId, Known>>,
    _lock: Option<FolderLock>,
}

#[derive(Debug)]
struct Known {
    revision: i64,
    dataset: Arc<Opened>,
    own: Arc<OwnSettings>,
}

impl Home {
    /// Opens a folder and loads its dataset.
    ///
    /// # Errors
    /// When the folder is in use, or a database cannot be read.
    pub fn open(options: Options) -> Result<Arc<Home>, AppError> {
        let lock = FolderLock::take(&options.folder)?;
        forget_uploads(&options.folder);
        let store = Dataset::open(&options.folder)?;
        let people = People::open(&options.folder)?;
        Home::with(options, store, people, Some(lock))
    }

    /// Opens a folder to read it, perhaps beside a running server.
    ///
    /// # Errors
    /// When there is no dataset in it, or a database cannot be read.
    pub fn open_to_read(options: Options) -> Result<Arc<Home>, AppError> {
        if !has_dataset(&options.folder) {
            return Err(AppError::NoDataset { folder: options.folder });
        }
        let store = Dataset::open_to_read(&options.folder)?;
        let people = match People::open_to_read(&options.folder)? {
            Some(people) => people,
            // No server has run here yet: nothing is anybody's own.
            None => People::open(&options.folder)?,
        };
        Home::with(options, store, people, None)
    }

    fn with(options: Options, store: Dataset, people: People, lock: Option<FolderLock>) -> Result<Arc<Home>, AppError> {
        let dataset = opened::load(&store, options.base)?;
        Ok(Arc::new(Home {
            options,
            store,
            people,
            jobs: Jobs::default(),
            workshop: Workshop::default(),
            clock: Arc::new(SystemClock),
            feed: OnceLock::new(),
            attempts: Attempts::default(),
            exports: Mutex::default(),
            dataset: ArcSwap::from_pointee(dataset),
            address: OnceLock::new(),
            sending: Mutex::default(),
            news: watch::Sender::new(None),
            booking: Mutex::default(),
            ledgers: Mutex::default(),
            changing: Mutex::default(),
            settings: Mutex::default(),
            _lock: lock,
        }))
    }

    /// The folder.
    #[must_use]
    pub fn folder(&self) -> &Path {
        &self.options.folder
    }

    /// Whether everybody must have a second factor.
    #[must_use]
    pub const fn asks_second_factors(&self) -> bool {
        self.options.second_factor
    }

    /// The folder as it is told in the browser: not to people on other machines.
    pub(crate) fn folder_shown(&self) -> String {
        if self.is_shared() { String::new() } else { self.folder().display().to_string() }
    }

    /// The person at this machine.
    #[must_use]
    pub fn local(&self) -> PersonId {
        self.people.local()
    }

    /// Whether several people use it, each signed in.
    #[must_use]
    pub const fn is_shared(&self) -> bool {
        self.options.shared
    }

    /// The current dataset.
    pub(crate) fn dataset(&self) -> Arc<Opened> {
        self.dataset.load_full()
    }

    /// Readers keep the dataset that they have; the next ones find this one.
    pub(crate) fn swap(&self, next: Opened) {
        self.dataset.store(Arc::new(next));
    }

    /// Forgets what was worked out from what belongs to persons: it is another.
    pub(crate) fn forget_people(&self) {
        self.ledgers.lock().unwrap_or_else(PoisonError::into_inner).clear();
        self.settings.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    /// Where the server listens, said once.
    pub fn listens_at(&self, address: String) {
        self.address.set(address).ok();
    }

    /// The address of a page.
    pub(crate) fn link(&self, path: &str) -> String {
        format!("{}{path}", self.address.get().map_or("http://127.0.0.1:8017", String::as_str))
    }

    /// One sends at a time.
    pub(crate) fn sending(&self) -> MutexGuard<'_, ()> {
        self.sending.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Tells every open page that something is new.
    pub(crate) fn tell_news(&self) {
        self.news.send_replace(Some(Instant::now()));
    }

    /// Hears of whatever is new.
    #[must_use]
    pub fn news(&self) -> watch::Receiver<Option<Instant>> {
        self.news.subscribe()
    }

    /// One change of the dataset at a time.
    pub(crate) fn changing(&self) -> MutexGuard<'_, ()> {
        self.changing.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// One adds to journals at a time.
    pub(crate) fn booking(&self) -> MutexGuard<'_, ()> {
        self.booking.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Whether the dataset is changing, or did a moment ago and every open page asks anew: what can wait leaves them the processor.
    pub(crate) fn is_busy(&self) -> bool {
        self.news.borrow().is_some_and(|at| at.elapsed() < ASKING) || matches!(self.changing.try_lock(), Err(TryLockError::WouldBlock))
    }

    /// What a person computes with. It is read again whenever the person changed anything, which the database counts itself,
    /// and when the dataset is another.
    pub(crate) fn own_settings(&self, person: &PersonId, dataset: &Arc<Opened>) -> Result<Arc<OwnSettings>, AppError> {
        let revision = self.people.revision(person)?;
        let known = || self.settings.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(k) = known().get(person).filter(|k| k.revision == revision && Arc::ptr_eq(&k.dataset, dataset)) {
            return Ok(k.own.clone());
        }
        let own = Arc::new(settings::load(&self.people, person, dataset)?);
        known().insert(person.clone(), Known { revision, dataset: dataset.clone(), own: own.clone() });
        Ok(own)
    }
}

//! The open dataset: store, current panel, settings.

use crate::{AppError, assumptions, feed::Feed, jobs::Jobs, own_measures::library, sections::SectionCache, touched::Touched};
use arc_swap::ArcSwap;
use artemon_core::{
    domain::{Currency, Day},
    panel::{AsOf, Settings, Snapshot, TableCoverage},
    plausibility::{Finding, findings},
};
use artemon_store::{FolderLock, Store};
use serde::Serialize;
use std::{
    path::{Path, PathBuf},
    sync::{Arc, Mutex, OnceLock},
};
use utoipa::ToSchema;

/// The setting that holds the dataset's base currency.
pub(crate) const BASE_CURRENCY: &str = "base_currency";
/// The setting that holds the dataset's name.
pub(crate) const NAME: &str = "name";

/// How to open a dataset.
#[derive(Clone, Debug, Default)]
pub struct Options {
    /// The data folder.
    pub folder: PathBuf,
    /// Base currency, instead of the dataset's own.
    pub base: Option<Currency>,
}

/// An open dataset.
#[derive(Debug)]
pub struct App {
    pub(crate) store: Store,
    pub(crate) sections: SectionCache,
    pub(crate) jobs: Jobs,
    /// Held while rows are stored and the panel is made anew: one after the other.
    pub(crate) changing_data: Mutex<()>,
    /// What the demo world has in store; made when first asked for.
    pub(crate) feed: OnceLock<Feed>,
    /// Held while the user's measures or assumptions change.
    pub(crate) changing_settings: Mutex<()>,
    options: Options,
    pub(crate) panel: ArcSwap<Panel>,
    _lock: FolderLock,
}

/// The panel with the settings it is computed with.
#[derive(Debug)]
pub(crate) struct Panel {
    pub(crate) snapshot: Arc<Snapshot>,
    pub(crate) settings: Settings,
    pub(crate) name: String,
    /// Tells one panel from the next in caches.
    pub(crate) generation: u64,
    findings: OnceLock<Vec<Finding>>,
    coverage: OnceLock<Vec<TableCoverage>>,
}

/// What is open.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct About {
    /// The dataset's name.
    pub name: String,
    /// Base currency.
    pub base: String,
    /// The newest session: today, as far as the data knows.
    #[schema(value_type = Option<String>)]
    pub last_day: Option<Day>,
    /// The oldest session.
    #[schema(value_type = Option<String>)]
    pub first_day: Option<Day>,
    /// Companies in the dataset, delisted ones included.
    pub companies: usize,
    /// The assumption set in use.
    pub assumptions: String,
    /// Its required margin of safety.
    pub margin: f64,
    /// Its least quality, 0–100.
    pub least_quality: f64,
    /// The version of the product.
    pub version: String,
}

impl App {
    /// Opens the dataset in a folder and loads its panel.
    ///
    /// # Errors
    /// When the folder is in use, or the database cannot be read.
    pub fn open(options: Options) -> Result<App, AppError> {
        let lock = FolderLock::take(&options.folder)?;
        let store = Store::open(&options.folder)?;
        let panel = load(&store, &options, 0)?;
        Ok(App {
            store,
            sections: SectionCache::default(),
            jobs: Jobs::default(),
            changing_data: Mutex::default(),
            feed: OnceLock::new(),
            changing_settings: Mutex::default(),
            options,
            panel: ArcSwap::from_pointee(panel),
            _lock: lock,
        })
    }

    /// Opens a folder that must hold a dataset already.
    ///
    /// # Errors
    /// As [`App::open`]; and when there is none.
    pub fn open_existing(options: Options) -> Result<App, AppError> {
        if !has_dataset(&options.folder) {
            return Err(AppError::Unusable {
                what: format!("The data folder {}", options.folder.display()),
                problem: "it holds no dataset yet. Import one with `artemon import FOLDER`, or start `artemon demo`".to_owned(),
            });
        }
        App::open(options)
    }

    /// Makes the next panel after an import; readers keep theirs until they are done. What was not touched is shared.
    pub(crate) fn refresh(&self, touched: &Touched<'_>) -> Result<(), AppError> {
        if touched.is_nothing() {
            return Ok(());
        }
        let before = self.panel();
        let many = touched.companies.len() * ANEW_FROM > before.snapshot.company_count();
        let next = if many { load(&self.store, &self.options, before.generation + 1)? } else { self.grown(&before, touched)? };
        // What was assumed or measured anew while the panel was made stays; only data and base currency are new.
        self.panel.rcu(|now| {
            let settings = Settings { base: next.settings.base, ..now.settings.clone() };
            Panel::new(next.snapshot.clone(), settings, next.name.clone(), next.generation)
        });
        Ok(())
    }

    fn grown(&self, before: &Panel, touched: &Touched<'_>) -> Result<Panel, AppError> {
        let ids: Vec<String> = touched.companies.iter().map(ToString::to_string).collect();
        let mut builder = self.store.load_changed(&ids, touched.market)?;
        for (symbol, bars) in &touched.appended {
            builder.append_bars(symbol, bars.clone());
        }
        let snapshot = builder.build_on(&before.snapshot, touched.market);
        Ok(Panel::new(Arc::new(snapshot), before.settings.clone(), before.name.clone(), before.generation + 1))
    }

    /// Refuses a symbol, ISIN or id that no company has.
    ///
    /// # Errors
    /// When none has it.
    pub fn check_company(&self, key: &str) -> Result<(), AppError> {
        self.panel().find(key).map(drop)
    }

    /// The data folder.
    #[must_use]
    pub fn folder(&self) -> &Path {
        &self.options.folder
    }

    pub(crate) fn panel(&self) -> Arc<Panel> {
        self.panel.load_full()
    }

    /// What is open.
    #[must_use]
    pub fn about(&self) -> About {
        let panel = self.panel();
        let days = panel.snapshot.sessions();
        About {
            name: panel.name.clone(),
            base: panel.settings.base.to_string(),
            last_day: days.map(|d| d.1),
            first_day: days.map(|d| d.0),
            companies: panel.snapshot.company_count(),
            assumptions: panel.settings.assumptions.label(),
            margin: panel.settings.assumptions.margin,
            least_quality: panel.settings.assumptions.least_quality,
            version: env!("CARGO_PKG_VERSION").to_owned(),
        }
    }
}

/// Once more than one in so many companies is touched the whole panel is loaded anew.
const ANEW_FROM: usize = 4;

impl Panel {
    pub(crate) fn new(snapshot: Arc<Snapshot>, settings: Settings, name: String, generation: u64) -> Panel {
        Panel { snapshot, settings, name, generation, findings: OnceLock::new(), coverage: OnceLock::new() }
    }

    /// Doubts about the data, as of the last day; computed when first asked for.
    pub(crate) fn findings(&self) -> &[Finding] {
        self.findings.get_or_init(|| self.view(None).map(findings).unwrap_or_default())
    }

    /// What the dataset holds; computed when first asked for.
    pub(crate) fn coverage(&self) -> &[TableCoverage] {
        self.coverage.get_or_init(|| self.snapshot.coverage())
    }

    /// The view of a date, of the newest session when none is given.
    pub(crate) fn view(&self, as_of: Option<Day>) -> Result<AsOf<'_>, AppError> {
        self.view_with(&self.settings, as_of)
    }

    /// The view of a date under other settings.
    pub(crate) fn view_with<'a>(&'a self, settings: &'a Settings, as_of: Option<Day>) -> Result<AsOf<'a>, AppError> {
        let (first, last) = self.snapshot.sessions().ok_or(AppError::Empty)?;
        let t = as_of.unwrap_or(last);
        if t < first {
            return Err(AppError::BeforeData { asked: t, first, last });
        }
        if t > last.plus_days(10) {
            return Err(AppError::AfterData { asked: t, first, last });
        }
        Ok(AsOf { snapshot: &self.snapshot, settings, t })
    }

    /// The position of a company by symbol, ISIN or id.
    pub(crate) fn find(&self, key: &str) -> Result<u32, AppError> {
        self.snapshot.find(key).ok_or_else(|| self.unknown(vec![key.to_owned()]))
    }

    /// Refuses unknown companies, with the nearest known symbol.
    pub(crate) fn unknown(&self, unknown: Vec<String>) -> AppError {
        let near = unknown.first().and_then(|u| {
            let u = u.to_uppercase();
            let scored = self.snapshot.keys().filter(|k| k.len() <= 6).map(|k| (strsim::jaro_winkler(&u, k), k));
            scored.filter(|s| s.0 > 0.75).max_by(|a, b| a.0.total_cmp(&b.0).then(b.1.cmp(a.1))).map(|s| s.1.to_owned())
        });
        let hint = near.map_or_else(|| " Look it up by name under Companies.".to_owned(), |n| format!(" Did you mean {n}?"));
        AppError::UnknownCompanies { unknown, hint }
    }
}

/// Whether a folder holds a dataset.
pub(crate) fn has_dataset(folder: &Path) -> bool {
    folder.join("artemon.sqlite").is_file()
}

fn load(store: &Store, options: &Options, generation: u64) -> Result<Panel, AppError> {
    let snapshot = store.load_panel()?;
    let stored = store.setting(BASE_CURRENCY)?.and_then(|c| c.parse().ok());
    let fallback = || "ZOC".parse().ok();
    let base = options.base.or(stored).or_else(|| snapshot.commonest_currency()).or_else(fallback).ok_or(AppError::Empty)?;
    let name = store.setting(NAME)?.unwrap_or_else(|| "My dataset".to_owned());
    let (assumptions, overrides) = assumptions::kept(store)?;
    let settings = Settings { base, assumptions, library: library(store)?, overrides: Arc::new(overrides) };
    Ok(Panel::new(Arc::new(snapshot), settings, name, generation))
}

//! The dataset as it is loaded: a snapshot with its engine, name and base currency.

use super::import::touched::Touched;
use crate::AppError;
use artemon_core::{
    domain::Currency,
    engine::{Engine, Keep},
    panel::{AsOf, Changes, TableCoverage},
    plausibility::{Finding, findings},
};
use artemon_store::Dataset;
use std::sync::Arc;

/// The setting that holds the dataset's base currency.
pub(crate) const BASE_CURRENCY: &str = "base_currency";
/// The setting that holds the dataset's name.
pub(crate) const NAME: &str = "name";

/// A loaded dataset.
#[derive(Debug)]
pub(crate) struct Opened {
    pub(crate) engine: Engine,
    pub(crate) name: String,
    pub(crate) base: Currency,
}

/// Doubts about the data, as of the last day.
#[derive(Debug)]
pub(crate) struct Doubts(pub(crate) Vec<Finding>);

impl Keep for Doubts {
    fn bytes(&self) -> usize {
        self.0.iter().map(|f| size_of::<Finding>() + f.sentence.len()).sum()
    }
}

/// By what the data is known.
struct Fingerprint(String);

impl Keep for Fingerprint {
    fn bytes(&self) -> usize {
        self.0.len()
    }
}

/// What each table holds.
struct Coverage(Vec<TableCoverage>);

impl Keep for Coverage {
    fn bytes(&self) -> usize {
        self.0.iter().map(|t| size_of::<TableCoverage>() + t.years.len() * 64).sum()
    }
}

impl Opened {
    /// Doubts about the data, as of the last day; computed when first asked for.
    pub(crate) fn findings(&self) -> Arc<Doubts> {
        let made = || {
            let last = self.engine.snapshot().sessions().map(|s| s.1);
            Doubts(last.map(|t| findings(AsOf { snapshot: self.engine.snapshot(), base: self.base, t })).unwrap_or_default())
        };
        self.engine.whole(made)
    }

    /// By what the data is known: equal for equal data. Computed when first asked for.
    pub(crate) fn fingerprint(&self) -> String {
        self.engine.whole(|| Fingerprint(self.engine.snapshot().fingerprint())).0.clone()
    }

    /// What the dataset holds; computed when first asked for.
    pub(crate) fn coverage(&self) -> Vec<TableCoverage> {
        self.engine.whole(|| Coverage(self.engine.snapshot().coverage())).0.clone()
    }

    /// The dataset after an import: what was not touched is shared.
    pub(crate) fn after(&self, touched: &Touched<'_>, store: &Dataset, base: Option<Currency>) -> Result<Opened, AppError> {
        let before = self.engine.snapshot();
        if before.company_count() == 0 {
            return load(store, base);
        }
        let anew: Vec<String> = touched.anew.iter().map(ToString::to_string).collect();
        let facts: Vec<String> = touched.facts.difference(&touched.anew).map(ToString::to_string).collect();
        let changes = Changes { appended: touched.appended.clone(), ..store.load_changed(&anew, &facts, touched.market)? };
        let snapshot = before.followed_by(changes);
        let engine = match before.sessions() {
            Some((_, last)) if touched.from > last => self.engine.next_session(snapshot, last),
            _ => self.engine.next(snapshot),
        };
        Ok(Opened { engine, name: self.name.clone(), base: self.base })
    }
}

/// Loads the whole dataset; `base` comes before the dataset's own base currency.
pub(crate) fn load(store: &Dataset, base: Option<Currency>) -> Result<Opened, AppError> {
    let snapshot = store.load_panel()?;
    let stored = store.setting(BASE_CURRENCY)?.and_then(|c| c.parse().ok());
    let base = base.or(stored).or_else(|| snapshot.commonest_currency());
    let base = base.or_else(|| "ZOC".parse().ok()).ok_or(AppError::Empty)?;
    let name = store.setting(NAME)?.unwrap_or_else(|| "My dataset".to_owned());
    Ok(Opened { engine: Engine::new(snapshot), name, base })
}

//! The dataset as it is loaded: a snapshot with its engine, name and base currency.

use super::{damage, import::touched::Touched};
use crate::AppError;
use artemon_core::{
    domain::Currency,
    engine::{Engine, Keep},
    panel::{AsOf, Changes, TableCoverage},
    plausibility::{Finding, findings},
};
use artemon_store::{Dataset, SetAside};
use std::{collections::HashSet, sync::Arc};

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
    /// What of it is damaged, and not in the snapshot.
    pub(crate) aside: Vec<SetAside>,
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
            let mut all = damage::findings(self);
            all.extend(last.map(|t| findings(AsOf { snapshot: self.engine.snapshot(), base: self.base, t })).unwrap_or_default());
            Doubts(all)
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
        // Of what was set aside there are no bars that others could follow.
        let aside: HashSet<String> = store.set_aside().into_iter().filter_map(|a| a.company).collect();
        let is_aside = |symbol: &str| before.find(symbol).is_some_and(|company| aside.contains(&*before.company(company).id));
        let mut appended = touched.appended.clone();
        let mut anew: HashSet<&str> = touched.anew.iter().map(|id| &**id).collect();
        anew.extend(touched.facts.iter().map(|id| &**id).filter(|id| aside.contains(*id)));
        anew.extend(touched.appended.keys().filter(|symbol| is_aside(symbol)).filter_map(|s| Some(&*before.company(before.find(s)?).id)));
        appended.retain(|symbol, _| !is_aside(symbol));
        let facts: Vec<String> = touched.facts.iter().filter(|id| !anew.contains(&***id)).map(ToString::to_string).collect();
        let anew: Vec<String> = anew.into_iter().map(str::to_owned).collect();
        let changes = Changes { appended, ..store.load_changed(&anew, &facts, touched.market)? };
        let snapshot = before.followed_by(changes);
        let engine = match before.sessions() {
            Some((_, last)) if touched.from > last => self.engine.next_session(snapshot, last),
            _ => self.engine.next(snapshot),
        };
        Ok(Opened { engine, name: self.name.clone(), base: self.base, aside: store.set_aside() })
    }
}

/// Loads the whole dataset; `base` comes before the dataset's own base currency.
pub(crate) fn load(store: &Dataset, base: Option<Currency>) -> Result<Opened, AppError> {
    let snapshot = store.load_panel()?;
    let stored = store.setting(BASE_CURRENCY)?.and_then(|c| c.parse().ok());
    let base = base.or(stored).or_else(|| snapshot.commonest_currency());
    let base = base.or_else(|| "ZOC".parse().ok()).ok_or(AppError::Empty)?;
    let name = store.setting(NAME)?.unwrap_or_else(|| "My dataset".to_owned());
    Ok(Opened { engine: Engine::new(snapshot), name, base, aside: store.set_aside() })
}

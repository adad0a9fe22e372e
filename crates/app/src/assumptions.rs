//! Assumption sets of the user's own, and what is assumed of single companies.

use crate::{App, AppError, state::Panel};
use artemon_core::{
    panel::Settings,
    valuation::{Assumptions, Override, Overrides},
};
use artemon_store::{KeptOverride, KeptSet, Store};
use serde::Serialize;
use std::sync::{Arc, PoisonError};
use utoipa::ToSchema;

/// The setting that holds the name of the set in use.
const IN_USE: &str = "assumptions";
/// The longest name.
const LONGEST_NAME: usize = 60;

/// An assumption set with its place in time.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AssumptionSet {
    /// The newest version.
    pub assumptions: Assumptions,
    /// Whether valuations use it.
    pub in_use: bool,
    /// Whether it ships with the product and cannot be changed.
    pub shipped: bool,
    /// When each version was saved, oldest first, as RFC 3339.
    pub versions: Vec<String>,
}

impl App {
    /// The shipped set, then the user's by name.
    ///
    /// # Errors
    /// When they cannot be read.
    pub fn assumption_sets(&self) -> Result<Vec<AssumptionSet>, AppError> {
        let in_use = self.panel().settings.assumptions.name.clone();
        let shipped = Assumptions::standard();
        let mut all = vec![AssumptionSet { in_use: in_use == shipped.name, assumptions: shipped, shipped: true, versions: Vec::new() }];
        for (assumptions, versions) in sets(&self.store)? {
            all.push(AssumptionSet { in_use: in_use == assumptions.name, assumptions, shipped: false, versions });
        }
        Ok(all)
    }

    /// Saves a set as the next version of its name, and uses it.
    ///
    /// # Errors
    /// A name that is empty, too long or that of the shipped set; an assumption outside its bounds.
    pub fn save_assumptions(&self, mut set: Assumptions) -> Result<(), AppError> {
        let _one = self.changing_settings.lock().unwrap_or_else(PoisonError::into_inner);
        set.name = set.name.trim().to_owned();
        let unusable = |problem: &str| AppError::Unusable { what: format!("The name \"{}\"", set.name), problem: problem.to_owned() };
        if set.name.eq_ignore_ascii_case(&Assumptions::standard().name) {
            return Err(unusable("the set of that name ships with the product and stays as it is; give yours another name"));
        }
        if set.name.is_empty() || set.name.chars().count() > LONGEST_NAME {
            return Err(unusable("a set needs a name of at most sixty characters"));
        }
        checked(&set)?;
        set.version = u32::try_from(self.store.keep_assumption_set(&set.name, &body(&set), &now())?).unwrap_or(1);
        self.store.write::<(), AppError>(|batch| Ok(batch.set(IN_USE, &set.name)?))?;
        self.use_settings(|settings| settings.assumptions = set);
        Ok(())
    }

    /// Values with the set of this name from now on.
    ///
    /// # Errors
    /// When there is none.
    pub fn use_assumptions(&self, name: &str) -> Result<(), AppError> {
        let _one = self.changing_settings.lock().unwrap_or_else(PoisonError::into_inner);
        let set = self.assumptions(name)?;
        self.store.write::<(), AppError>(|batch| Ok(batch.set(IN_USE, &set.name)?))?;
        self.use_settings(|settings| settings.assumptions = set);
        Ok(())
    }

    /// A version of a set, counted from 1.
    ///
    /// # Errors
    /// When there is none.
    pub fn assumptions_version(&self, name: &str, version: u32) -> Result<Assumptions, AppError> {
        let all = self.store.assumption_sets()?;
        all.iter().filter(|s| s.name == name).filter_map(read).find(|s| s.version == version).ok_or_else(|| AppError::Unusable {
            what: format!("Version {version} of \"{name}\""),
            problem: "it was never saved".to_owned(),
        })
    }

    /// Brings back a set that was forgotten since the program was started.
    ///
    /// # Errors
    /// When there is none.
    pub fn restore_assumptions(&self, name: &str) -> Result<(), AppError> {
        if self.store.forget_assumption_set(name, false)? { Ok(()) } else { Err(unknown(name)) }
    }

    /// Forgets a set with its versions; when it is in use, the shipped one is used.
    ///
    /// # Errors
    /// When there is none, or it ships with the product.
    pub fn delete_assumptions(&self, name: &str) -> Result<(), AppError> {
        if name == Assumptions::standard().name || !self.store.forget_assumption_set(name, true)? {
            return Err(unknown(name));
        }
        if self.panel().settings.assumptions.name == name {
            self.use_assumptions(&Assumptions::standard().name)?;
        }
        Ok(())
    }

    /// The set of a name, in its newest version.
    ///
    /// # Errors
    /// When there is none.
    pub fn assumptions(&self, name: &str) -> Result<Assumptions, AppError> {
        if name == Assumptions::standard().name {
            return Ok(Assumptions::standard());
        }
        sets(&self.store)?.into_iter().map(|s| s.0).find(|s| s.name == name).ok_or_else(|| unknown(name))
    }

    /// Keeps what the user assumes of a company; nothing assumed forgets it.
    ///
    /// # Errors
    /// An unknown company; an assumption outside its bounds; a soundness without a reason.
    pub fn assume_of_company(&self, symbol: &str, own: Override) -> Result<(), AppError> {
        let _one = self.changing_settings.lock().unwrap_or_else(PoisonError::into_inner);
        let panel = self.panel();
        let company = panel.snapshot.company(panel.find(symbol)?).id.to_string();
        check_override(&own)?;
        if own.is_empty() && own.reason.trim().is_empty() {
            self.store.forget_override(&company)?;
        } else {
            let body = serde_json::to_string(&own).unwrap_or_default();
            self.store.keep_override(&KeptOverride { company_id: company.clone(), body, saved_at: now() })?;
        }
        self.use_settings(|settings| settings.overrides = Arc::new(settings.overrides.with(&company, own)));
        Ok(())
    }

    /// Readers keep the panel they have; the next ones find the settings changed.
    pub(crate) fn use_settings(&self, change: impl FnOnce(&mut Settings)) {
        let panel = self.panel();
        let mut settings = panel.settings.clone();
        change(&mut settings);
        self.panel.rcu(|panel| Panel::new(panel.snapshot.clone(), settings.clone(), panel.name.clone(), panel.generation));
    }
}

/// The set in use and the overrides, as they are kept.
pub(crate) fn kept(store: &Store) -> Result<(Assumptions, Overrides), AppError> {
    let name = store.setting(IN_USE)?;
    let set = sets(store)?.into_iter().map(|s| s.0).find(|s| Some(&s.name) == name.as_ref()).unwrap_or_default();
    let own = store.overrides()?.into_iter().filter_map(|o| Some((o.company_id, serde_json::from_str(&o.body).ok()?)));
    Ok((set, Overrides::new(own)))
}

/// Refuses assumptions that cannot be meant.
pub(crate) fn checked(set: &Assumptions) -> Result<(), AppError> {
    set.check().map_err(|problem| AppError::Unusable { what: format!("The assumption set \"{}\"", set.name), problem })
}

pub(crate) fn check_override(own: &Override) -> Result<(), AppError> {
    own.check().map_err(|problem| AppError::Unusable { what: "What you assume of the company".to_owned(), problem })
}

/// The newest version of each set, with when its versions were saved.
fn sets(store: &Store) -> Result<Vec<(Assumptions, Vec<String>)>, AppError> {
    let kept = store.assumption_sets()?;
    let newest = |versions: &[KeptSet]| Some((read(versions.last()?)?, versions.iter().map(|v| v.saved_at.clone()).collect()));
    Ok(kept.chunk_by(|a, b| a.name == b.name).filter_map(newest).collect())
}

fn read(kept: &KeptSet) -> Option<Assumptions> {
    let set: Assumptions = serde_json::from_str(&kept.body).ok()?;
    Some(Assumptions { name: kept.name.clone(), version: u32::try_from(kept.version).unwrap_or(1), ..set })
}

fn body(set: &Assumptions) -> String {
    serde_json::to_string(set).unwrap_or_default()
}

fn unknown(name: &str) -> AppError {
    AppError::Unusable { what: format!("The assumption set \"{name}\""), problem: "there is none of that name of your own".to_owned() }
}

fn now() -> String {
    chrono::Utc::now().to_rfc3339_opts(chrono::SecondsFormat::Secs, true)
}

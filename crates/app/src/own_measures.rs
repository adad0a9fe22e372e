//! The user's own measures: kept with the dataset, known to every formula.

use crate::{App, AppError};
use artemon_core::formula::{FormulaError, Library, LibraryError, OwnMeasure, Unit};
use artemon_store::{KeptMeasure, Store};
use std::sync::Arc;

impl App {
    /// All, by id.
    #[must_use]
    pub fn own_measures(&self) -> Vec<OwnMeasure> {
        self.panel().settings.library.iter().cloned().collect()
    }

    /// Adds a measure, or changes the one of the same id; from then on formulas may use it.
    ///
    /// # Errors
    /// A name that is taken, a mistake in the formula, a circle.
    pub fn save_own_measure(&self, measure: OwnMeasure) -> Result<(), AppError> {
        let _one = self.changing_settings.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let library = self.panel().settings.library.with(&measure).map_err(|e| refused(e, &measure.formula))?;
        self.store.keep_own_measure(&kept(measure))?;
        self.use_settings(|settings| settings.library = Arc::new(library));
        Ok(())
    }

    /// Forgets a measure that no other uses.
    ///
    /// # Errors
    /// When others use it, or there is none.
    pub fn delete_own_measure(&self, id: &str) -> Result<(), AppError> {
        let _one = self.changing_settings.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let library = self.panel().settings.library.without(id).map_err(|e| refused(e, ""))?;
        if !self.store.forget_own_measure(id)? {
            return Err(AppError::Measure(format!("There is no measure of yours with the name \"{id}\".")));
        }
        self.use_settings(|settings| settings.library = Arc::new(library));
        Ok(())
    }
}

/// The measures kept in the store.
pub(crate) fn library(store: &Store) -> Result<Arc<Library>, AppError> {
    let own =
        |m: KeptMeasure| OwnMeasure { id: m.id, label: m.label, note: m.note, unit: m.unit.and_then(|u| unit(&u)), formula: m.formula };
    Ok(Arc::new(Library::new(store.own_measures()?.into_iter().map(own))))
}

fn kept(m: OwnMeasure) -> KeptMeasure {
    let unit = m.unit.and_then(|u| serde_json::to_value(u).ok()).and_then(|v| v.as_str().map(str::to_owned));
    KeptMeasure { id: m.id, label: m.label, note: m.note, unit, formula: m.formula }
}

fn unit(code: &str) -> Option<Unit> {
    serde_json::from_value(serde_json::Value::from(code)).ok()
}

fn refused(e: LibraryError, formula: &str) -> AppError {
    match e {
        LibraryError::Formula(error) => AppError::formula(formula, FormulaError { ..error }),
        other => AppError::Measure(other.to_string()),
    }
}

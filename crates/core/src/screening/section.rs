//! The universe at one date with the columns computed over it: kept between runs, so that a moved bound computes nothing.

use super::document::ScreenUniverse;
use crate::{
    formula::{Column, Compiled, evaluate, evaluate_all},
    panel::{AsOf, CompanyAt, CompanyIndex},
};
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError},
};

/// Columns kept of one date.
const COLUMNS: usize = 300;

/// What outlives one run: who was in the universe, and the columns over them. It belongs to one snapshot, date and
/// settings; whoever keeps it must key it by these.
#[derive(Debug)]
pub struct KeptSection {
    members: Vec<CompanyIndex>,
    columns: Mutex<HashMap<String, Arc<Column>>>,
    /// Who was chosen last, and how: a look at each company's record costs more than all criteria that are kept.
    chosen: Mutex<Option<(ScreenUniverse, Vec<usize>)>>,
}

impl KeptSection {
    /// The universe at a view's date, in order of symbol; no columns yet.
    #[must_use]
    pub fn new(view: AsOf<'_>) -> KeptSection {
        KeptSection { members: view.universe().iter().map(|c| c.index).collect(), columns: Mutex::default(), chosen: Mutex::default() }
    }
}

/// The universe at one date. Places count its members from 0 in order of symbol.
#[derive(Debug)]
pub struct Section<'a> {
    /// The date, with data and settings.
    pub view: AsOf<'a>,
    kept: Arc<KeptSection>,
    rows: OnceLock<Vec<CompanyAt<'a>>>,
}

impl<'a> Section<'a> {
    /// The section of a view.
    #[must_use]
    pub fn new(view: AsOf<'a>) -> Section<'a> {
        Section::of(view, Arc::new(KeptSection::new(view)))
    }

    /// The section of a view from what was kept of an earlier run over the same view.
    #[must_use]
    pub const fn of(view: AsOf<'a>, kept: Arc<KeptSection>) -> Section<'a> {
        Section { view, kept, rows: OnceLock::new() }
    }

    /// The positions of the members in the snapshot.
    #[must_use]
    pub fn members(&self) -> &[CompanyIndex] {
        &self.kept.members
    }

    /// The members as of the date.
    pub fn rows(&self) -> &[CompanyAt<'a>] {
        use rayon::prelude::*;
        self.rows.get_or_init(|| self.kept.members.par_iter().map(|i| self.view.company(*i)).collect())
    }

    /// The place of a company, if it is in the universe.
    #[must_use]
    pub fn place(&self, company: CompanyIndex) -> Option<usize> {
        self.kept.members.binary_search(&company).ok()
    }

    /// The places that a choice makes, unless it was the last one made.
    pub(super) fn chosen<E>(&self, of: &ScreenUniverse, make: impl FnOnce() -> Result<Vec<usize>, E>) -> Result<Vec<usize>, E> {
        let mut last = self.kept.chosen.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, places)) = last.as_ref().filter(|(universe, _)| universe == of) {
            return Ok(places.clone());
        }
        let places = make()?;
        *last = Some((of.clone(), places.clone()));
        Ok(places)
    }

    /// Answers those of some formulas that are not kept, together: faster than one after the other.
    pub fn prepare(&self, formulas: &[Arc<Compiled>]) {
        let missing: Vec<&Compiled> = {
            let kept = self.columns();
            formulas.iter().map(|f| &**f).filter(|f| !kept.contains_key(&f.text)).collect()
        };
        if missing.len() > 1 {
            let columns = evaluate_all(&missing, self.rows());
            missing.into_iter().zip(columns).for_each(|(f, column)| self.keep(f, Arc::new(column)));
        }
    }

    fn columns(&self) -> MutexGuard<'_, HashMap<String, Arc<Column>>> {
        self.kept.columns.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn keep(&self, formula: &Compiled, column: Arc<Column>) {
        let mut columns = self.columns();
        if columns.len() >= COLUMNS {
            columns.clear();
        }
        columns.insert(formula.text.clone(), column);
    }

    /// A formula's answers for all members, by place.
    #[must_use]
    pub fn column(&self, formula: &Compiled) -> Arc<Column> {
        if let Some(found) = self.columns().get(&formula.text) {
            return found.clone();
        }
        let column = Arc::new(evaluate(formula, self.rows()));
        self.keep(formula, column.clone());
        column
    }
}

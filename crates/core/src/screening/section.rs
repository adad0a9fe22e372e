//! The universe at one date with the columns computed over it: kept between runs, so that a moved bound computes nothing.

use crate::{
    formula::{Column, Compiled, evaluate},
    panel::{AsOf, CompanyAt, CompanyIndex},
};
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, OnceLock, PoisonError},
};

/// Columns kept of one date.
const COLUMNS: usize = 300;

/// What outlives one run: who was in the universe, and the columns over them. It belongs to one snapshot, date and
/// settings; whoever keeps it must key it by these.
#[derive(Debug)]
pub struct KeptSection {
    members: Vec<CompanyIndex>,
    columns: Mutex<HashMap<String, Arc<Column>>>,
}

impl KeptSection {
    /// The universe at a view's date, in order of symbol; no columns yet.
    #[must_use]
    pub fn new(view: AsOf<'_>) -> KeptSection {
        KeptSection { members: view.universe().iter().map(|c| c.index).collect(), columns: Mutex::default() }
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

    /// A formula's answers for all members, by place.
    #[must_use]
    pub fn column(&self, formula: &Compiled) -> Arc<Column> {
        let kept = || self.kept.columns.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(found) = kept().get(&formula.text) {
            return found.clone();
        }
        let column = Arc::new(evaluate(formula, self.rows()));
        let mut columns = kept();
        if columns.len() >= COLUMNS {
            columns.clear();
        }
        columns.insert(formula.text.clone(), column.clone());
        column
    }
}

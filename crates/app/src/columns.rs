//! Columns of formulas over the universe, kept between requests: a moved bound costs no computation.

use crate::state::Panel;
use artemon_core::{
    formula::{Column, Compiled, evaluate},
    panel::{AsOf, CompanyAt},
    screening::Columns,
};
use std::{
    collections::{HashMap, VecDeque},
    sync::{Arc, Mutex, PoisonError},
};

/// Dates (and settings) kept at once.
const SECTIONS: usize = 4;
/// Columns kept a date.
const COLUMNS: usize = 300;

type Section = Arc<Mutex<HashMap<String, Arc<Column>>>>;

/// The kept columns, newest dates last.
#[derive(Debug, Default)]
pub(crate) struct ColumnCache(Mutex<VecDeque<(String, Section)>>);

impl ColumnCache {
    /// The columns of a view, over its universe.
    pub(crate) fn of<'a>(&self, panel: &Panel, view: AsOf<'a>) -> CachedColumns<'a> {
        let key = format!("{}|{}|{}|{:?}", panel.generation, view.t, view.settings.base, view.settings.assumptions);
        let universe = Arc::new(view.universe());
        let mut places = vec![None; view.snapshot.company_count()];
        for (place, row) in universe.iter().enumerate() {
            places[row.index as usize] = Some(place);
        }
        CachedColumns { universe, places, section: self.section(&key) }
    }

    fn section(&self, key: &str) -> Section {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, section)) = all.iter().find(|s| s.0 == key) {
            return section.clone();
        }
        let section = Section::default();
        all.push_back((key.to_owned(), section.clone()));
        if all.len() > SECTIONS {
            all.pop_front();
        }
        section
    }
}

/// The columns of one view.
pub(crate) struct CachedColumns<'a> {
    universe: Arc<Vec<CompanyAt<'a>>>,
    places: Vec<Option<usize>>,
    section: Section,
}

impl<'a> CachedColumns<'a> {
    fn whole(&self, formula: &Compiled) -> Arc<Column> {
        if let Some(found) = self.section.lock().unwrap_or_else(PoisonError::into_inner).get(&formula.text) {
            return found.clone();
        }
        let column = Arc::new(evaluate(formula, &self.universe));
        let mut kept = self.section.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.len() >= COLUMNS {
            kept.clear();
        }
        kept.insert(formula.text.clone(), column.clone());
        column
    }
}

impl<'a> Columns<'a> for CachedColumns<'a> {
    fn universe(&self, _: AsOf<'a>) -> Arc<Vec<CompanyAt<'a>>> {
        self.universe.clone()
    }

    fn column(&self, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Column {
        let places: Option<Vec<usize>> = rows.iter().map(|r| self.places[r.index as usize]).collect();
        match places {
            Some(places) => self.whole(formula).at(&places),
            None => evaluate(formula, rows),
        }
    }
}

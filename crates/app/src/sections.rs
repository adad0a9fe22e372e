//! Sections kept between requests: a moved bound costs no computation.

use crate::state::Panel;
use artemon_core::{
    panel::{AsOf, Settings},
    screening::{KeptSection, Section},
};
use std::{
    collections::VecDeque,
    sync::{Arc, Mutex, PoisonError},
};

/// Dates (and settings) kept at once.
const SECTIONS: usize = 4;

/// The kept sections, newest last.
#[derive(Debug, Default)]
pub(crate) struct SectionCache(Mutex<VecDeque<(String, Arc<KeptSection>)>>);

impl SectionCache {
    /// The section of a view of the panel.
    pub(crate) fn of<'a>(&self, panel: &Panel, view: AsOf<'a>) -> Section<'a> {
        let Settings { base, assumptions, overrides, .. } = view.settings;
        let key = format!("{}|{}|{base}|{assumptions:?}|{}", panel.generation, view.t, overrides.key());
        Section::of(view, self.kept(&key, view))
    }

    fn kept(&self, key: &str, view: AsOf<'_>) -> Arc<KeptSection> {
        let all = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, kept)) = all().iter().find(|s| s.0 == key) {
            return kept.clone();
        }
        let made = Arc::new(KeptSection::new(view));
        let mut all = all();
        all.push_back((key.to_owned(), made.clone()));
        if all.len() > SECTIONS {
            all.pop_front();
        }
        made
    }
}

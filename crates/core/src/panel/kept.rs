//! What was computed from a company's filings alone, kept until something new is filed.

use crate::Num;
use std::{
    collections::VecDeque,
    sync::{Arc, Mutex, PoisonError},
};

/// States of knowledge of one company that are kept: today's, and of dates that were looked back to.
const STATES: usize = 3;

/// A state of knowledge, and what was computed with.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct State {
    /// How many filings and splits are known.
    pub(super) filings: u32,
    pub(super) splits: u32,
    /// Whether any dividend or split of the dataset has happened.
    pub(super) actions: bool,
    /// The newest period ended too long ago.
    pub(super) stale: bool,
    /// Of the settings and formulas.
    pub(super) key: u64,
}

/// Figures by state, those made last at the end.
#[derive(Debug, Default)]
pub(super) struct Kept(Mutex<VecDeque<(State, Arc<[Num]>)>>);

impl Kept {
    pub(super) fn get(&self, state: State) -> Option<Arc<[Num]>> {
        let all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        all.iter().find(|(s, _)| *s == state).map(|(_, figures)| figures.clone())
    }

    pub(super) fn keep(&self, state: State, figures: Arc<[Num]>) {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if all.len() >= STATES {
            all.pop_front();
        }
        all.push_back((state, figures));
    }
}

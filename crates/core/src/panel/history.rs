//! Month-end histories of formulas, computed once a snapshot for all companies and kept within a memory bound.

use super::snapshot::CompanyIndex;
use crate::domain::Day;
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, OnceLock},
};

/// How many numbers all kept histories may hold together (8 bytes each, and one bit of validity).
const MAX_KEPT: usize = 200_000_000;

/// One formula's value at every company's own last session of every calendar month.
#[derive(Debug)]
pub struct History {
    offsets: Vec<usize>,
    dates: Arc<Vec<Day>>,
    values: Vec<f64>,
    known: Vec<u64>,
}

impl History {
    /// From each company's months, oldest first.
    #[must_use]
    pub fn new(per_company: Vec<Vec<(Day, Option<f64>)>>) -> History {
        let n = per_company.iter().map(Vec::len).sum();
        let mut out = History { offsets: vec![0], dates: Arc::default(), values: Vec::with_capacity(n), known: vec![0; n.div_ceil(64)] };
        let mut dates = Vec::with_capacity(n);
        for months in per_company {
            for (day, value) in months {
                if value.is_some() {
                    out.known[out.values.len() / 64] |= 1 << (out.values.len() % 64);
                }
                dates.push(day);
                out.values.push(value.unwrap_or_default());
            }
            out.offsets.push(out.values.len());
        }
        out.dates = Arc::new(dates);
        out
    }

    /// The defined values of one company at sessions after `from`, in calendar months before `before`'s, oldest first.
    pub fn window(&self, company: CompanyIndex, from: Day, before: Day) -> impl Iterator<Item = f64> + '_ {
        let (start, end) = (self.offsets[company as usize], self.offsets[company as usize + 1]);
        let dates = &self.dates[start..end];
        let month_start = before.month_end().plus_months(-1).month_end();
        let first = start + dates.partition_point(|d| *d <= from);
        let last = start + dates.partition_point(|d| *d <= month_start);
        (first..last.max(first)).filter(|&i| self.known[i / 64] >> (i % 64) & 1 == 1).map(|i| self.values[i])
    }
}

type Cell = Arc<OnceLock<Arc<History>>>;

/// The histories of one snapshot by formula.
#[derive(Debug, Default)]
pub struct Histories(Mutex<Kept>);

#[derive(Debug, Default)]
struct Kept {
    cells: HashMap<String, Cell>,
    order: Vec<String>,
}

impl Histories {
    /// The history under `key`, computed by `make` unless it is kept.
    pub fn get(&self, key: &str, make: impl FnOnce() -> History) -> Arc<History> {
        let cell = self.cell(key);
        if let Some(done) = cell.get() {
            return done.clone();
        }
        // Computed outside the cell: a worker waiting inside `make` may take up a task that needs the same history.
        let made = Arc::new(make());
        cell.get_or_init(|| made).clone()
    }

    fn cell(&self, key: &str) -> Cell {
        let mut kept = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if !kept.cells.contains_key(key) {
            kept.order.push(key.to_owned());
        }
        let cell = kept.cells.entry(key.to_owned()).or_default().clone();
        kept.forget_oldest();
        cell
    }
}

impl Kept {
    /// Drops the histories asked for first until the rest fits the bound.
    fn forget_oldest(&mut self) {
        let size = |c: &Cell| c.get().map_or(0, |h| h.values.len());
        let mut total: usize = self.cells.values().map(size).sum();
        while total > MAX_KEPT && self.order.len() > 1 {
            let oldest = self.order.remove(0);
            total -= self.cells.remove(&oldest).map_or(0, |c| size(&c));
        }
    }
}

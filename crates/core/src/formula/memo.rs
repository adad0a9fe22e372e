//! What was read or computed before for the same rows: many formulas ask for the same figures and measures.

use super::{
    eval::Env,
    spans::{Taken, figure},
};
use crate::{
    Num,
    domain::Item,
    panel::{CompanyAt, FlowSpan},
};
use rustc_hash::FxHashMap;
use std::{cell::RefCell, hash::Hash, sync::Arc};

/// Sums for which there is room at first.
const SUMS: usize = 1_024;

/// One figure a row, by what it is.
type Columns<K> = RefCell<FxHashMap<K, Vec<Num>>>;

/// Kept while some formulas are answered for the same rows, on one thread.
pub(super) struct Memo {
    rows: usize,
    /// Where all rows are of one company: the first row of each state of knowledge. Between two filings the figures of
    /// statements stay, so that they are read once a state.
    states: Vec<usize>,
    /// Sums of quarters or halves by company and [`key`]: many measures ask for the same, and it is read from many filings.
    sums: RefCell<FxHashMap<(u32, u64), Num>>,
    /// Measures by name and where they are read: with amounts in the base currency, and in the reporting currency.
    columns: [Columns<(Arc<str>, Within)>; 2],
    /// Items as filed.
    items: Columns<(Item, Within)>,
}

/// Where figures are read.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub(super) enum Within {
    /// Each measure in the twelve months that it decides upon itself.
    #[default]
    Own,
    /// In the k-th newest fiscal year.
    Year(u32),
    /// In the k-th newest quarter.
    Quarter(u32),
    /// In spans that go with no other formula's.
    Elsewhere,
}

impl Memo {
    pub(super) fn of_one_company(rows: &[CompanyAt<'_>]) -> Memo {
        let begins = |i: &usize| *i == 0 || !rows[*i].same_statements(&rows[*i - 1]);
        let states = (0..rows.len()).filter(begins).collect();
        Memo { states, ..Memo::of_many_companies(rows.len()) }
    }

    pub(super) fn of_many_companies(rows: usize) -> Memo {
        let sums = FxHashMap::with_capacity_and_hasher(SUMS, rustc_hash::FxBuildHasher);
        Memo { rows, states: Vec::new(), sums: RefCell::new(sums), columns: Default::default(), items: RefCell::default() }
    }
}

impl Env<'_> {
    /// A measure for all rows, unless it was computed before.
    pub(super) fn column(self, name: &Arc<str>, rows: usize, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
        let Some(memo) = self.memo.filter(|m| m.rows == rows && self.within != Within::Elsewhere) else { return run() };
        kept(&memo.columns[usize::from(self.reporting)], (name.clone(), self.within), run)
    }

    /// An item as filed for all rows, unless it was read before.
    pub(super) fn items(self, item: Item, rows: usize, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
        let shared = matches!(self.within, Within::Year(_) | Within::Quarter(_));
        let Some(memo) = self.memo.filter(|m| m.rows == rows && shared) else { return run() };
        kept(&memo.items, (item, self.within), run)
    }

    /// What depends on statements alone, computed once for each state of knowledge where the rows' states are known.
    pub(super) fn by_state<T: Copy>(self, rows: usize, one: impl Fn(usize) -> T) -> Vec<T> {
        let Some(memo) = self.memo.filter(|m| m.rows == rows && !m.states.is_empty()) else { return (0..rows).map(one).collect() };
        let ends = memo.states[1..].iter().copied().chain([rows]);
        let mut out = Vec::with_capacity(rows);
        memo.states.iter().zip(ends).for_each(|(&first, end)| out.resize(end, one(first)));
        out
    }

    /// A figure as filed, unless it was read before.
    pub(super) fn figure(self, row: &CompanyAt<'_>, taken: Taken, item: Item) -> Num {
        let is_sum = item.is_flow() && matches!(taken.span, FlowSpan::Quarters(..) | FlowSpan::Halves(..));
        let memo = self.memo.filter(|_| is_sum);
        let Some((memo, key)) = memo.zip(key(row, taken, item)) else { return figure(row, taken, item) };
        let key = (row.index, key);
        if let Some(known) = memo.sums.borrow().get(&key) {
            return *known;
        }
        let value = figure(row, taken, item);
        memo.sums.borrow_mut().insert(key, value);
        value
    }
}

fn kept<K: Hash + Eq>(columns: &Columns<K>, key: K, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
    if let Some(known) = columns.borrow().get(&key) {
        return known.clone();
    }
    let column = run();
    columns.borrow_mut().insert(key, column.clone());
    column
}

/// Filings known, splits known, the span and the item in one number; `None` where they do not fit or do not suffice.
fn key(row: &CompanyAt<'_>, taken: Taken, item: Item) -> Option<u64> {
    let (filings, splits) = row.statement_state()?;
    let end = u64::from(taken.end?);
    let span = u64::from(matches!(taken.span, FlowSpan::Halves(..)));
    let fits = filings < 1 << 20 && splits < 1 << 12 && end < 1 << 20;
    fits.then(|| u64::from(filings) << 40 | u64::from(splits) << 28 | end << 8 | span << 6 | item as u64)
}

//! What was read or computed before for the same rows: many formulas ask for the same figures and measures.

use super::spans::{Taken, Within};
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
    pub(super) rows: usize,
    /// Where all rows are of one company: the first row of each state of knowledge. Between two filings the figures of
    /// statements stay, so that they are read once a state.
    pub(super) states: Vec<usize>,
    /// Sums of quarters or halves by company and [`sum_key`]: many measures ask for the same, and it is read from many filings.
    pub(super) sums: RefCell<FxHashMap<(u32, u64), Num>>,
    /// Measures by name and where they are read: with amounts in the base currency, and in the reporting currency.
    pub(super) columns: [Columns<(Arc<str>, Within)>; 2],
    /// Items as filed.
    pub(super) items: Columns<(Item, Within)>,
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

/// A column, made unless it is there.
pub(super) fn columns_of<K: Hash + Eq>(columns: &Columns<K>, key: K, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
    if let Some(known) = columns.borrow().get(&key) {
        return known.clone();
    }
    let column = run();
    columns.borrow_mut().insert(key, column.clone());
    column
}

/// Filings known, splits known, the span and the item in one number; `None` where they do not fit or do not suffice.
pub(super) fn sum_key(row: &CompanyAt<'_>, taken: Taken, item: Item) -> Option<u64> {
    let (filings, splits) = row.statement_state()?;
    let end = u64::from(taken.end?);
    let span = u64::from(matches!(taken.span, FlowSpan::Halves(..)));
    let fits = filings < 1 << 20 && splits < 1 << 12 && end < 1 << 20;
    fits.then(|| u64::from(filings) << 40 | u64::from(splits) << 28 | end << 8 | span << 6 | item as u64)
}

//! Where and how the parts of a formula are answered, and what was read before for the same rows.

use super::{
    memo::{Memo, columns_of, sum_key},
    spans::{Taken, Within, figure},
};
use crate::{
    Num, Why,
    domain::{Item, ItemKind},
    panel::{CompanyAt, FlowSpan},
};
use std::sync::Arc;

pub(super) type Rows<'r, 'a> = &'r [CompanyAt<'a>];

/// Where and how a part is answered.
#[derive(Clone, Copy, Default)]
pub(super) struct Env<'e> {
    pub(super) spans: Option<&'e [Result<Taken, Why>]>,
    /// What those spans are.
    pub(super) within: Within,
    /// Amounts stay in the reporting currency: the answer does not depend on it.
    pub(super) reporting: bool,
    /// Figures read before for the same rows.
    pub(super) memo: Option<&'e Memo>,
}

impl Env<'_> {
    /// The same rows, each part in a time of its own.
    pub(super) fn own_time(&self) -> Self {
        Env { memo: self.memo, ..Env::default() }
    }
}

impl Env<'_> {
    /// A measure for all rows, unless it was computed before.
    pub(super) fn column(self, name: &Arc<str>, rows: usize, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
        let Some(memo) = self.memo.filter(|m| m.rows == rows && self.within != Within::Elsewhere) else { return run() };
        columns_of(&memo.columns[usize::from(self.reporting)], (name.clone(), self.within), run)
    }

    /// An item as filed for all rows, unless it was read before.
    pub(super) fn items(self, item: Item, rows: usize, run: impl FnOnce() -> Vec<Num>) -> Vec<Num> {
        let shared = matches!(self.within, Within::Year(_) | Within::Quarter(_) | Within::Half(_));
        let Some(memo) = self.memo.filter(|m| m.rows == rows && shared) else { return run() };
        columns_of(&memo.items, (item, self.within), run)
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
        let Some((memo, key)) = memo.zip(sum_key(row, taken, item)) else { return figure(row, taken, item) };
        let key = (row.index, key);
        if let Some(known) = memo.sums.borrow().get(&key) {
            return *known;
        }
        let value = figure(row, taken, item);
        memo.sums.borrow_mut().insert(key, value);
        value
    }
}

/// Runs a body in the k-th newest reported quarter or half-year.
pub(super) fn in_interim<T>(within: Within, rows: Rows<'_, '_>, env: Env<'_>, run: impl FnOnce(Env<'_>) -> T) -> T {
    let span = |i: usize| {
        let row = &rows[i];
        let (span, end) = match within {
            Within::Quarter(k) => row.quarter_back(k).map(|of| (FlowSpan::Quarter(of.0, of.1), row.quarter_end(of))),
            Within::Half(k) => row.half_back(k).map(|of| (FlowSpan::Half(of.0, of.1), row.half_end(of))),
            Within::Own | Within::Year(_) | Within::Elsewhere => Err(Why::NoAnswer),
        }?;
        Ok(Taken { span, end, pinned: true })
    };
    let spans = env.by_state(rows.len(), span);
    run(Env { spans: Some(&spans), within, ..env })
}

/// Runs a body in the newest span of twelve months in which one of the alternatives of flows is complete.
pub(super) fn in_span<T>(rows: Rows<'_, '_>, env: Env<'_>, flows: &[u64], reporting: bool, run: impl FnOnce(Env<'_>) -> T) -> T {
    let reporting = env.reporting || reporting;
    if env.spans.is_some() {
        return run(Env { reporting, ..env });
    }
    let spans = env.by_state(rows.len(), |i| newest_complete(&rows[i], flows, env));
    run(Env { spans: Some(&spans), within: Within::Elsewhere, reporting, ..env })
}

fn newest_complete(row: &CompanyAt<'_>, flows: &[u64], env: Env<'_>) -> Result<Taken, Why> {
    row.newest_period()?;
    let candidates = row.twelve_months().map(|span| span.map(|span| Taken { span, end: row.span_end(span), pinned: false }));
    let known = |taken: Taken, item: &Item| env.figure(row, taken, *item).is_ok();
    let complete = |taken: &Taken| flows.iter().any(|mask| Item::ALL.iter().filter(|i| mask & i.bit() != 0).all(|i| known(*taken, i)));
    let found = candidates.into_iter().flatten().find(complete);
    found.or(candidates[1]).or(candidates[0]).ok_or(Why::HistoryTooShort)
}

pub(super) fn items(item: Item, rows: Rows<'_, '_>, env: Env<'_>) -> Vec<Num> {
    let Some(spans) = env.spans else { return vec![Err(Why::NoItem(item)); rows.len()] };
    let read = || env.by_state(rows.len(), |i| spans[i].and_then(|taken| env.figure(&rows[i], taken, item)));
    let filed = env.items(item, rows.len(), read);
    if env.reporting {
        return filed;
    }
    let converted = |row: &CompanyAt<'_>, v: Num| match item.kind() {
        ItemKind::Flow | ItemKind::Balance => Ok(v? * row.reporting_to_base()?),
        ItemKind::PerShare => Ok(v? * row.reporting_to_listing()?),
        ItemKind::Shares | ItemKind::Ratio => v,
    };
    zip(rows, filed, converted)
}

pub(super) fn year_dividends(rows: Rows<'_, '_>, env: Env<'_>) -> Vec<Num> {
    let Some(spans) = env.spans else { return vec![Err(Why::NoAnswer); rows.len()] };
    let one = |(r, taken): (&CompanyAt<'_>, &Result<Taken, Why>)| {
        let year = (*taken)?.end.ok_or(Why::HistoryTooShort)?;
        crate::price::year_dividend(r, year)
    };
    rows.iter().zip(spans).map(one).collect()
}

pub(super) fn zip<R, V, T>(rows: &[R], values: Vec<V>, rule: impl Fn(&R, V) -> T) -> Vec<T> {
    rows.iter().zip(values).map(|(r, v)| rule(r, v)).collect()
}

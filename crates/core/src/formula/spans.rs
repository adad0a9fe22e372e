//! In which twelve months, year or quarter items are read.

use super::{
    eval::{Env, Rows, zip},
    memo::Within,
};
use crate::{
    Num, Why,
    domain::{Item, ItemKind},
    panel::{CompanyAt, FlowSpan, PeriodIndex},
};

/// The twelve months (or the fiscal year) in which a row's items are read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Taken {
    pub(super) span: FlowSpan,
    pub(super) end: Option<PeriodIndex>,
    /// Balances are those of the span's end, not the newest known.
    pub(super) pinned: bool,
}

/// Runs a body in the k-th newest reported quarter.
pub(super) fn in_quarter<T>(k: u32, rows: Rows<'_, '_>, env: Env<'_>, run: impl FnOnce(Env<'_>) -> T) -> T {
    let span = |i: usize| {
        let (year, quarter) = rows[i].quarter_back(k)?;
        Ok(Taken { span: FlowSpan::Quarter(year, quarter), end: rows[i].quarter_end((year, quarter)), pinned: true })
    };
    let spans = env.by_state(rows.len(), span);
    run(Env { spans: Some(&spans), within: Within::Quarter(k), ..env })
}

pub(super) fn year_dividends(rows: Rows<'_, '_>, env: Env<'_>) -> Vec<Num> {
    let Some(spans) = env.spans else { return vec![Err(Why::NoAnswer); rows.len()] };
    let one = |(r, taken): (&CompanyAt<'_>, &Result<Taken, Why>)| {
        let year = (*taken)?.end.ok_or(Why::HistoryTooShort)?;
        crate::price::year_dividend(r, year)
    };
    rows.iter().zip(spans).map(one).collect()
}

pub(super) fn pinned(period: Option<PeriodIndex>) -> Result<Taken, Why> {
    let p = period.ok_or(Why::HistoryTooShort)?;
    Ok(Taken { span: FlowSpan::Year(p), end: Some(p), pinned: true })
}

pub(super) fn year_before(row: &CompanyAt<'_>, end: Option<PeriodIndex>) -> Option<PeriodIndex> {
    let (year, period) = row.label(end?);
    row.find_period(year - 1, period)
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

/// An item of a row in its span, in the reporting currency.
pub(super) fn figure(row: &CompanyAt<'_>, taken: Taken, item: Item) -> Num {
    if item.is_flow() {
        row.flow(taken.span, item).ok_or(Why::NoItem(item))
    } else if taken.pinned {
        taken.end.and_then(|p| row.item(p, item)).ok_or(Why::NoItem(item))
    } else {
        row.latest_item(item).map(|found| found.1)
    }
}

//! In which twelve months, year or quarter items are read.

use crate::{
    Num, Why,
    domain::Item,
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
    /// In the k-th newest half-year.
    Half(u32),
    /// In spans that go with no other formula's.
    Elsewhere,
}

pub(super) fn pinned(period: Option<PeriodIndex>) -> Result<Taken, Why> {
    let p = period.ok_or(Why::HistoryTooShort)?;
    Ok(Taken { span: FlowSpan::Year(p), end: Some(p), pinned: true })
}

pub(super) fn year_before(row: &CompanyAt<'_>, end: Option<PeriodIndex>) -> Option<PeriodIndex> {
    let (year, period) = row.label(end?);
    row.find_period(year - 1, period)
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

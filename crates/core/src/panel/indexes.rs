//! Indexes: who belonged to them when, and their levels.

use crate::domain::{Currency, Day, Index, IndexLevel, IndexMember};
use std::{collections::BTreeMap, sync::Arc};

/// One index.
#[derive(Clone, Debug)]
pub(super) struct IndexPanel {
    pub(super) name: String,
    pub(super) currency: Currency,
    /// Company id with the days from and to which it belongs.
    members: Vec<(Arc<str>, Day, Option<Day>)>,
    levels: Vec<(Day, f64)>,
}

impl IndexPanel {
    /// The ids of the members at `t`: from ≤ t and (to empty or t < to).
    pub(super) fn members(&self, t: Day) -> impl Iterator<Item = &Arc<str>> {
        self.members.iter().filter(move |(_, from, to)| *from <= t && to.is_none_or(|to| t < to)).map(|m| &m.0)
    }

    /// Whether a company belongs to it at `t`.
    pub(super) fn has(&self, company: &str, t: Day) -> bool {
        let first = self.members.partition_point(|m| *m.0 < *company);
        let own = self.members[first..].iter().take_while(|m| *m.0 == *company);
        own.into_iter().any(|(_, from, to)| *from <= t && to.is_none_or(|to| t < to))
    }

    /// Until when a company belongs to it that belongs from a day; `None` when it does not.
    #[allow(clippy::option_option)]
    pub(super) fn end_of(&self, company: &str, from: Day) -> Option<Option<Day>> {
        self.members.iter().find(|m| *m.0 == *company && m.1 == from).map(|m| m.2)
    }

    /// The days from which members belong.
    pub(super) fn member_days(&self) -> impl Iterator<Item = Day> + '_ {
        self.members.iter().map(|m| m.1)
    }

    /// The days of all levels.
    pub(super) fn level_days(&self) -> impl Iterator<Item = Day> + '_ {
        self.levels.iter().map(|l| l.0)
    }

    /// The newest level on or before `t`.
    pub(super) fn level(&self, t: Day) -> Option<f64> {
        self.levels.partition_point(|l| l.0 <= t).checked_sub(1).map(|i| self.levels[i].1)
    }
}

/// All indexes by id.
pub(super) type Indexes = BTreeMap<Arc<str>, IndexPanel>;

/// Members and levels of unknown indexes are left out.
pub(super) fn indexes(known: Vec<Index>, members: Vec<IndexMember>, levels: &[IndexLevel]) -> Indexes {
    let blank = |i: Index| (i.id, IndexPanel { name: i.name, currency: i.currency, members: Vec::new(), levels: Vec::new() });
    let mut out: Indexes = known.into_iter().map(blank).collect();
    for m in members {
        if let Some(index) = out.get_mut(&m.index_id) {
            index.members.push((m.company_id, m.from, m.to));
        }
    }
    for l in levels {
        if let Some(index) = out.get_mut(&l.index_id) {
            index.levels.push((l.date, l.level));
        }
    }
    for index in out.values_mut() {
        index.members.sort();
        index.levels.sort_by_key(|l| l.0);
    }
    out
}

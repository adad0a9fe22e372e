//! What changed between two dates: who passes now and did not then, who no longer does, and by which criteria.

use super::{
    document::Screen,
    judged::{Judged, judge},
    universe::{Universe, UniverseError, universe},
};
use crate::{engine::Section, formula::Value, panel::CompanyIndex};
use std::{collections::BTreeSet, sync::Arc};

/// A criterion that a company meets on one of the two dates and not on the other.
#[derive(Clone, Debug, PartialEq)]
pub struct Turned {
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// What its formula was on the earlier date.
    pub then: Value,
    /// What it is on the later one.
    pub now: Value,
}

/// A company that passes on one of the two dates only.
#[derive(Clone, Debug, PartialEq)]
pub struct Change {
    /// The company.
    pub company: CompanyIndex,
    /// On the date on which it does not pass the screen does not look at it: not listed, outside the universe, under a floor.
    pub outside: bool,
    /// The criteria that turned; none where only the screen's limit was in its way.
    pub turned: Vec<Turned>,
}

/// Who came and who went, in order of symbol.
#[derive(Clone, Debug, PartialEq)]
pub struct Changes {
    /// Pass now and did not then.
    pub entered: Vec<Change>,
    /// Passed then and do not now.
    pub left: Vec<Change>,
    /// How many pass on both dates.
    pub stayed: usize,
}

/// Who entered and who left a screen from one date to a later one.
///
/// # Errors
/// When the universe cannot be formed on one of the dates, and a mistake in what is sorted by.
pub fn changes(screen: &Screen, then: &Section<'_>, now: &Section<'_>) -> Result<Changes, UniverseError> {
    let (before, after) = (Run::of(screen, then)?, Run::of(screen, now)?);
    let between = |of: &Run<'_, '_, '_>, others: &Run<'_, '_, '_>| -> Vec<Change> {
        let other = |company: &&CompanyIndex| !others.passing.contains(company);
        of.passing.iter().filter(other).map(|c| change(*c, of, others, &before, &after)).collect()
    };
    Ok(Changes {
        entered: between(&after, &before),
        left: between(&before, &after),
        stayed: after.passing.intersection(&before.passing).count(),
    })
}

/// A screen on one date.
struct Run<'r, 'c, 's> {
    section: &'r Section<'c>,
    universe: Arc<Universe>,
    judged: Vec<Judged<'s>>,
    passing: BTreeSet<CompanyIndex>,
}

impl<'r, 'c, 's> Run<'r, 'c, 's> {
    fn of(screen: &'s Screen, section: &'r Section<'c>) -> Result<Run<'r, 'c, 's>, UniverseError> {
        let passing = super::survivors(screen, section)?.into_iter().map(|place| section.members()[place]).collect();
        let universe = universe(section, &screen.universe)?;
        let (judged, _) = judge(screen, &universe.members, section);
        Ok(Run { section, universe, judged, passing })
    }

    /// The place of a company that the screen looks at.
    fn place(&self, company: CompanyIndex) -> Option<usize> {
        self.section.place(company).filter(|place| self.universe.members.contains(*place))
    }

    fn value(&self, i: usize, company: CompanyIndex) -> Option<Value> {
        Some(self.section.column(&self.judged[i].formula).value(self.section.place(company)?))
    }
}

/// Why a company passes on the date of one run and not on that of the other.
fn change(
    company: CompanyIndex,
    passes: &Run<'_, '_, '_>,
    fails: &Run<'_, '_, '_>,
    before: &Run<'_, '_, '_>,
    after: &Run<'_, '_, '_>,
) -> Change {
    let (Some(here), Some(there)) = (passes.place(company), fails.place(company)) else {
        return Change { company, outside: true, turned: Vec::new() };
    };
    let turned = |i: usize| {
        let turns = passes.judged[i].passes.contains(here) && !fails.judged[i].passes.contains(there);
        let (then, now) = (before.value(i, company)?, after.value(i, company)?);
        turns.then_some(Turned { criterion: passes.judged[i].place, then, now })
    };
    Change { company, outside: false, turned: (0..passes.judged.len()).filter_map(turned).collect() }
}

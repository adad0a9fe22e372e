//! What each criterion costs: who would be back without it, who nearly passes, and the distribution of the rest.

use super::{
    bounds::{Loosened, loosened},
    document::{Criterion, Need, Screen},
    judged::{CriterionResult, Judged},
    sets::{Members, Tally, nobody},
};
use crate::{
    engine::Section,
    formula::{Column, Value},
    panel::CompanyIndex,
};
use std::{cmp::Ordering, sync::Arc};

/// A company that exactly one criterion keeps out.
#[derive(Clone, Debug, PartialEq)]
pub struct NearMiss {
    /// The company.
    pub company: CompanyIndex,
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// The company's value.
    pub value: Value,
    /// Value less the nearer bound, for numbers with bounds.
    pub miss: Option<f64>,
    /// That as a share of the bound.
    pub miss_relative: Option<f64>,
    /// The bounds that would let it in.
    pub loosened: Option<Loosened>,
}

/// Who passes each block, and who would if it had one criterion less.
struct Standing {
    passes: Members,
    /// Who passes without a criterion, met or not.
    without_any: Members,
    /// Who passes without a criterion that is not met.
    without_failed: Members,
}

impl Standing {
    fn of<'a>(need: Need, criteria: impl Iterator<Item = &'a Members>, members: usize) -> Standing {
        let (mut tally, mut count) = (Tally::new(members), 0);
        criteria.for_each(|set| {
            tally.add(set);
            count += 1;
        });
        let needed = |count: usize| match need {
            Need::All => count,
            Need::Any => 1.min(count),
            Need::AtLeast(k) => k.min(count),
        };
        // Of those met one is gone, unless the one that is gone was not met.
        let rest = needed(count.max(1) - 1);
        Standing {
            passes: tally.at_least(needed(count)),
            without_any: tally.at_least(if rest == 0 { 0 } else { rest + 1 }),
            without_failed: tally.at_least(rest),
        }
    }

    /// Who passes as if a criterion of the block were not there.
    fn without(&self, criterion: &Members) -> Members {
        let mut out = self.without_failed.clone();
        out.difference_with(criterion);
        out |= &self.without_any;
        out
    }
}

/// How each company fares with each block: enough to answer any question about dropping one criterion.
pub(super) struct Standings {
    blocks: Vec<Standing>,
    universe: Members,
}

impl Standings {
    pub(super) fn new(screen: &Screen, judged: &[Judged<'_>], universe: &Members) -> Standings {
        let sets = |b: usize| judged.iter().filter(move |j| j.block == b).map(|j| &*j.passes);
        let standing = |(b, block): (usize, &super::Block)| Standing::of(block.need, sets(b), universe.len());
        Standings { blocks: screen.blocks.iter().enumerate().map(standing).collect(), universe: universe.clone() }
    }

    /// As if every answer that is not there let its company pass.
    pub(super) fn at_best(screen: &Screen, judged: &[Judged<'_>], universe: &Members) -> Standings {
        let mut at_best = judged.to_vec();
        at_best.iter_mut().for_each(|j| j.passes = Arc::new(&*j.passes | &j.answers.unknown));
        Standings::new(screen, &at_best, universe)
    }

    pub(super) fn block(&self, block: usize) -> &Members {
        &self.blocks[block].passes
    }

    /// Those of the universe who pass all blocks.
    pub(super) fn survivors(&self) -> Members {
        self.others(usize::MAX)
    }

    /// Those of the universe who pass all blocks but one.
    fn others(&self, but: usize) -> Members {
        let mut out = self.universe.clone();
        self.blocks.iter().enumerate().filter(|(b, _)| *b != but).for_each(|(_, s)| out &= &s.passes);
        out
    }

    /// Those of the universe who pass as if a criterion were not there.
    fn without(&self, j: &Judged<'_>, others: &Members) -> Members {
        let mut out = self.blocks[j.block].without(&j.passes);
        out &= others;
        out
    }
}

/// Companies that exactly one criterion keeps out.
pub(super) struct Near {
    /// How many.
    pub(super) count: usize,
    /// The nearest of them, nearest first.
    pub(super) nearest: Vec<NearMiss>,
}

/// Fills in each criterion's cost and histogram; tells who nearly passes, `most` of them with their distance.
pub(super) fn costs(
    judged: &[Judged<'_>],
    standings: &Standings,
    section: &Section<'_>,
    results: &mut [CriterionResult],
    most: usize,
) -> Near {
    let survivors = standings.survivors();
    let others: Vec<Members> = (0..standings.blocks.len()).map(|b| standings.others(b)).collect();
    // Whom dropping some criterion brings back, and whom dropping any of several does.
    let (mut once, mut twice) = (nobody(survivors.len()), nobody(survivors.len()));
    let mut brought_back = Vec::with_capacity(judged.len());
    for j in judged {
        let mut without = standings.without(j, &others[j.block]);
        let Criterion { min, max, .. } = j.criterion;
        results[j.place].histogram = j.answers.histogram(&without, [*min, *max].into_iter().flatten());
        without.difference_with(&survivors);
        results[j.place].back_if_dropped = without.count_ones(..);
        twice |= &(&once & &without);
        once |= &without;
        brought_back.push(without);
    }
    let mut misses = Vec::new();
    for (j, mut near) in judged.iter().zip(brought_back) {
        [&twice, &*j.passes, &j.answers.unknown].into_iter().for_each(|out| near.difference_with(out));
        let column = section.column(&j.formula);
        misses.extend(near.ones().map(|place| Miss::new(j, &column, place)));
    }
    nearest(misses, most, section)
}

/// How far a criterion keeps a company out.
struct Miss<'j> {
    place: usize,
    criterion: &'j Judged<'j>,
    /// Less the nearer bound, and that bound.
    distance: Option<(f64, f64)>,
}

impl<'j> Miss<'j> {
    fn new(criterion: &'j Judged<'j>, column: &Column, place: usize) -> Miss<'j> {
        let value = column.numbers().and_then(|n| n[place].ok());
        let bounds = [criterion.criterion.min, criterion.criterion.max].into_iter().flatten();
        let distances = value.into_iter().flat_map(|v| bounds.clone().map(move |bound| (v - bound, bound)));
        let distance = distances.min_by(|a, b| a.0.abs().total_cmp(&b.0.abs())).filter(|(m, _)| m.is_finite());
        Miss { place, criterion, distance }
    }

    /// As a share of the bound.
    fn relative(&self) -> Option<f64> {
        self.distance.and_then(|(miss, bound)| (bound != 0.0).then(|| miss / bound.abs()))
    }

    /// Nearest first, then in order of symbol.
    fn order(&self, other: &Miss<'_>) -> Ordering {
        let size = |m: &Miss<'_>| m.relative().map_or(f64::INFINITY, f64::abs);
        size(self).total_cmp(&size(other)).then(self.place.cmp(&other.place))
    }

    fn told(&self, section: &Section<'_>) -> NearMiss {
        let value = section.column(&self.criterion.formula).value(self.place);
        NearMiss {
            company: section.members()[self.place],
            criterion: self.criterion.place,
            loosened: value.number().ok().and_then(|v| loosened(self.criterion.criterion, v)),
            value,
            miss: self.distance.map(|(miss, _)| miss),
            miss_relative: self.relative(),
        }
    }
}

fn nearest(mut misses: Vec<Miss<'_>>, most: usize, section: &Section<'_>) -> Near {
    let count = misses.len();
    if most < count {
        misses.select_nth_unstable_by(most, Miss::order);
        misses.truncate(most);
    }
    misses.sort_unstable_by(Miss::order);
    Near { count, nearest: misses.iter().map(|m| m.told(section)).collect() }
}

//! What each criterion costs: who would be back without it, who nearly passes, and the distribution of the rest.

use super::{
    document::{Criterion, Need, Screen},
    histogram::Histogram,
    judged::{CriterionResult, Judged},
};
use crate::{
    formula::{Column, Value},
    panel::CompanyIndex,
};
use rayon::prelude::*;

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
}

/// How each company fares with each block: enough to answer any question about dropping one criterion.
pub(super) struct Standings {
    /// Enabled criteria of each block.
    counts: Vec<u32>,
    /// Criteria met, a row a block, a column a company.
    met: Vec<Vec<u32>>,
    /// Blocks not passed, a company each.
    failed: Vec<u32>,
    needs: Vec<Need>,
}

impl Standings {
    pub(super) fn new(screen: &Screen, judged: &[Judged<'_>], companies: usize) -> Standings {
        let blocks = screen.blocks.len();
        let mut out = Standings {
            counts: vec![0; blocks],
            met: vec![vec![0; companies]; blocks],
            failed: vec![0; companies],
            needs: screen.blocks.iter().map(|b| b.need).collect(),
        };
        for j in judged {
            out.counts[j.block] += 1;
            for (met, pass) in out.met[j.block].iter_mut().zip(&j.passes) {
                *met += u32::from(*pass == Ok(true));
            }
        }
        for block in 0..blocks {
            for company in 0..companies {
                out.failed[company] += u32::from(!out.block_passes(block, company));
            }
        }
        out
    }

    fn holds(&self, block: usize, count: u32, met: u32) -> bool {
        count == 0
            || match self.needs[block] {
                Need::All => met == count,
                Need::Any => met >= 1,
                Need::AtLeast(k) => met as usize >= k.min(count as usize),
            }
    }

    pub(super) fn block_passes(&self, block: usize, company: usize) -> bool {
        self.holds(block, self.counts[block], self.met[block][company])
    }

    pub(super) fn passes(&self, company: usize) -> bool {
        self.failed[company] == 0
    }

    /// The companies that pass, or would if some criterion were not there: nobody else need be looked at.
    fn near(&self) -> Vec<usize> {
        let one_short = |company: usize| {
            let block = (0..self.counts.len()).find(|b| !self.block_passes(*b, company));
            block.is_some_and(|b| self.holds(b, self.counts[b] - 1, self.met[b][company]))
        };
        let near = |&company: &usize| match self.failed[company] {
            0 => true,
            1 => one_short(company),
            _ => false,
        };
        (0..self.failed.len()).filter(near).collect()
    }

    /// Whether a company passes as if one criterion were not there.
    fn passes_without(&self, j: &Judged<'_>, company: usize) -> bool {
        let others_failed = self.failed[company] - u32::from(!self.block_passes(j.block, company));
        let met = self.met[j.block][company] - u32::from(j.passes[company] == Ok(true));
        others_failed == 0 && self.holds(j.block, self.counts[j.block] - 1, met)
    }
}

/// Fills in each criterion's cost and histogram; returns the near misses, nearest first.
pub(super) fn costs(
    judged: &[Judged<'_>],
    standings: &Standings,
    companies: &[CompanyIndex],
    results: &mut [CriterionResult],
) -> Vec<NearMiss> {
    let near = standings.near();
    let without = |j: &Judged<'_>| {
        let others: Vec<usize> = near.iter().copied().filter(|&i| standings.passes_without(j, i)).collect();
        let back: Vec<usize> = others.iter().copied().filter(|&i| !standings.passes(i)).collect();
        (back, histogram(&j.column, j.places, &others, j.criterion))
    };
    let costs: Vec<(Vec<usize>, Option<Histogram>)> = judged.par_iter().map(without).collect();
    // Of each company: how many criteria could each alone bring it back, and the last of them.
    let mut keepers: Vec<(usize, u32)> = vec![(0, 0); companies.len()];
    for (at, (back, histogram)) in costs.into_iter().enumerate() {
        back.iter().for_each(|&i| keepers[i] = (at, keepers[i].1 + 1));
        let result = &mut results[judged[at].place];
        (result.back_if_dropped, result.histogram) = (back.len(), histogram);
    }
    let nearly = |(i, &(at, count)): (usize, &(usize, u32))| {
        (count == 1 && judged[at].passes[i] == Ok(false)).then(|| near_miss(&judged[at], companies[i], i))
    };
    let mut misses: Vec<NearMiss> = keepers.iter().enumerate().filter_map(nearly).collect();
    // Companies stand in order of symbol, and the sort is stable.
    misses.sort_by(|a, b| {
        let size = |m: &NearMiss| m.miss_relative.map_or(f64::INFINITY, f64::abs);
        size(a).total_cmp(&size(b))
    });
    misses
}

fn near_miss(j: &Judged<'_>, company: CompanyIndex, i: usize) -> NearMiss {
    let value = j.column.value(j.places[i]);
    let distance = |bound: f64| value.number().ok().map(|v| (v - bound, bound));
    let misses = [j.criterion.min, j.criterion.max].into_iter().flatten().filter_map(distance);
    let nearest = misses.min_by(|a, b| a.0.abs().total_cmp(&b.0.abs())).filter(|(m, _)| m.is_finite());
    NearMiss {
        company,
        criterion: j.place,
        value,
        miss: nearest.map(|(m, _)| m),
        miss_relative: nearest.and_then(|(m, bound)| (bound != 0.0).then(|| m / bound.abs())),
    }
}

fn histogram(column: &Column, places: &[usize], companies: &[usize], criterion: &Criterion) -> Option<Histogram> {
    let numbers = column.numbers()?;
    let values = companies.iter().filter_map(|&i| numbers[places[i]].ok()).filter(|v| v.is_finite()).collect();
    Histogram::of(values, [criterion.min, criterion.max].into_iter().flatten())
}

//! The ranked list of buy candidates.

use crate::{
    Num,
    domain::Day,
    engine::Context,
    panel::CompanyIndex,
    stats,
    valuation::{Valuation, Verdict},
};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// How much each figure counts in the score; only their proportions matter.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Weights {
    /// Of the margin of safety.
    pub margin_of_safety: f64,
    /// Of the quality.
    pub quality: f64,
    /// Of the expected return.
    pub expected_return: f64,
    /// Of insiders' net buying over a year, as a share of the company.
    pub insider_buying: f64,
}

impl Default for Weights {
    fn default() -> Weights {
        Weights { margin_of_safety: 0.4, quality: 0.3, expected_return: 0.2, insider_buying: 0.1 }
    }
}

impl Weights {
    const fn all(self) -> [f64; 4] {
        [self.margin_of_safety, self.quality, self.expected_return, self.insider_buying]
    }
}

/// A candidate in its place.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// The company.
    pub company: CompanyIndex,
    /// The valuations of all companies.
    valuations: Arc<Vec<Valuation>>,
    /// What price, value and quality say.
    pub verdict: Verdict,
    /// 0–100 among those ranked; undefined when none of the four figures is known.
    pub score: Option<f64>,
    /// The rank of each of the four figures among those ranked: margin of safety, quality, expected return, insiders.
    pub ranks: [Option<f64>; 4],
}

impl Candidate {
    /// The company's own valuation and quality.
    #[must_use]
    pub fn value(&self) -> &Valuation {
        &self.valuations[self.company as usize]
    }
}

/// Ranks companies: by verdict, then by score, highest first, then by symbol. Scores are weighted means of ranks within
/// the set; a ratio ranks companies of any share price, while value − price would only sort by share price.
#[must_use]
pub fn rank(context: &Context, t: Day, companies: &[CompanyIndex], weights: Weights) -> Vec<Candidate> {
    let valuations = context.valuations(t);
    let figures: [fn(&Valuation) -> Num; 4] =
        [Valuation::margin_of_safety, |v| v.quality.score, |v| v.expected_return, |v| v.quality.insider_buying];
    let of = |figure: fn(&Valuation) -> Num| {
        ranked(&companies.iter().map(|c| figure(&valuations[*c as usize]).ok()).collect::<Vec<Option<f64>>>())
    };
    let ranks: Vec<Vec<Option<f64>>> = figures.into_par_iter().map(of).collect();
    let candidate = |(i, &company): (usize, &CompanyIndex)| {
        let ranks: [Option<f64>; 4] = std::array::from_fn(|k| ranks[k][i]);
        Candidate {
            company,
            verdict: valuations[company as usize].verdict(&context.settings().assumptions),
            score: score(&ranks, weights),
            ranks,
            valuations: valuations.clone(),
        }
    };
    let mut out: Vec<_> = companies.iter().enumerate().map(candidate).collect();
    let score = |c: &Candidate| c.score.unwrap_or(f64::NEG_INFINITY);
    // Positions are in order of symbol.
    out.sort_by(|a, b| a.verdict.cmp(&b.verdict).then_with(|| score(b).total_cmp(&score(a))).then(a.company.cmp(&b.company)));
    out
}

/// Each value's rank among the known ones, 0 the lowest and 100 the highest; 50 when it is the only one.
fn ranked(values: &[Option<f64>]) -> Vec<Option<f64>> {
    let mut known: Vec<f64> = values.iter().flatten().copied().collect();
    known.sort_by(f64::total_cmp);
    let one = |v: f64| if known.len() == 1 { 50.0 } else { stats::rank_in_sorted(v, &known) };
    values.iter().map(|v| v.map(one)).collect()
}

/// Σ weight × rank ÷ Σ weight over the figures that are known.
fn score(ranks: &[Option<f64>; 4], weights: Weights) -> Option<f64> {
    let known = ranks.iter().zip(weights.all()).filter_map(|(r, w)| Some((w, (*r)?)));
    let (weight, sum) = known.fold((0.0, 0.0), |(w, s), (weight, rank)| (w + weight, s + weight * rank));
    (weight > 0.0).then(|| sum / weight)
}

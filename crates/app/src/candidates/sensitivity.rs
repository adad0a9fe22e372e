//! How the first ten change under other assumptions.

use artemon_core::{
    domain::Day,
    engine::{Context, Settings},
    ranking::{self, Weights},
    valuation::{Assumptions, Verdict},
};
use serde::Serialize;
use utoipa::ToSchema;

/// How many of the first are looked at under other assumptions.
const TEN: usize = 10;

/// Who enters and who leaves the first ten under a change of assumptions.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SensitivityAnswer {
    /// The change in words.
    pub change: &'static str,
    pub enter: Vec<String>,
    pub leave: Vec<String>,
    /// How many are in range then.
    pub in_range: usize,
}

/// The first ten again for a required return a point higher and lower, and for a margin ten points wider and narrower.
pub(super) fn sensitivity(
    context: &Context,
    t: Day,
    companies: &[u32],
    weights: Weights,
    ranked: &[ranking::Candidate],
) -> Vec<SensitivityAnswer> {
    let first = |all: &[ranking::Candidate]| all.iter().take(TEN).map(|c| c.company).collect::<Vec<u32>>();
    let now = first(ranked);
    let a = &context.settings().assumptions;
    let changes = [
        ("Required return one point higher", Assumptions { required_return: a.required_return.raised(0.01), ..a.clone() }),
        ("Required return one point lower", Assumptions { required_return: a.required_return.raised(-0.01), ..a.clone() }),
        ("Margin ten points wider", Assumptions { margin: (a.margin + 0.10).min(0.9), ..a.clone() }),
        ("Margin ten points narrower", Assumptions { margin: (a.margin - 0.10).max(0.0), ..a.clone() }),
    ];
    let one = |(change, assumptions): (&'static str, Assumptions)| {
        let other = context.with(Settings { assumptions, ..context.settings().clone() });
        let then = ranking::rank(&other, t, companies, weights);
        let ten = first(&then);
        let named =
            |of: &[u32], not: &[u32]| of.iter().filter(|c| !not.contains(c)).map(|c| context.snapshot().symbol(*c).to_owned()).collect();
        let in_range = then.iter().filter(|c| c.verdict == Verdict::InRange).count();
        SensitivityAnswer { change, enter: named(&ten, &now), leave: named(&now, &ten), in_range }
    };
    changes.into_iter().map(one).collect()
}

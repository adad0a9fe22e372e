//! The ranked list of buy candidates.

use crate::{
    panel::{AsOf, CompanyIndex},
    valuation::{Standing, Valuation},
};
use std::sync::Arc;

/// A candidate in its place.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// The company.
    pub company: CompanyIndex,
    /// The valuations of all companies.
    valuations: Arc<Vec<Valuation>>,
    /// Where its price stands against what one is willing to pay.
    pub standing: Standing,
}

impl Candidate {
    /// The company's own valuation.
    #[must_use]
    pub fn value(&self) -> &Valuation {
        &self.valuations[self.company as usize]
    }
}

/// Ranks companies: by standing at the margin, then by margin of safety, highest first, then by symbol. A ratio ranks
/// companies of any share price; value − price would only sort by share price.
#[must_use]
pub fn rank(view: AsOf<'_>, companies: &[CompanyIndex], margin: f64) -> Vec<Candidate> {
    let valuations = crate::valuation::value_all(view);
    let close = view.settings.assumptions.close_within;
    let candidate = |&company: &CompanyIndex| Candidate {
        company,
        standing: valuations[company as usize].standing(margin, close),
        valuations: valuations.clone(),
    };
    let mut out: Vec<_> = companies.iter().map(candidate).collect();
    let safety = |c: &Candidate| c.value().margin_of_safety().unwrap_or(f64::NEG_INFINITY);
    // Positions are in order of symbol.
    out.sort_by(|a, b| a.standing.cmp(&b.standing).then_with(|| safety(b).total_cmp(&safety(a))).then(a.company.cmp(&b.company)));
    out
}

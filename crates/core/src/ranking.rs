//! The ranked list of buy candidates.

use crate::{
    panel::CompanyAt,
    valuation::{Standing, Valuation},
};
use std::{cmp::Ordering, sync::Arc};

/// A candidate in its place.
#[derive(Clone, Debug)]
pub struct Candidate<'a> {
    /// The company.
    pub company: CompanyAt<'a>,
    /// Its valuation.
    pub valuation: Arc<Vec<Valuation>>,
    /// Where its price stands against what one is willing to pay.
    pub standing: Standing,
}

impl Candidate<'_> {
    /// The company's own valuation.
    #[must_use]
    pub fn value(&self) -> &Valuation {
        &self.valuation[self.company.index as usize]
    }
}

/// Ranks companies: by standing at the margin, then by margin of safety, highest first, then by symbol. A ratio ranks
/// companies of any share price; value − price would only sort by share price.
#[must_use]
pub fn rank<'a>(companies: &[CompanyAt<'a>], margin: f64) -> Vec<Candidate<'a>> {
    let Some(first) = companies.first() else { return Vec::new() };
    let valuations = crate::valuation::value_all(first.view);
    let close = first.view.settings.assumptions.close_within;
    let candidate = |c: &CompanyAt<'a>| Candidate {
        company: *c,
        standing: valuations[c.index as usize].standing(margin, close),
        valuation: valuations.clone(),
    };
    let mut out: Vec<_> = companies.iter().map(candidate).collect();
    out.sort_by(|a, b| {
        let safety = |c: &Candidate<'_>| c.value().margin_of_safety().unwrap_or(f64::NEG_INFINITY);
        a.standing
            .cmp(&b.standing)
            .then_with(|| safety(b).partial_cmp(&safety(a)).unwrap_or(Ordering::Equal))
            .then_with(|| a.company.symbol().cmp(b.company.symbol()))
    });
    out
}

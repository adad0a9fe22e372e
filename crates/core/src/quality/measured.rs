//! What was measured of a company for a component, and its score.

use super::scale::Scale;
use crate::{Num, Why};

/// A component as measured of a company.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measured {
    /// Its position in [`super::COMPONENTS`].
    pub component: usize,
    /// What was measured.
    pub value: Num,
    /// The score whatever was measured: full where nothing is owed, none where the base is a loss.
    pub whatever: Option<f64>,
    /// 0–1.
    pub score: Num,
}

impl Measured {
    pub(super) fn new(component: usize, value: Num, whatever: Option<f64>, scale: &Scale) -> Measured {
        let score = match (value, whatever) {
            (Err(Why::NotMeaningful), _) => Err(Why::NotMeaningful),
            (_, Some(score)) => Ok(score),
            (value, None) => value.map(|v| scale.of(component).score(v)),
        };
        Measured { component, value, whatever, score }
    }
}

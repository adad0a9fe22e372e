//! Whom a person follows.

use crate::panel::CompanyIndex;

/// A company that a person follows.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Followed {
    /// The company.
    pub company: CompanyIndex,
    /// The price that the person would pay, a traded unit in the listing's currency of today; the computed one when none is typed.
    pub typed: Option<f64>,
}

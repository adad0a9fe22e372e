//! The growth scenarios.

use super::{Assumptions, Inputs};
use crate::{Num, domain::codes};

codes! {
    /// A view of how fast earnings grow in the first five years.
    Scenario "a growth scenario" {
        /// As in the past five years.
        Past = "past",
        /// As analysts expect.
        Analysts = "analysts",
        /// What the business can finance itself.
        Sustainable = "sustainable",
        /// With inflation.
        Inflation = "inflation",
        /// Not at all.
        None = "none",
    }
}

impl Scenario {
    /// The weight of the scenario in a model's mean.
    #[must_use]
    pub const fn weight(self) -> f64 {
        match self {
            Scenario::Past => 0.25,
            Scenario::Analysts | Scenario::Sustainable | Scenario::Inflation => 0.20,
            Scenario::None => 0.15,
        }
    }
}

/// The growth of each scenario, within the bounds.
pub(super) fn growths(inputs: &Inputs, a: &Assumptions) -> Vec<(Scenario, Num)> {
    let growth = |s| match s {
        Scenario::Past => inputs.past_growth,
        Scenario::Analysts => inputs.analysts_growth,
        Scenario::Sustainable => inputs.sustainable_growth(a),
        Scenario::Inflation => inputs.inflation,
        Scenario::None => Ok(0.0),
    };
    Scenario::ALL.iter().map(|s| (*s, growth(*s).map(|g| g.clamp(a.growth_bounds.0, a.growth_bounds.1)))).collect()
}

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
        /// As the user thinks.
        Own = "own",
    }
}

/// The growth of each scenario, within the bounds; "own" only where one is given.
pub(super) fn growths(inputs: &Inputs, a: &Assumptions) -> Vec<(Scenario, Num)> {
    let growth = |s: Scenario| {
        Some(match s {
            Scenario::Past => inputs.past_growth,
            Scenario::Analysts => inputs.analysts_growth,
            Scenario::Sustainable => inputs.sustainable_growth(a),
            Scenario::Inflation => inputs.inflation,
            Scenario::None => Ok(0.0),
            Scenario::Own => Ok(a.own_growth?),
        })
    };
    let within = |g: Num| g.map(|g| g.clamp(a.growth_bounds.0, a.growth_bounds.1));
    Scenario::ALL.iter().filter_map(|s| Some((*s, within(growth(*s)?)))).collect()
}

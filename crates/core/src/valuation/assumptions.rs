//! The assumptions of a valuation: named, versioned, shown with every value.

use crate::{Num, domain::RateSeries, panel::CompanyAt};
use serde::Serialize;

/// How the required return is set.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum RequiredReturn {
    /// The same for all.
    Fixed(f64),
    /// AAA corporate yield of the reporting currency plus this.
    OverAaa(f64),
    /// Ten-year government yield of the reporting currency plus this.
    OverGovernment(f64),
}

/// An assumption set. Rates are fractions a year.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Assumptions {
    /// Its name.
    pub name: String,
    /// Required return r.
    pub required_return: RequiredReturn,
    /// The required return when it depends on rates is never below this.
    pub least_required_return: f64,
    /// Horizon N in years.
    pub horizon: u32,
    /// Years at the scenario's growth, before the fade.
    pub growth_years: u32,
    /// Terminal growth gT.
    pub terminal_growth: f64,
    /// Terminal growth stays at least this far below the discount rate.
    pub terminal_gap: f64,
    /// Bounds of a scenario's growth.
    pub growth_bounds: (f64, f64),
    /// Bounds of the exit price/earnings multiple.
    pub exit_pe: (f64, f64),
    /// Exit multiple where the own history gives none.
    pub usual_pe: f64,
    /// Bounds of the exit price/FFO multiple of property companies.
    pub exit_pffo: (f64, f64),
    /// Persistence ω of excess return after the horizon.
    pub persistence: f64,
    /// Modified z-score beyond which a valuation is set apart.
    pub outlier_cut: f64,
    /// Required margin of safety.
    pub margin: f64,
    /// Least quality, 0–100, of a company that one would buy.
    pub least_quality: f64,
    /// Prices this close to value are "around value".
    pub fair_band: f64,
    /// Tax rate where none can be computed.
    pub tax_rate: f64,
    /// Growth a company can finance itself is held at or below this.
    pub sustainable_cap: f64,
    /// Inflation where no rate is known.
    pub usual_inflation: f64,
    /// Cost of debt where no AAA yield is known, and the highest.
    pub cost_of_debt: (f64, f64),
    /// The discount rate of the firm is never further than this below r.
    pub leverage_floor: f64,
    /// A price at most this far above buy-below is "close".
    pub close_within: f64,
}

impl Assumptions {
    /// The set that ships with the product.
    #[must_use]
    pub fn standard() -> Assumptions {
        Assumptions {
            name: "Standard".to_owned(),
            required_return: RequiredReturn::Fixed(0.09),
            least_required_return: 0.07,
            horizon: 10,
            growth_years: 5,
            terminal_growth: 0.025,
            terminal_gap: 0.03,
            growth_bounds: (-0.10, 0.20),
            exit_pe: (8.0, 20.0),
            usual_pe: 15.0,
            exit_pffo: (8.0, 22.0),
            persistence: 0.6,
            outlier_cut: 3.5,
            margin: 0.25,
            least_quality: 60.0,
            fair_band: 0.10,
            tax_rate: 0.25,
            sustainable_cap: 0.15,
            usual_inflation: 0.03,
            cost_of_debt: (0.05, 0.15),
            leverage_floor: 0.03,
            close_within: 0.10,
        }
    }

    /// A text that is equal for sets that give equal valuations; the margin and the least quality are
    /// applied afterwards and take no part.
    #[must_use]
    pub fn key(&self) -> String {
        format!("{:?}", Assumptions { margin: 0.0, least_quality: 0.0, close_within: 0.0, ..self.clone() })
    }

    /// The required return r for a company at its date.
    pub fn required_return(&self, c: &CompanyAt<'_>) -> Num {
        match self.required_return {
            RequiredReturn::Fixed(r) => Ok(r),
            RequiredReturn::OverAaa(premium) => Ok((c.rate(RateSeries::AaaCorporateYield)? + premium).max(self.least_required_return)),
            RequiredReturn::OverGovernment(premium) => {
                Ok((c.rate(RateSeries::Government10yYield)? + premium).max(self.least_required_return))
            }
        }
    }
}

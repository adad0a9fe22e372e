//! The assumptions of a valuation: named, versioned, shown with every value.

use super::{Inputs, Model, Scenario, path::MOST_YEARS};
use crate::{
    Num,
    domain::codes,
    formula::{Depends, Fingerprint},
    limits::{self, TEXT},
    quality::{Anchors, Scale, check_anchors},
};
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, fmt::Debug};

codes! {
    /// What the earnings of the start are.
    EarningsBase "a choice of starting earnings" {
        /// Of the latest twelve months.
        Ltm = "ltm",
        /// The mean of three fiscal years.
        Average3 = "average3",
        /// The mean of five fiscal years.
        Average5 = "average5",
        /// The median net margin of five fiscal years × revenue of the latest twelve months.
        Normal = "normal",
    }
}

/// How the required return is set.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum RequiredReturn {
    /// The same for all.
    Fixed(f64),
    /// AAA corporate yield of the reporting currency plus this.
    OverAaa(f64),
    /// Ten-year government yield of the reporting currency plus this.
    OverGovernment(f64),
}

impl RequiredReturn {
    /// Higher by so much a year.
    #[must_use]
    pub const fn raised(self, by: f64) -> RequiredReturn {
        match self {
            RequiredReturn::Fixed(r) => RequiredReturn::Fixed(r + by),
            RequiredReturn::OverAaa(premium) => RequiredReturn::OverAaa(premium + by),
            RequiredReturn::OverGovernment(premium) => RequiredReturn::OverGovernment(premium + by),
        }
    }
}

/// An assumption set. Rates are fractions a year. What a document leaves out is as in the shipped set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Assumptions {
    /// Its name.
    pub name: String,
    /// Which version of the name it is, from 1; 0 for the shipped one.
    pub version: u32,
    /// What the earnings of the start are.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub earnings: EarningsBase,
    /// Pay in shares counts as cash spent.
    pub cash_after_stock_pay: bool,
    /// Net buying back of shares counts as paid out.
    pub payout_with_buybacks: bool,
    /// Growth of the scenario "own", which then counts alone.
    pub own_growth: Option<f64>,
    /// How much each scenario counts in a model's mean: past, analysts, sustainable, inflation, none. One of weight 0 takes
    /// part in nothing.
    pub scenario_weights: [f64; 5],
    /// How much each model counts in the one value, by number. One of weight 0 takes part in nothing.
    pub model_weights: [f64; 9],
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
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<f64>))]
    pub growth_bounds: (f64, f64),
    /// Bounds of the exit price/earnings multiple.
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<f64>))]
    pub exit_pe: (f64, f64),
    /// Exit multiple where the own history gives none.
    pub usual_pe: f64,
    /// Bounds of the exit price/FFO multiple of property companies.
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<f64>))]
    pub exit_pffo: (f64, f64),
    /// Persistence ω of excess return after the horizon.
    pub persistence: f64,
    /// Modified z-score beyond which a valuation is set apart.
    pub outlier_cut: f64,
    /// Required margin of safety.
    pub margin: f64,
    /// How much the required margin grows from full agreement of the valuations to none; 0 when it does not.
    pub wider_when_unsure: f64,
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
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<f64>))]
    pub cost_of_debt: (f64, f64),
    /// The discount rate of the firm is never further than this below r.
    pub leverage_floor: f64,
    /// A price at most this far above buy-below is "close".
    pub close_within: f64,
    /// Fiscal years whose mean operating margin is the one that lasts.
    pub margin_years: u32,
    /// Fiscal years whose multiples make the range of the next twelve months.
    pub range_years: u32,
    /// How often growth, required return and exit multiple are drawn.
    pub draws: u32,
    /// Months without a filing that raise a flag: of those who report by the quarter, by the half-year, by the year.
    pub quiet_months: [u32; 3],
    /// How components of quality count, by id; those that it does not name count as in the shipped set.
    pub quality: BTreeMap<String, Anchors>,
}

impl Assumptions {
    /// The set that ships with the product.
    #[must_use]
    pub fn standard() -> Assumptions {
        Assumptions {
            name: STANDARD.to_owned(),
            version: 0,
            earnings: EarningsBase::Ltm,
            cash_after_stock_pay: false,
            payout_with_buybacks: false,
            own_growth: None,
            scenario_weights: [0.25, 0.20, 0.20, 0.20, 0.15],
            model_weights: [1.0; 9],
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
            wider_when_unsure: 0.0,
            least_quality: 60.0,
            fair_band: 0.10,
            tax_rate: 0.25,
            sustainable_cap: 0.15,
            usual_inflation: 0.03,
            cost_of_debt: (0.05, 0.15),
            leverage_floor: 0.03,
            close_within: 0.10,
            margin_years: 5,
            range_years: 5,
            draws: 10_000,
            quiet_months: [5, 8, 14],
            quality: BTreeMap::new(),
        }
    }

    /// How it is named beside a value.
    #[must_use]
    pub fn label(&self) -> String {
        if self.version == 0 { self.name.clone() } else { format!("{}, version {}", self.name, self.version) }
    }

    /// Equal for sets that are equal in the assumptions on which something depends. Every assumption is named here: one that
    /// is added does not compile until it is said what depends on it.
    #[must_use]
    pub fn fingerprint(&self, on: Depends) -> Fingerprint {
        let Assumptions {
            name: _,
            version: _,
            earnings,
            cash_after_stock_pay,
            payout_with_buybacks,
            own_growth,
            scenario_weights,
            model_weights,
            required_return,
            least_required_return,
            horizon,
            growth_years,
            terminal_growth,
            terminal_gap,
            growth_bounds,
            exit_pe,
            usual_pe,
            exit_pffo,
            persistence,
            outlier_cut,
            margin,
            wider_when_unsure,
            least_quality,
            fair_band,
            tax_rate,
            sustainable_cap,
            usual_inflation,
            cost_of_debt,
            leverage_floor,
            close_within,
            margin_years,
            range_years,
            draws,
            quiet_months,
            quality,
        } = self;
        let start = (earnings, cash_after_stock_pay, payout_with_buybacks, usual_inflation, margin_years);
        let weights = (own_growth, scenario_weights, model_weights, outlier_cut);
        let rates = (required_return, least_required_return, cost_of_debt, leverage_floor);
        let course = (horizon, growth_years, terminal_growth, terminal_gap, growth_bounds, persistence, sustainable_cap);
        let exits = (exit_pe, usual_pe, exit_pffo);
        let verdict = (margin, wider_when_unsure, least_quality, fair_band, close_within);
        let groups: [(Depends, &dyn Debug); 8] = [
            (Depends::TAX, tax_rate),
            (Depends::START, &start),
            (Depends::VALUE, &(weights, rates, course, exits)),
            (Depends::VERDICT, &verdict),
            (Depends::RANGE, range_years),
            (Depends::DRAWS, draws),
            (Depends::QUALITY, quiet_months),
            (Depends::SCALE, quality),
        ];
        Fingerprint::of(&groups.map(|(group, values)| on.has(group).then_some(values)))
    }

    /// From what draws are seeded: all that makes a valuation.
    pub(super) fn seed(&self) -> String {
        let shipped = Assumptions::standard();
        let Assumptions { name, version, margin, wider_when_unsure, least_quality, close_within, fair_band, .. } = shipped;
        format!("{:?}", Assumptions { name, version, margin, wider_when_unsure, least_quality, close_within, fair_band, ..self.clone() })
    }

    /// How the components of quality count, where it is not as in the shipped set.
    #[must_use]
    pub fn scale(&self) -> Option<Scale> {
        (!self.quality.is_empty()).then(|| Scale::with(&self.quality)).filter(|own| own != Scale::shipped())
    }

    /// The required return r of a company.
    pub fn required_return(&self, inputs: &Inputs) -> Num {
        match self.required_return {
            RequiredReturn::Fixed(r) => Ok(r),
            RequiredReturn::OverAaa(premium) => Ok((inputs.aaa_yield? + premium).max(self.least_required_return)),
            RequiredReturn::OverGovernment(premium) => Ok((inputs.government_yield? + premium).max(self.least_required_return)),
        }
    }

    /// How much a scenario counts: where there is an own growth, it alone does.
    #[must_use]
    pub fn scenario_weight(&self, scenario: Scenario) -> f64 {
        match (scenario, self.own_growth) {
            (Scenario::Own, Some(_)) => 1.0,
            (Scenario::Own, None) | (_, Some(_)) => 0.0,
            (other, None) => self.scenario_weights[other as usize],
        }
    }

    /// How much a model counts.
    #[must_use]
    pub const fn model_weight(&self, model: Model) -> f64 {
        self.model_weights[model as usize]
    }

    /// A margin m as required of a value: with the option m + (1 − agreement) × the widening, at most 60 %.
    #[must_use]
    pub fn required_margin(&self, margin: f64, agreement: Num) -> f64 {
        if self.wider_when_unsure <= 0.0 {
            return margin;
        }
        let unsure = 1.0 - agreement.unwrap_or(0.0);
        (margin + unsure * self.wider_when_unsure).min(WIDEST_MARGIN.max(margin))
    }

    /// What is wrong with the set, if anything, in words.
    ///
    /// # Errors
    /// A sentence that names the assumption, its bounds and what was given.
    pub fn check(&self) -> Result<(), String> {
        let r = match self.required_return {
            RequiredReturn::Fixed(r) | RequiredReturn::OverAaa(r) | RequiredReturn::OverGovernment(r) => r,
        };
        let single: [Bounded; 17] = [
            ("the required return", percent, r, 0.0, 0.5),
            ("the least required return", percent, self.least_required_return, 0.0, 0.5),
            ("terminal growth", percent, self.terminal_growth, -0.1, 0.1),
            ("the gap below the discount rate", percent, self.terminal_gap, 0.005, 0.2),
            ("the persistence of excess return", percent, self.persistence, 0.0, 0.99),
            ("the outlier cut", plain, self.outlier_cut, 1.0, 100.0),
            ("the margin", percent, self.margin, 0.0, 0.9),
            ("the widening of the margin", percent, self.wider_when_unsure, 0.0, 0.6),
            ("the least quality", plain, self.least_quality, 0.0, 100.0),
            ("the fair band", percent, self.fair_band, 0.0, 0.9),
            ("the tax rate", percent, self.tax_rate, 0.0, 0.9),
            ("the cap of sustainable growth", percent, self.sustainable_cap, 0.0, 0.5),
            ("usual inflation", percent, self.usual_inflation, -0.1, 1.0),
            ("the leverage floor", percent, self.leverage_floor, 0.0, 0.2),
            ("\"close\"", percent, self.close_within, 0.0, 1.0),
            ("the usual multiple", plain, self.usual_pe, 1.0, 100.0),
            ("the own growth", percent, self.own_growth.unwrap_or_default(), -0.5, 0.6),
        ];
        within(single)?;
        let pairs: [Bounded<(f64, f64)>; 4] = [
            ("the bounds of growth", percent, self.growth_bounds, -0.9, 1.0),
            ("the bounds of the exit multiple", plain, self.exit_pe, 0.1, 200.0),
            ("the bounds of the exit multiple of property", plain, self.exit_pffo, 0.1, 200.0),
            ("the cost of debt", percent, self.cost_of_debt, 0.0, 0.5),
        ];
        for (what, write, (low, high), least, most) in pairs {
            if !(low <= high && low >= least && high <= most) {
                let [low, high, least, most] = [low, high, least, most].map(write);
                return Err(format!("{what} are {low} and {high}; the lower comes first, and both lie between {least} and {most}"));
            }
        }
        let weights = |all: &[f64]| all.iter().all(|w| (0.0..=100.0).contains(w)) && all.iter().sum::<f64>() > 0.0;
        if !weights(&self.scenario_weights) || !weights(&self.model_weights) {
            return Err("weights must lie between 0 and 100, and one of them above 0".to_owned());
        }
        if !(1..=MOST_YEARS).contains(&(self.horizon as usize)) || !(1..=30).contains(&self.growth_years) {
            return Err("the horizon and the years of growth must lie between 1 and 30".to_owned());
        }
        let counts: [(&str, u32, u32, u32); 6] = [
            ("the number of years of the operating margin", self.margin_years, 1, 10),
            ("the number of years of the multiple range", self.range_years, 3, 10),
            ("the number of draws", self.draws, 1_000, 100_000),
            ("the number of months without a quarterly filing", self.quiet_months[0], 1, 60),
            ("the number of months without a half-yearly filing", self.quiet_months[1], 1, 60),
            ("the number of months without a yearly filing", self.quiet_months[2], 1, 60),
        ];
        within(counts.map(|(what, value, least, most)| (what, plain as fn(f64) -> String, value.into(), least.into(), most.into())))?;
        check_anchors(&self.quality)
    }
}

/// A bound or what stands beyond it, as people write it: 0.09 as 9 %.
fn percent(x: f64) -> String {
    format!("{} %", (x * 1e6).round() / 1e4)
}

fn plain(x: f64) -> String {
    x.to_string()
}

/// What an assumption is called, how it is written, its value and its bounds.
type Bounded<V = f64> = (&'static str, fn(f64) -> String, V, f64, f64);

fn within(all: impl IntoIterator<Item = Bounded>) -> Result<(), String> {
    let beyond = all.into_iter().find(|(_, _, value, least, most)| !(least..=most).contains(&value));
    beyond.map_or(Ok(()), |(what, write, value, least, most)| {
        Err(format!("{what} is {}, and must lie between {} and {}", write(value), write(least), write(most)))
    })
}

impl Default for Assumptions {
    fn default() -> Assumptions {
        Assumptions::standard()
    }
}

/// The name of the set that ships.
const STANDARD: &str = "Standard";
/// The margin does not grow beyond this.
const WIDEST_MARGIN: f64 = 0.60;

/// What the user assumes of one company instead of what the set says and the filings give.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Override {
    /// Growth of the first years: the scenario "own".
    pub own_growth: Option<f64>,
    /// Required return.
    pub required_return: Option<f64>,
    /// Exit multiple of earnings (of FFO for property companies), beyond its bounds too.
    pub exit_multiple: Option<f64>,
    /// Starting earnings a traded unit in the listing's currency.
    pub earnings: Option<f64>,
    /// Starting free cash flow a traded unit in the listing's currency.
    pub cash_flow: Option<f64>,
    /// Required margin of safety.
    pub margin: Option<f64>,
    /// Soundness in the user's own judgement, 1 (best) to 4.
    pub soundness: Option<u8>,
    /// Why.
    pub reason: String,
}

impl Override {
    /// Whether it changes nothing.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        *self == Override { reason: self.reason.clone(), ..Override::default() }
    }

    /// What is wrong with it, if anything, in words.
    ///
    /// # Errors
    /// A sentence that names the assumption, its bounds and what was given.
    pub fn check(&self) -> Result<(), String> {
        let all: [Bounded<Option<f64>>; 7] = [
            ("the own growth", percent, self.own_growth, -0.5, 0.6),
            ("the required return", percent, self.required_return, 0.0, 0.5),
            ("the exit multiple", plain, self.exit_multiple, 0.1, 200.0),
            ("starting earnings", plain, self.earnings, -1e9, 1e9),
            ("starting free cash flow", plain, self.cash_flow, -1e9, 1e9),
            ("the margin", percent, self.margin, 0.0, 0.9),
            ("soundness", plain, self.soundness.map(f64::from), 1.0, 4.0),
        ];
        within(all.into_iter().filter_map(|(what, write, value, least, most)| Some((what, write, value?, least, most))))?;
        limits::fits(&self.reason, TEXT).map_err(|problem| format!("the reason is too long: {problem}"))?;
        let unexplained = self.soundness.is_some() && self.reason.trim().is_empty();
        if unexplained { Err("a soundness of your own needs a reason".to_owned()) } else { Ok(()) }
    }

    /// The set and the starting figures of this company.
    #[must_use]
    pub fn applied(&self, a: &Assumptions, inputs: &Inputs) -> (Assumptions, Inputs) {
        let (mut a, mut inputs) = (a.clone(), inputs.clone());
        a.own_growth = self.own_growth.or(a.own_growth);
        a.required_return = self.required_return.map_or(a.required_return, RequiredReturn::Fixed);
        a.margin = self.margin.unwrap_or(a.margin);
        if let Some(x) = self.exit_multiple {
            (a.exit_pe, a.exit_pffo) = ((x, x), (x, x));
        }
        inputs.earnings = self.earnings.map_or(inputs.earnings, Ok);
        inputs.cash_flow = self.cash_flow.map_or(inputs.cash_flow, Ok);
        (a, inputs)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Why;

    #[test]
    fn the_margin_grows_as_the_valuations_disagree() {
        let wider = Assumptions { wider_when_unsure: 0.2, ..Assumptions::standard() };
        let asked = [Ok(1.0), Ok(0.5), Ok(0.0), Err(Why::TooLittle)].map(|agreement| wider.required_margin(0.25, agreement));
        assert_eq!(asked, [0.25, 0.35, 0.45, 0.45]);
        assert_eq!((wider.required_margin(0.5, Ok(0.0)), wider.required_margin(0.8, Ok(0.0))), (0.6, 0.8));
        assert_eq!(Assumptions::standard().required_margin(0.25, Ok(0.0)), 0.25);
    }

    #[test]
    fn a_set_that_cannot_be_meant_is_refused_in_words() {
        let standard = Assumptions::standard();
        assert_eq!(standard.check(), Ok(()));
        let wrong = [
            Assumptions { required_return: RequiredReturn::Fixed(9.0), ..standard.clone() },
            Assumptions { exit_pe: (20.0, 8.0), ..standard.clone() },
            Assumptions { scenario_weights: [0.0; 5], ..standard.clone() },
            Assumptions { horizon: 0, ..standard.clone() },
            Assumptions { margin: f64::NAN, ..standard },
        ];
        for set in &wrong {
            assert!(set.check().is_err(), "{set:?}");
        }
        assert_eq!(wrong[0].check().unwrap_err(), "the required return is 900 %, and must lie between 0 % and 50 %");
        let own = Override { soundness: Some(1), ..Override::default() };
        let because = |reason: String| Override { reason, ..own.clone() }.check();
        assert!(own.check().is_err() && because("I know the owners.".to_owned()).is_ok());
        assert!(because("é".repeat(TEXT)).is_ok() && because("é".repeat(TEXT + 1)).unwrap_err().ends_with("at most 4,000 characters"));
    }
}

//! The documented JSON form of a backtest.

use crate::{
    domain::{Currency, Day},
    screening::Screen,
};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// The most companies that a portfolio holds.
pub const MOST_HELD: usize = 50;
/// The highest cost of trading, in basis points of the amount traded.
const HIGHEST_COST: f64 = 1_000.0;
/// Months between rebalances.
pub const INTERVALS: [u32; 4] = [1, 3, 6, 12];

/// A backtest: a screen, when and how it is bought, and what it is compared with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Backtest {
    /// Another package than the one at hand, in the documents of tests.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(ignore))]
    pub package: Option<String>,
    /// Its document, or the name of a screen that is kept or ships with the product.
    pub screen: ScreenRef,
    #[allow(missing_docs)]
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub from: Day,
    #[allow(missing_docs)]
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub to: Day,
    /// Months between rebalances: 1, 3, 6 or 12.
    #[serde(default = "three")]
    pub every: u32,
    /// How many are held; all that pass, at most 50, when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub top: Option<usize>,
    /// What they are picked by; the screen's order when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// Whether the highest come first.
    #[serde(default = "yes")]
    pub descending: bool,
    #[serde(default)]
    #[allow(missing_docs)]
    pub weights: Weights,
    /// The highest weight of one company, under weights by market value.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_weight: Option<f64>,
    /// Cost of every amount traded, in basis points.
    #[serde(default = "twenty")]
    pub cost_bps: f64,
    /// The currency of amounts, and of floors of the universe.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub base: Currency,
    #[serde(default)]
    #[allow(missing_docs)]
    pub benchmark: Benchmark,
    #[serde(default)]
    #[allow(missing_docs)]
    #[cfg_attr(feature = "openapi", schema(value_type = ExitForm))]
    pub exit: Exit,
    /// Where chance begins.
    #[serde(default = "one")]
    pub seed: u64,
}

const fn three() -> u32 {
    3
}

const fn yes() -> bool {
    true
}

const fn twenty() -> f64 {
    20.0
}

const fn one() -> u64 {
    1
}

/// A screen, or the name of one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum ScreenRef {
    Name(String),
    Document(Box<Screen>),
}

/// How money is divided among those that are held.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema), schema(as = PortfolioWeights))]
#[allow(missing_docs)]
pub enum Weights {
    #[default]
    Equal,
    MarketCap,
}

/// What a backtest is compared with.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Benchmark {
    /// The screen's universe, equally weighted.
    #[default]
    UniverseEqual,
    /// The screen's universe, weighted by market value.
    UniverseCap,
    /// An index by id.
    Index(String),
}

/// When what is held is sold.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub enum Exit {
    /// At the next rebalance.
    #[default]
    Rebalance,
    /// Each by a rule of its own.
    Each(ExitRule),
}

/// When one company is sold: at the first of these.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ExitRule {
    /// So much was gained, as a fraction of what was put in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gain: Option<f64>,
    /// The price reached the intrinsic value.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub at_value: bool,
    /// So many months went by since the decision.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub months: Option<u32>,
}

/// How an exit is written: `"rebalance"`, which holds to the next rebalance, or the rule.
#[derive(Serialize, Deserialize)]
#[serde(untagged)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
enum ExitForm {
    Word(String),
    Rule(ExitRule),
}

impl Serialize for Exit {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        match self {
            Exit::Rebalance => s.serialize_str("rebalance"),
            Exit::Each(rule) => rule.serialize(s),
        }
    }
}

impl<'de> Deserialize<'de> for Exit {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Exit, D::Error> {
        match ExitForm::deserialize(d) {
            Ok(ExitForm::Word(word)) if word == "rebalance" => Ok(Exit::Rebalance),
            Ok(ExitForm::Rule(rule)) => Ok(Exit::Each(rule)),
            _ => Err(serde::de::Error::custom("exit is \"rebalance\" or an object with gain, at_value or months")),
        }
    }
}

impl Exit {
    /// The rule for each company, if there is one.
    #[must_use]
    pub const fn rule(&self) -> Option<ExitRule> {
        match self {
            Exit::Rebalance => None,
            Exit::Each(rule) => Some(*rule),
        }
    }
}

/// Settings that cannot be meant.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[allow(missing_docs)]
pub enum SettingsError {
    #[error("It begins on {0} and ends on {1}: choose a first day before the last.")]
    Days(Day, Day),
    #[error("It cannot rebalance every {0} months: choose 1, 3, 6 or 12.")]
    Interval(u32),
    #[error("It cannot hold {0} companies: choose between 1 and 50, or leave the number out to hold all that pass.")]
    Top(usize),
    #[error("A cost of {0} basis points cannot be meant: choose between 0 and 1,000.")]
    Cost(f64),
    #[error("A highest weight of {0} cannot be meant: choose more than 0 and at most 1, which is everything.")]
    MaxWeight(f64),
    #[error("A highest weight needs weights by market value: equal weights have none.")]
    MaxWeightOfEqual,
    #[error("A sale at a gain of {0} cannot be meant: choose more than 0, such as 0.4 for 40 %.")]
    Gain(f64),
    #[error("A sale after {0} months cannot be meant: choose between 1 and 240.")]
    Months(u32),
    #[error("The exit rule says nothing: give a gain, a number of months or the intrinsic value, or hold to the next rebalance.")]
    NoExit,
}

impl Backtest {
    /// Refuses settings that cannot be meant, whatever the data.
    ///
    /// # Errors
    /// The first of them.
    pub fn check(&self) -> Result<(), SettingsError> {
        if self.from >= self.to {
            return Err(SettingsError::Days(self.from, self.to));
        }
        if !INTERVALS.contains(&self.every) {
            return Err(SettingsError::Interval(self.every));
        }
        if let Some(top) = self.top.filter(|top| !(1..=MOST_HELD).contains(top)) {
            return Err(SettingsError::Top(top));
        }
        if !(0.0..=HIGHEST_COST).contains(&self.cost_bps) {
            return Err(SettingsError::Cost(self.cost_bps));
        }
        if let Some(most) = self.max_weight {
            if self.weights != Weights::MarketCap {
                return Err(SettingsError::MaxWeightOfEqual);
            }
            if !(most > 0.0 && most <= 1.0) {
                return Err(SettingsError::MaxWeight(most));
            }
        }
        self.exit.rule().map_or(Ok(()), ExitRule::check)
    }

    /// The cost of an amount traded, as a fraction.
    #[must_use]
    pub fn cost(&self) -> f64 {
        self.cost_bps / 10_000.0
    }

    /// The most companies held at once.
    #[must_use]
    pub fn places(&self) -> usize {
        self.top.unwrap_or(MOST_HELD)
    }
}

impl ExitRule {
    fn check(self) -> Result<(), SettingsError> {
        match (self.gain, self.months) {
            (None, None) if !self.at_value => Err(SettingsError::NoExit),
            (Some(gain), _) if !(gain > 0.0 && gain.is_finite()) => Err(SettingsError::Gain(gain)),
            (_, Some(months)) if !(1..=240).contains(&months) => Err(SettingsError::Months(months)),
            _ => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::{Value, json};

    fn settings(change: Value) -> Result<Backtest, serde_json::Error> {
        let mut all = json!({"screen": "x", "from": "2010-01-31", "to": "2020-01-31", "base": "ZOC"});
        let parts: serde_json::Map<String, Value> = serde_json::from_value(change).expect("an object");
        all.as_object_mut().expect("an object").extend(parts);
        serde_json::from_value(all)
    }

    /// Each setting just within its limits, and just outside.
    #[test]
    fn each_setting_has_its_limits() {
        let within = [
            json!({"to": "2010-02-01"}),
            json!({"every": 12}),
            json!({"top": 1}),
            json!({"top": 50}),
            json!({"cost_bps": 0}),
            json!({"cost_bps": 1000}),
            json!({"weights": "market_cap", "max_weight": 1}),
            json!({"exit": {"gain": 0.001}}),
            json!({"exit": {"months": 240}}),
            json!({"exit": {"at_value": true}}),
        ];
        for change in within {
            assert_eq!(settings(change.clone()).expect("understood").check(), Ok(()), "{change}");
        }
        let outside = [
            (json!({"to": "2010-01-31"}), "choose a first day before the last"),
            (json!({"every": 2}), "choose 1, 3, 6 or 12"),
            (json!({"top": 0}), "between 1 and 50"),
            (json!({"top": 51}), "between 1 and 50"),
            (json!({"cost_bps": -0.1}), "between 0 and 1,000"),
            (json!({"cost_bps": 1000.1}), "between 0 and 1,000"),
            (json!({"weights": "market_cap", "max_weight": 0}), "more than 0 and at most 1"),
            (json!({"weights": "market_cap", "max_weight": 1.01}), "more than 0 and at most 1"),
            (json!({"max_weight": 0.1}), "equal weights have none"),
            (json!({"exit": {"gain": 0}}), "choose more than 0"),
            (json!({"exit": {"gain": 0.5, "months": 241}}), "between 1 and 240"),
            (json!({"exit": {"months": 0}}), "between 1 and 240"),
            (json!({"exit": {}}), "says nothing"),
        ];
        for (change, said) in outside {
            let refused = settings(change.clone()).expect("understood").check().expect_err("refused").to_string();
            assert!(refused.contains(said), "{change}: {refused}");
        }
    }

    /// A setting that is misspelt is not passed over: it would change what is tested.
    #[test]
    fn what_is_not_a_setting_is_refused() {
        for change in [json!({"evry": 3}), json!({"weights": "some"})] {
            assert!(settings(change.clone()).is_err(), "{change}");
        }
    }

    /// What is not understood is refused with what would be.
    #[test]
    fn an_exit_is_a_word_or_a_rule() {
        let read = |json: &str| serde_json::from_str::<Exit>(json);
        assert_eq!(read("\"rebalance\"").unwrap(), Exit::Rebalance);
        let rule = ExitRule { gain: Some(0.4), at_value: false, months: Some(18) };
        assert_eq!(read(r#"{"gain": 0.4, "months": 18}"#).unwrap(), Exit::Each(rule));
        assert_eq!(serde_json::to_string(&Exit::Each(rule)).unwrap(), r#"{"gain":0.4,"months":18}"#);
        for wrong in ["\"tomorrow\"", r#"{"gains": 0.4}"#, "3"] {
            assert!(read(wrong).unwrap_err().to_string().starts_with("exit is \"rebalance\" or an object"), "{wrong}");
        }
    }
}

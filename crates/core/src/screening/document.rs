//! The documented JSON form of a screen.

use crate::{
    domain::{Day, Kind},
    limits::{BLOCKS, FORMULAS, KEYS, NAMES, at_most},
};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// A screen: a universe, blocks of criteria, columns and order. Bounds are inclusive and in stored units.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Screen {
    #[serde(default)]
    pub name: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub as_of: Option<Day>,
    #[serde(default)]
    pub universe: ScreenUniverse,
    #[serde(default, deserialize_with = "at_most::<_, _, BLOCKS>")]
    pub blocks: Vec<Block>,
    #[serde(default, deserialize_with = "at_most::<_, _, FORMULAS>")]
    pub columns: Vec<String>,
    #[serde(default, deserialize_with = "at_most::<_, _, KEYS>")]
    pub sort: Vec<SortKey>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub limit: Option<usize>,
}

/// Whom to look among. Empty lists do not restrict; funds are out unless kinds are given.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ScreenUniverse {
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    pub countries: Vec<String>,
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    pub sectors: Vec<String>,
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    pub industries: Vec<String>,
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "openapi", schema(value_type = Vec<String>))]
    pub kinds: Vec<Kind>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub index: Option<String>,
    /// The name of one of the person's lists.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub list: Option<String>,
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    pub symbols: Vec<String>,
    /// Least price in the base currency.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min_price: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min_market_cap: Option<f64>,
    /// Least traded value a day over 50 sessions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min_traded_value: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub order: Option<OrderFloor>,
}

impl ScreenUniverse {
    /// The same whatever the size and trading.
    pub(super) fn without_floors(&self) -> ScreenUniverse {
        ScreenUniverse { min_price: None, min_market_cap: None, min_traded_value: None, order: None, ..self.clone() }
    }
}

/// An order of this amount may be at most this share of a day's trading.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct OrderFloor {
    pub amount: f64,
    pub max_share: f64,
}

/// How many criteria of a block a company must meet.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Need {
    /// Every one.
    #[default]
    All,
    /// At least one.
    Any,
    /// At least this many.
    AtLeast(usize),
}

/// How `need` is written.
#[cfg(feature = "openapi")]
#[derive(utoipa::ToSchema, Serialize)]
#[serde(untagged)]
#[allow(dead_code)]
enum NeedForm {
    /// "all" or "any".
    Word(String),
    /// At least this many.
    Count(usize),
}

impl Serialize for Need {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        match self {
            Need::All => s.serialize_str("all"),
            Need::Any => s.serialize_str("any"),
            Need::AtLeast(k) => k.serialize(s),
        }
    }
}

impl<'de> Deserialize<'de> for Need {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Need, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Raw {
            Word(String),
            Count(usize),
        }
        match Raw::deserialize(d)? {
            Raw::Word(w) if w == "all" => Ok(Need::All),
            Raw::Word(w) if w == "any" => Ok(Need::Any),
            Raw::Count(k) if k >= 1 => Ok(Need::AtLeast(k)),
            _ => Err(serde::de::Error::custom("need is \"all\", \"any\" or a whole number from 1")),
        }
    }
}

/// Criteria of which a company must meet all, any or some.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Block {
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(value_type = NeedForm))]
    pub need: Need,
    #[serde(default, deserialize_with = "at_most::<_, _, FORMULAS>")]
    pub criteria: Vec<Criterion>,
}

/// A formula with bounds: a number between `min` and `max`, a flag that is true, a text that is one of some.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Criterion {
    pub formula: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<NeedForm>))]
    pub equals: Option<serde_json::Value>,
    #[serde(default, deserialize_with = "at_most::<_, _, NAMES>", skip_serializing_if = "Vec::is_empty")]
    pub one_of: Vec<String>,
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub negate: bool,
    #[serde(default = "yes", skip_serializing_if = "Clone::clone")]
    pub enabled: bool,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

const fn yes() -> bool {
    true
}

/// A column to sort by.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SortKey {
    pub formula: String,
    #[serde(default)]
    pub descending: bool,
}

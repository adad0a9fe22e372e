//! What a person does with a ledger, as a document; docs/ledger.md has its form.

use super::event::{Account, Good, SellRule, Side};
use crate::domain::{Currency, Day};
use rust_decimal::Decimal;
use serde::{Deserialize, Deserializer, Serialize};
use std::sync::Arc;

/// A ledger to be worked from its first day on.
#[derive(Clone, Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LedgerDocument<B> {
    #[allow(missing_docs)]
    #[serde(default)]
    pub name: String,
    /// The currency of totals.
    pub base: Currency,
    /// What holdings are compared with.
    #[serde(default)]
    pub index: Option<String>,
    /// How the simulated broker works.
    #[serde(default)]
    pub broker: B,
    #[allow(missing_docs)]
    pub accounts: Vec<Account>,
    /// The last day worked.
    pub to: Day,
    /// The days of which the accounts are told.
    #[serde(default)]
    pub report: Vec<Day>,
    /// In order of date; those of one day in the order in which they are written.
    pub entries: Vec<Entry>,
}

/// What is done with an account on a day, after the close.
#[derive(Clone, Debug, Deserialize)]
#[allow(missing_docs)]
pub struct Entry {
    pub date: Day,
    pub account: Arc<str>,
    #[serde(flatten)]
    pub what: Instruction,
}

/// How much of a security.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Quantity {
    #[allow(missing_docs)]
    Of(Decimal),
    /// All that is held.
    All,
}

impl<'de> Deserialize<'de> for Quantity {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Quantity, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Written {
            Number(Decimal),
            Word(String),
        }
        match Written::deserialize(from)? {
            Written::Number(n) => Ok(Quantity::Of(n)),
            Written::Word(word) if word == "all" => Ok(Quantity::All),
            Written::Word(word) => Err(serde::de::Error::custom(format!("\"{word}\" is no quantity: it is a number or \"all\""))),
        }
    }
}

/// What is done.
#[derive(Clone, Debug, Deserialize)]
#[serde(tag = "do", rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Instruction {
    Deposit { amount: Decimal },
    Withdraw { amount: Decimal },
    Buy(Wanted),
    Sell(Wanted),
    Cancel { order: Arc<str> },
    RecordBuy(Traded),
    RecordSell(Traded),
    RecordIncome { what: Arc<str>, amount: Decimal },
    RecordPrice { what: Arc<str>, price: Decimal },
}

/// An order that is wanted.
#[derive(Clone, Debug, Deserialize)]
#[allow(missing_docs)]
pub struct Wanted {
    pub order: Arc<str>,
    pub symbol: String,
    #[serde(default)]
    pub at: AtWord,
    #[serde(default)]
    pub limit: Option<Decimal>,
    #[serde(default)]
    pub quantity: Option<Quantity>,
    /// In the account's currency, instead of a quantity.
    #[serde(default)]
    pub amount: Option<Decimal>,
    #[serde(default = "a_day")]
    pub good: Good,
    #[serde(default)]
    pub sell_rule: Option<SellRuleWords>,
    #[serde(default)]
    pub lots: Vec<u64>,
}

/// At a limit or at market.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum AtWord {
    #[default]
    Limit,
    Market,
}

const fn a_day() -> Good {
    Good::Day
}

/// A sell rule as it is written: a price or a gain, and how long that order is to work.
#[derive(Clone, Copy, Debug, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct SellRuleWords {
    #[serde(default)]
    pub price: Option<Decimal>,
    #[serde(default)]
    pub gain: Option<Decimal>,
    #[serde(default)]
    pub good: Option<Good>,
}

/// The rule that is written, until cancelled unless it says otherwise; `None` where it names neither price nor gain.
#[must_use]
pub fn sell_rule_of(words: &SellRuleWords) -> Option<(SellRule, Good)> {
    let rule = words.price.map(SellRule::Price).or(words.gain.map(SellRule::Gain))?;
    Some((rule, words.good.unwrap_or(Good::UntilCancelled)))
}

/// A trade that was made elsewhere.
#[derive(Clone, Debug, Deserialize)]
#[allow(missing_docs)]
pub struct Traded {
    pub what: Arc<str>,
    pub quantity: Decimal,
    pub price: Decimal,
    #[serde(default)]
    pub multiplier: Option<Decimal>,
    /// The account's when absent.
    #[serde(default)]
    pub currency: Option<Currency>,
    #[serde(default)]
    pub fee: Option<Decimal>,
    #[serde(default)]
    pub lots: Vec<u64>,
}

impl Instruction {
    /// The side of an order or trade.
    #[must_use]
    pub const fn side(&self) -> Option<Side> {
        match self {
            Instruction::Buy(_) | Instruction::RecordBuy(_) => Some(Side::Buy),
            Instruction::Sell(_) | Instruction::RecordSell(_) => Some(Side::Sell),
            _ => None,
        }
    }
}

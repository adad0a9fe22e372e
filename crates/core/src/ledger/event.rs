//! What can happen in a ledger.

use crate::domain::{ActionKind, Currency, Day};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::{fmt, str::FromStr, sync::Arc};

/// How an account is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AccountKind {
    /// Orders are worked by the simulated broker.
    Simulated,
    /// What happened elsewhere is recorded.
    ByHand,
}

/// Which lots a sale takes first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LotRule {
    /// The oldest, after those that the sale names.
    #[default]
    FirstInFirstOut,
    /// All purchases are one pool, at their average cost.
    Average,
}

/// An account.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Account {
    /// Unlike that of any other account of the ledger.
    pub name: Arc<str>,
    /// Of its cash.
    pub currency: Currency,
    #[allow(missing_docs)]
    pub kind: AccountKind,
    #[allow(missing_docs)]
    #[serde(default)]
    pub lots: LotRule,
}

/// What is held: a company's shares, or anything else by its name.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Security {
    /// Shares of a company of the dataset.
    Listed {
        /// Its id.
        company: Arc<str>,
        /// Its symbol when this was written.
        symbol: Arc<str>,
    },
    /// Anything else, such as a bond.
    Other {
        /// Its name.
        what: Arc<str>,
    },
}

impl Security {
    /// What tells it from others, whatever its symbol becomes.
    #[must_use]
    pub fn key(&self) -> &Arc<str> {
        match self {
            Security::Listed { company, .. } => company,
            Security::Other { what } => what,
        }
    }

    /// As people call it.
    #[must_use]
    pub fn name(&self) -> &Arc<str> {
        match self {
            Security::Listed { symbol, .. } => symbol,
            Security::Other { what } => what,
        }
    }
}

/// Bought or sold.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Side {
    Buy,
    Sell,
}

/// At what price an order may be filled.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "at", content = "limit")]
pub enum At {
    /// At the open of the next session.
    Market,
    /// At this price, in the currency of the listing, or a better one.
    Limit(Decimal),
}

impl At {
    /// The price, where there is one.
    #[must_use]
    pub const fn limit(self) -> Option<Decimal> {
        match self {
            At::Market => None,
            At::Limit(limit) => Some(limit),
        }
    }
}

/// How long an order works.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Good {
    /// In the next session only.
    Day,
    /// Up to and with this day.
    Until(Day),
    /// Until it is filled or cancelled.
    UntilCancelled,
}

impl fmt::Display for Good {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Good::Day => f.write_str("day"),
            Good::Until(day) => day.fmt(f),
            Good::UntilCancelled => f.write_str("until_cancelled"),
        }
    }
}

impl FromStr for Good {
    type Err = String;
    fn from_str(s: &str) -> Result<Good, String> {
        match s {
            "day" => Ok(Good::Day),
            "until_cancelled" => Ok(Good::UntilCancelled),
            _ => s.parse().map(Good::Until).map_err(|_| format!("\"{s}\" is not \"day\", \"until_cancelled\" or a day such as 2026-09-30")),
        }
    }
}

impl Serialize for Good {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Good {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Good, D::Error> {
        String::deserialize(from)?.parse().map_err(serde::de::Error::custom)
    }
}

/// At what price to sell what was bought.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum SellRule {
    /// At this price.
    Price(Decimal),
    /// So much above the average price paid, as a fraction.
    Gain(Decimal),
}

/// An order as it is given.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Order {
    /// Unlike that of any other order of the ledger.
    pub order: Arc<str>,
    #[allow(missing_docs)]
    pub side: Side,
    #[allow(missing_docs)]
    #[serde(flatten)]
    pub security: Security,
    #[allow(missing_docs)]
    #[serde(flatten)]
    pub at: At,
    /// Shares.
    pub quantity: Decimal,
    #[allow(missing_docs)]
    pub good: Good,
    /// The purchase whose sell rule it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub linked_to: Option<Arc<str>>,
    /// Of a purchase: what is to be done with what is bought, and how long that order is to work.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sell_rule: Option<(SellRule, Good)>,
    /// Of a sale: the purchases whose lots it takes first, by the number of their event.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lots: Vec<u64>,
}

/// A trade made elsewhere.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Recorded {
    #[allow(missing_docs)]
    pub side: Side,
    #[allow(missing_docs)]
    #[serde(flatten)]
    pub security: Security,
    #[allow(missing_docs)]
    pub quantity: Decimal,
    /// Of one, in the currency of the trade.
    pub price: Decimal,
    /// What the price is of: 100 of an option contract on 100 shares.
    pub multiplier: Decimal,
    /// Of the trade.
    pub currency: Currency,
    /// From it to the account's.
    pub rate: Decimal,
    /// In the account's currency.
    pub fee: Decimal,
    /// Of a sale: the purchases whose lots it takes first, by the number of their event.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lots: Vec<u64>,
}

impl Recorded {
    /// Quantity × price × multiplier × rate: in the account's currency, without the fee.
    #[must_use]
    pub fn value(&self) -> Decimal {
        self.quantity * self.price * self.multiplier * self.rate
    }
}

/// What happened.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "event", rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum What {
    Deposit {
        amount: Decimal,
    },
    Withdrawal {
        amount: Decimal,
    },
    Order(Order),
    /// Part of an order was filled: `price` in the listing's currency, `rate` from it to the account's; `fee` in the account's.
    Fill {
        order: Arc<str>,
        quantity: Decimal,
        price: Decimal,
        rate: Decimal,
        fee: Decimal,
    },
    /// A split changed an order.
    OrderAdjusted {
        order: Arc<str>,
        ratio: Decimal,
        left: Decimal,
        limit: Option<Decimal>,
    },
    OrderCancelled {
        order: Arc<str>,
        left: Decimal,
        why: String,
    },
    OrderExpired {
        order: Arc<str>,
    },
    /// So many shares for one.
    Split {
        #[serde(flatten)]
        security: Security,
        ratio: Decimal,
    },
    /// A dividend went ex: what is due, in the listing's currency.
    DividendDue {
        #[serde(flatten)]
        security: Security,
        kind: ActionKind,
        quantity: Decimal,
        per_share: Decimal,
        pay_date: Day,
    },
    /// It was paid; `rate` from the listing's currency to the account's.
    DividendPaid {
        #[serde(flatten)]
        security: Security,
        kind: ActionKind,
        amount: Decimal,
        rate: Decimal,
    },
    /// The share left the exchange, at this price in the listing's currency.
    Delisted {
        #[serde(flatten)]
        security: Security,
        price: Decimal,
        rate: Decimal,
    },
    Recorded(Recorded),
    /// Interest, a dividend or the like, in the account's currency; below zero what was paid, such as a custody fee.
    RecordedIncome {
        #[serde(flatten)]
        security: Security,
        amount: Decimal,
    },
    /// Part of what was paid comes back, in the account's currency: it makes the lots cheaper.
    CapitalReturned {
        #[serde(flatten)]
        security: Security,
        amount: Decimal,
    },
    /// An order that works is changed: its limit in the listing's currency, what is left of it, how long it works.
    OrderChanged {
        order: Arc<str>,
        limit: Option<Decimal>,
        left: Decimal,
        good: Good,
    },
    /// What one of it costs now, in the currency of its last trade.
    RecordedPrice {
        #[serde(flatten)]
        security: Security,
        price: Decimal,
    },
}

impl What {
    /// The security that it is about, where it says so itself.
    #[must_use]
    pub const fn security(&self) -> Option<&Security> {
        match self {
            What::Order(order) => Some(&order.security),
            What::Split { security, .. }
            | What::DividendDue { security, .. }
            | What::DividendPaid { security, .. }
            | What::Delisted { security, .. }
            | What::RecordedIncome { security, .. }
            | What::CapitalReturned { security, .. }
            | What::RecordedPrice { security, .. } => Some(security),
            What::Recorded(trade) => Some(&trade.security),
            _ => None,
        }
    }
}

/// Something that happened to an account on a day.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct Event {
    pub date: Day,
    pub account: Arc<str>,
    #[serde(flatten)]
    pub what: What,
}

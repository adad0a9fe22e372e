//! One file a verb.

pub(crate) mod backtest;
pub(crate) mod evaluate;
pub(crate) mod explain;
pub(crate) mod holdings;
pub(crate) mod ledger;
pub(crate) mod measures;
pub(crate) mod order;
pub(crate) mod price_behaviour;
pub(crate) mod rank;
pub(crate) mod safety;
pub(crate) mod screen;
pub(crate) mod serve;
pub(crate) mod today;
pub(crate) mod transfer;
pub(crate) mod user;
pub(crate) mod value;

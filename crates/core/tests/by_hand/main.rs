//! Rules and limits, each just within and just outside, on companies made up for it; what they give is worked out by hand.
#![allow(clippy::unwrap_used)]

mod accounts;
mod assumptions;
mod catalogue;
mod changes;
mod flags;
mod formulas;
mod histories;
mod indexes;
mod insiders;
mod kept;
mod ledger;
mod per_share;
mod plausibility;
mod price;
mod screening;
mod snapshots;
mod today;
mod uncertainty;
mod value;
#[path = "../world/mod.rs"]
mod world;

//! Accounts, orders and what came of them.

mod replay;

pub use replay::replay_ledger;

//! Stand-ins for the outside world that ship with the product, deterministic to the last bit.

pub mod broker;
pub mod outbox;
pub mod replay;
pub mod sessions;

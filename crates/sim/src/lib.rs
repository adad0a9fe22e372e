//! Stand-ins for the outside world that ship with the product, deterministic to the last bit.

pub mod outbox;
pub mod sessions;

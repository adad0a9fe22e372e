//! Who asks, and whether they may: how the server is reached, signing in, and what a request must show for what it wants.

mod cookies;
mod guard;
mod reach;
mod store;
mod visitor;

pub(crate) use cookies::{device_cookie, sessions};
pub(crate) use guard::{POLICY, own_pages_only};
pub use reach::{Encryption, Reach};
pub(crate) use store::{SIGNED, cookie_of};
pub(crate) use visitor::{Peer, visitor};

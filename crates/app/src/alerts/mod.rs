//! Alerts: what a person wants to be told of when it becomes true; looked at with each session that comes.

mod body;
mod feeds;
mod listed;
mod preview;
mod work;

pub use body::{AlertBody, AlertOf, AlertWhat, Repeat};
pub use feeds::{PrivateAddress, addresses, read_address, renew_address};
pub use listed::{AlertEntry, alerts, see_alerts, unseen_alerts};
pub use preview::{AlertPreview, FiringsOfYear, PastFiring, PastFirings, preview_alert};
pub(crate) use work::{Said, data_changed};

//! The only door to the panel: what was public by the close of a day.
//!
//! Every accessor of [`CompanyAt`] clips at its date; nothing else can reach the snapshot's columns. Look-ahead is
//! prevented in this folder and nowhere else: `view` the door itself, `filings` what was filed, `market` prices and rates,
//! `people` those within and those who watch.

mod filings;
mod market;
mod people;
mod view;

pub use filings::{FiledItem, FilingState};
pub use market::{Declared, Dividend};
pub use view::{AsOf, CompanyAt};

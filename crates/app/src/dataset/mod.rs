//! The dataset: what is open, brought in and taken out, what it holds and what is doubtful about it.

mod about;
mod coverage;
mod damage;
pub(crate) mod demo;
pub(crate) mod doubts;
mod export;
mod feed;
mod first_data;
pub(crate) mod import;
pub(crate) mod opened;

pub use about::{About, about};
pub use coverage::{DataAnswer, Holdings, HoldingsKey, HoldingsOrder, HoldingsRequest, HoldingsRow, data, holdings, import_report};
pub use damage::Damage;
pub(crate) use damage::{damages, said as damage_said};
pub use demo::make_demo;
pub use doubts::{FindingAnswer, Findings, FindingsRequest, findings_list};
pub use export::{ExportForm, ExportReport, ExportRequest, export, export_into};
pub use feed::{FeedReport, FeedRequest, FeedSource, FeedState, StandIn, choose_feed, feed_state, next_sessions, stand_in, take_incoming};
pub use first_data::{FirstData, Missing};
pub use import::*;

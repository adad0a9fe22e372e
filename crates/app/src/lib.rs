//! The use cases of Artemon: what the browser and the command line can do, a folder an area.

mod alerts;
mod backtests;
mod candidates;
mod companies;
mod context;
mod dataset;
mod documents;
mod error;
mod figures;
mod home;
mod jobs;
mod ledger;
mod lists;
mod mail;
mod names;
mod people;
mod ports;
mod safety;
mod screens;
mod settings;
mod sharing;
mod today;
mod valuing;
mod warm;

pub use alerts::{
    AlertBody, AlertEntry, AlertOf, AlertPreview, AlertWhat, FiringsOfYear, PastFiring, PastFirings, PrivateAddress, Repeat, addresses,
    alerts, preview_alert, read_address, renew_address, see_alerts, unseen_alerts,
};
pub use artemon_core::{
    engine::{Cancel, Cancelled},
    formula::OwnMeasure,
    quality::Anchors,
    valuation::{Assumptions, Override},
};
pub use artemon_formats::{
    Progress,
    filings::Answers,
    harmless,
    mapped_table::{DateOrder, FixedCell, MappedColumn, Mapping},
    price_files::PriceAnswers,
    sdmx_csv::ObservationAnswers,
    statement_sets::NewFilers,
};
pub use artemon_store::{PersonId, StoreError};
pub use backtests::*;
pub use candidates::*;
pub use companies::*;
pub use context::Ctx;
pub use dataset::*;
pub use documents::*;
pub use error::AppError;
pub use figures::*;
pub use home::{Home, Options};
pub use jobs::{JobInfo, JobState};
pub use ledger::*;
pub use lists::*;
pub use mail::*;
pub use names::readable;
pub use people::*;
pub use ports::{Clock, Feed, Session, SystemClock};
pub use safety::*;
pub use screens::*;
pub use settings::{Broken, Unmatched};
pub use sharing::*;
pub use today::*;
pub use valuing::*;
pub use warm::{warm_today, warm_up};

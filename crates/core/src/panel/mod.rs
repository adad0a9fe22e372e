//! The columnar panel of everything known, and [`AsOf`], the only door to it.

mod as_of;
mod bars;
mod builder;
mod company;
mod coverage;
mod history;
mod indexes;
mod market;
mod snapshot;
mod statements;

pub use as_of::{AsOf, BarsAt, CompanyAt, Declared, Dividend, Settings};
pub use bars::BarColumns;
pub use builder::{PanelBuilder, PanelPart};
pub use company::{EstimateRow, OwnershipRow};
pub use coverage::{BarStanding, Extent, TableCoverage};
pub use history::{Histories, History};
pub use snapshot::{CompanyIndex, Snapshot};
pub use statements::{FlowSpan, PeriodIndex};

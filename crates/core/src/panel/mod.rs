//! The columnar panel of everything known, and [`AsOf`], the only door to it.

mod as_of;
mod bars;
mod bars_at;
mod builder;
mod company;
mod coverage;
mod figures;
mod fingerprint;
mod indexes;
mod known_from;
mod market;
mod snapshot;
mod statements;

pub use as_of::{AsOf, CompanyAt, Declared, Dividend, FiledItem, FilingState};
pub use bars::{BarColumns, Field};
pub use bars_at::BarsAt;
pub use builder::{Changes, PanelBuilder, PanelPart};
pub use company::{EstimateRow, OpenTrade, OwnershipRow};
pub use coverage::{BarStanding, Extent, TableCoverage};
pub use figures::{Figures, MAX_DECIMALS, scaled};
pub use snapshot::{CompanyIndex, Snapshot};
pub use statements::{FlowSpan, PeriodIndex};

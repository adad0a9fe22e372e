//! The words of the trade as types: dates, currencies, companies, listings, statements, trades, rates.

mod codes;
mod day;
mod item;
mod record;

pub(crate) use codes::codes;
pub use codes::{BarSize, CodeError, Currency, Kind, Period, RateSeries, Role, is_isin};
pub use day::{Day, Span, SpanUnit};
pub use item::{ITEM_COUNT, Item, ItemKind, Items};
pub use record::{
    Action, ActionKind, Annotation, AnnotationKind, Bar, Company, Estimate, Event, EventKind, FxRate, Index, IndexLevel, IndexMember,
    InsiderTrade, Listing, Metric, News, Officer, Ownership, Rate, Record, Statement, Table,
};

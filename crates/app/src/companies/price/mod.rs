//! What the price says: bars with lines through them, what happened beside them, and how far things moved over a stretch.

mod chart;
mod log;
mod stretch;
mod trend;

pub use chart::{BandsAnswer, ChannelAnswer, IndexLine, LineAnswer, PriceAnswer, PriceRequest, PriceZones, price_chart};
pub use log::{Lane, LogEntry};
pub use stretch::{Stretch, stretch};
pub(super) use trend::price;

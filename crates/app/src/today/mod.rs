//! What happened since one last looked.

mod calendar;
mod document;
mod followed;
mod gauge;
mod layout;
mod line;
mod look;
mod page;
mod sections;
mod visit;

pub use calendar::calendar;
pub use document::{TodayDocument, today_document};
pub(crate) use followed::{as_followed, followed};
pub use gauge::{GaugeAnswer, GaugePoint, market_gauge};
pub use layout::{TodayLayout, layout, save_layout};
pub use line::{Line, PutAway, PutLine, put_away};
pub use page::{InsiderFilter, TodayAnswer, TodayRequest, today};
pub use sections::{
    AlertLine, AlertLines, ComingLine, FlagLine, InsiderLine, InsiderLines, LedgerLine, LedgerLines, LowLine, LowLines, MarketTrade,
    MoverLine, MoverLines, Named, ScreenLine, SectorLine, TradesAnswer, TradesRequest, UnderLine, VerdictLine, market_trades,
};
pub use visit::{VisitAnswer, look, seen_all};

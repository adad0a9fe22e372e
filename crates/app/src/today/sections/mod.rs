//! A file a section of the page: lines with why they are there.

mod alerts;
mod coming;
mod insiders;
mod ledger;
mod lows;
mod movers;
mod screens;
mod turned;
mod under;

pub(super) use alerts::alerts;
pub use alerts::{AlertLine, AlertLines};
pub use coming::ComingLine;
pub(super) use coming::coming;
pub(super) use insiders::bought;
pub use insiders::{InsiderLine, InsiderLines, MarketTrade, TradesAnswer, TradesRequest, market_trades};
pub(super) use ledger::ledger;
pub use ledger::{LedgerLine, LedgerLines};
pub(super) use lows::lows;
pub use lows::{LowLine, LowLines};
pub(super) use movers::movers;
pub use movers::{MoverLine, MoverLines, SectorLine};
pub(super) use screens::screens;
pub use screens::{Named, ScreenLine};
pub use turned::{FlagLine, VerdictLine};
pub(super) use turned::{flags, verdicts};
pub use under::UnderLine;
pub(super) use under::under;

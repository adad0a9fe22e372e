//! Backtests: asked for, worked on one after the other in the background, kept with all that they rest on.

mod ask;
mod file;
mod list;
mod measure;
mod page;
mod work;

pub use artemon_core::backtest::{Backtest, ScreenRef};
pub use ask::{AskBacktest, ProposeBacktest, ask_backtest, propose_backtest, try_variants};
pub use file::{BacktestFormat, backtest_file};
pub use list::{BacktestEntry, BacktestList, BacktestState, BacktestSummary, Tried, backtests, delete_backtest, name_backtest};
pub use measure::{MeasureCheckAnswer, check_measure};
pub use page::{BacktestAnswer, CompanyName, backtest, backtest_here, backtest_holdings, candidates_here, holdings_here};
pub(crate) use work::Workshop;
pub use work::{RunningBacktest, backtest_changes, cancel_backtest, running_backtests, work_on_backtests};

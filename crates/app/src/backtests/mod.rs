//! Backtests: asked for, worked on one after the other in the background, kept with all that they rest on. `work.rs` is the one that
//! works; what is asked for, changed and shown is beside it.

mod ask;
mod change;
mod file;
mod kept;
mod list;
mod measure;
mod page;
mod record;
mod screen;
mod work;

pub use artemon_core::backtest::{Backtest, ScreenRef};
pub use ask::{AskBacktest, ProposeBacktest, ask_backtest, ask_values_record, give_up_values_record, propose_backtest, try_variants};
pub use change::{cancel_backtest, delete_backtest, name_backtest};
pub use file::{BacktestFormat, backtest_file};
pub use kept::{BacktestEntry, BacktestState, BacktestSummary};
pub use list::{BacktestList, Tried, backtests};
pub use measure::{MeasureCheckAnswer, check_measure};
pub use page::{BacktestAnswer, CompanyName, backtest, backtest_here, backtest_holdings, candidates_here, holdings_here};
pub use record::{CalibrationAnswer, values_record};
pub(crate) use screen::resolved;
pub(crate) use work::Workshop;
pub use work::{RunningBacktest, backtest_changes, running_backtests, work_on_backtests};

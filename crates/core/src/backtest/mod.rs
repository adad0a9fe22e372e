//! Would this way of choosing have worked? A screen is run as of past dates, what it finds is bought on the session after, and the
//! account is followed to the end: from what was known on each day alone, costs paid, those that died counted.
//!
//! `document.rs` says what is asked, `calendar.rs` on which days, `decide.rs` what is decided on them; `account.rs` carries it out, with
//! `weights.rs`, `exits.rs` and the prices of `priced.rs`. `field.rs` follows all candidates together: from it come the benchmarks of
//! the universe, the random portfolios of `luck.rs` and the fifths of `value_check.rs`. `tested.rs` holds these together, `run.rs` runs
//! them and `report.rs` tells it.

mod account;
mod calendar;
mod decide;
mod document;
mod exits;
mod field;
mod holdings;
mod luck;
mod outcome;
mod priced;
mod report;
mod run;
mod statistics;
mod tested;
mod value_check;
mod variants;
mod warnings;
mod weights;
mod words;

pub use account::Reason;
pub use calendar::{Calendar, Rebalance};
pub use document::{Backtest, Benchmark, Exit, ExitRule, INTERVALS, MOST_HELD, ScreenRef, SettingsError, Weights};
pub use holdings::{HeldThen, HoldingsAt, holdings_at};
pub use outcome::{
    BenchmarkIndex, Bin, Bootstrap, CurvePoint, Daily, DayValue, FanPoint, LuckOutcome, NoteOutcome, Outcome, Payout, PickOutcome,
    Quantile, RebalanceOutcome, TradeOutcome, WarningFigures, Warnings,
};
pub use run::{candidates, check, run};
pub use tested::Progress;
pub use value_check::{FifthsOutcome, ValueCheck, ValueCheckOutcome, value_check};
pub use variants::{VariantOutcome, variants};
pub use words::words;

use crate::{domain::Day, formula::FormulaError, screening::UniverseError};

/// A backtest that cannot be run.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[allow(missing_docs)]
pub enum BacktestError {
    #[error(transparent)]
    Settings(#[from] SettingsError),
    #[error("{}", no_sessions(*from, *to, *known))]
    NoSessions { from: Day, to: Day, known: Option<(Day, Day)> },
    #[error(transparent)]
    Universe(#[from] UniverseError),
    #[error("The formula \"{formula}\" is not understood: {error}")]
    Formula { formula: String, error: FormulaError },
    #[error("The formula \"{0}\" is no number, so that nothing can be put in order by it. Choose a measure with numbers.")]
    NoNumber(String),
    #[error("No company is in the screen's universe on any of the days. Loosen its floors, or choose other years.")]
    Nobody,
    #[error("There is no index \"{0}\" in the dataset. Choose one of its indexes, or the universe, to compare with.")]
    NoIndex(String),
    #[error("The index \"{index}\" has no level by {day}. Begin later, or compare with the universe.")]
    NoLevel { index: String, day: Day },
    #[error("The measure \"{0}\" has an answer for fewer than 5 companies on every one of the days, so that there are no fifths.")]
    NoFifths(String),
}

fn no_sessions(from: Day, to: Day, known: Option<(Day, Day)>) -> String {
    match known {
        None => "The dataset has no prices: bring some in before anything can be tested.".to_owned(),
        Some((first, last)) => format!(
            "Between {from} and {to} there is no month's end with a session after it, or the first month has no prices: the dataset has them from {first} to {last}."
        ),
    }
}

//! Screens: from the many to a few, with what each criterion costs.

mod document;
mod run;
mod universe;

pub use document::{Block, Criterion, Need, OrderFloor, Screen, ScreenUniverse, SortKey};
pub use run::{Columns, CriterionResult, Histogram, NearMiss, ScreenResult, Step, run};
pub use universe::{Refused, UniverseError};

//! Screens: from the many to a few, with what each criterion costs.

mod costs;
mod document;
mod histogram;
mod judged;
mod run;
mod universe;

pub use costs::NearMiss;
pub use document::{Block, Criterion, Need, OrderFloor, Screen, ScreenUniverse, SortKey};
pub use histogram::Histogram;
pub use judged::CriterionResult;
pub use run::{ScreenResult, Step, run, survivors};
pub use universe::{Refused, UniverseError};

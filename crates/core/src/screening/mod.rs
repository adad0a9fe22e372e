//! Screens: from the many to a few, with what each criterion costs.

mod costs;
mod document;
mod run;
mod section;
mod universe;

pub use costs::{Histogram, NearMiss};
pub use document::{Block, Criterion, Need, OrderFloor, Screen, ScreenUniverse, SortKey};
pub use run::{CriterionResult, ScreenResult, Step, run};
pub use section::{KeptSection, Section};
pub use universe::{Refused, UniverseError};

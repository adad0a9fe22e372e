//! Screens: from the many to a few, with what each criterion costs.

mod bounds;
mod changes;
mod costs;
mod document;
mod histogram;
mod judged;
mod ordered;
mod run;
mod sets;
mod tighter;
mod universe;

pub use bounds::Loosened;
pub use changes::{Change, Changes, Turned, changes};
pub use costs::NearMiss;
pub use document::{Block, Criterion, Need, OrderFloor, Screen, ScreenUniverse, SortKey};
pub use histogram::Histogram;
pub use judged::CriterionResult;
pub(crate) use run::passing;
pub use run::{ScreenResult, Shown, Step, columns, run, survivors};
pub use tighter::{Tighter, tighter};
pub(crate) use universe::floor_formulas;
pub use universe::{Refused, Universe, UniverseError};

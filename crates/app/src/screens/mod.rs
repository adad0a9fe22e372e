//! Screens: run, built criterion by criterion, and those that ship.

mod criterion;
mod ready;
mod run;

pub use criterion::{CriterionRequest, NumberAnswer, NumberRequest, criterion, read_number};
pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use run::{ColumnInfo, CriterionAnswer, NearMissAnswer, RowAnswer, ScreenAnswer, ScreenRequest, screen};

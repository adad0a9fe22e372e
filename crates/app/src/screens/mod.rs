//! Screens: run, and those that ship.

mod ready;
mod run;

pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use run::{ColumnInfo, CriterionAnswer, NearMissAnswer, RowAnswer, ScreenAnswer, ScreenRequest, screen};

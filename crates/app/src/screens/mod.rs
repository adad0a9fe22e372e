//! Screens: run, built criterion by criterion, and those that ship.

mod criterion;
mod ready;
mod rows;
mod run;

pub use criterion::{CriterionRequest, NumberAnswer, NumberRequest, criterion, read_number};
pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use rows::{
    RowAnswer, RowsAnswer, RowsRequest, ScreenList, ScreenRow, WholeScreen, screen_csv, screen_groups, screen_rows, screen_symbols,
    whole_screen,
};
pub use run::{ColumnInfo, CriterionAnswer, NearMissAnswer, ScreenAnswer, ScreenRequest, screen};

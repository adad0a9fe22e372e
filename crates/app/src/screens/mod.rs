//! Screens: run, built criterion by criterion, followed over time, and those that ship.

mod columns;
mod criterion;
mod export;
mod history;
mod map;
mod news;
mod ready;
mod rows;
mod run;
mod used;
mod wall;

pub use columns::{ReadyColumns, ready_columns};
pub use criterion::{CriterionRequest, NumberAnswer, NumberRequest, criterion, read_number};
pub use export::{ScreenFileRequest, TableFormat, screen_file};
pub use history::{
    ChangeAnswer, ChangesAnswer, ChangesRequest, CompareScreens, SavedRun, TurnedAnswer, YearAnswer, YearRequest, compare_screens,
    run_saved_screen, screen_changes, screen_year,
};
pub use map::{MapAnswer, MapAxis, MapMark, MapRequest, screen_map};
pub use news::CompanyNews;
pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use rows::{
    RowAnswer, RowsAnswer, RowsRequest, ScreenList, ScreenRow, WholeScreen, screen_medians, screen_rows, screen_symbols, whole_screen,
};
pub use run::{ColumnInfo, CriterionAnswer, NearMissAnswer, ScreenAnswer, ScreenRequest, TighterAnswer, screen};
pub use used::{UsedFormula, used_formulas};
pub use wall::{Tile, WallAnswer, WallRequest, screen_wall};

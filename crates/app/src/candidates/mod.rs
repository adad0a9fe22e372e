//! Buy candidates: ranked, tried under other assumptions, taken along as a workbook.

mod rank;
mod sensitivity;
mod workbook;

pub use rank::{CandidateRow, RankAnswer, RankRequest, SectorMedians, UnderOther, rank};
pub use sensitivity::SensitivityAnswer;
pub use workbook::candidates_xlsx;

//! Buy candidates: ranked, tried under other assumptions, taken along as a workbook.

mod order;
mod rank;
mod sensitivity;
mod workbook;

pub use order::{RowKey, RowOrder};
pub use rank::{CandidateRow, GROUPED, RankAnswer, RankRequest, SectorMedians, UnderOther, rank, rank_for_table, ranked_symbols};
pub use sensitivity::SensitivityAnswer;
pub use workbook::candidates_xlsx;

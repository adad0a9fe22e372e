//! The use cases of Artemon: what the browser and the command line can do, each in one file.

mod company;
mod distribution;
mod dossier;
mod error;
mod evaluate;
mod measures;
mod rank;
mod ready;
mod screen;
mod search;
mod sections;
mod state;
mod transfer;
mod value;

pub use company::{CompanyPage, company_page};
pub use distribution::{Distribution, DistributionRequest, distribution};
pub use error::AppError;
pub use evaluate::{EvaluateRequest, Evaluated, Figure, FormulaValue, evaluate};
pub use measures::{FormulaCheck, MeasureInfo, check_formula, measure_list};
pub use rank::{CandidateRow, RankAnswer, RankRequest, Spread, rank};
pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use screen::{RowAnswer, ScreenAnswer, ScreenRequest, screen};
pub use search::{CompanyHit, Groups, groups, search};
pub use state::{About, App, Options};
pub use transfer::{Progress, TransferReport, export, import, make_demo};
pub use value::{ModelAnswer, ValueAnswer, value};

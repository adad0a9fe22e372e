//! The use cases of Artemon: what the browser and the command line can do, each in one file.

mod columns;
mod company;
mod dossier;
mod error;
mod evaluate;
mod measures;
mod rank;
mod screen;
mod search;
mod state;
mod transfer;
mod value;

pub use company::{CompanyPage, company_page};
pub use error::AppError;
pub use evaluate::{EvaluateRequest, Evaluated, Figure, evaluate};
pub use measures::{FormulaCheck, MeasureInfo, check_formula, measure_list};
pub use rank::{RankAnswer, RankRequest, rank};
pub use screen::{ScreenAnswer, ScreenRequest, screen};
pub use search::{CompanyHit, Groups, groups, search};
pub use state::{About, App, Options};
pub use transfer::{Progress, TransferReport, export, import, make_demo};
pub use value::{ValueAnswer, value};

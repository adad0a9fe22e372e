//! The use cases of Artemon: what the browser and the command line can do, each in one file.

mod assumptions;
mod company;
mod data;
mod demo;
mod distribution;
mod dossier;
mod error;
mod evaluate;
mod explain;
mod export;
mod feed;
mod import;
mod import_plan;
mod jobs;
mod measures;
mod own_measures;
mod quality;
mod rank;
mod ready;
mod screen;
mod search;
mod sections;
mod state;
mod touched;
mod uploads;
mod value;
mod workbook;

pub use artemon_core::{
    formula::OwnMeasure,
    quality::Anchors,
    valuation::{Assumptions, Override},
};
pub use artemon_formats::{
    Progress,
    csv_table::{FixedCell, MappedColumn, Mapping},
};
pub use assumptions::AssumptionSet;
pub use company::{CompanyPage, company_page};
pub use data::{
    DataAnswer, FindingAnswer, Findings, FindingsRequest, Holdings, HoldingsRequest, data, findings_list, holdings, import_report,
};
pub use demo::make_demo;
pub use distribution::{Distribution, DistributionRequest, distribution};
pub use error::AppError;
pub use evaluate::{EvaluateRequest, Evaluated, Figure, FormulaValue, evaluate};
pub use explain::{ExplainRequest, Explained, FigurePoint, FigureStanding, PeerPlace, explain, standing};
pub use export::{ExportReport, ExportRequest, export, export_csv, export_zip};
pub use feed::{FeedReport, FeedRequest, FeedState};
pub use import::{ImportReport, ImportRequest, Source, TableRows, Watch, import};
pub use import_plan::{CsvChoices, plan_import};
pub use jobs::{JobInfo, JobState};
pub use measures::{FormulaCheck, MeasureInfo, check_formula, measure_list};
pub use quality::{ComponentAnswer, ComponentKind, FlagAnswer, FlagFigure, PillarAnswer, QualityAnswer, components};
pub use rank::{CandidateRow, RankAnswer, RankRequest, SectorMedians, SensitivityAnswer, Spread, UnderOther, rank};
pub use ready::{ReadyScreen, ready_screen, ready_screens};
pub use screen::{RowAnswer, ScreenAnswer, ScreenRequest, screen};
pub use search::{CompanyHit, Groups, IndexGroup, groups, search};
pub use state::{About, App, Options};
pub use uploads::{CsvPreview, PreviewRequest, StartImport, Upload, UploadFolder, csv_preview};
pub use value::{CellAsked, DrawsAnswer, ModelAnswer, ValueAnswer, ValueRequest, value, value_with};
pub use workbook::candidates_xlsx;

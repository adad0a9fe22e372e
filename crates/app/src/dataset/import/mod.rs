//! Imports: planned, run, started from the browser.

mod brought;
mod concepts;
mod filing_preview;
mod identify;
mod plan;
mod register;
pub(crate) mod report;
mod run;
mod start;
pub(crate) mod touched;
mod upload_folder;
mod uploads;

pub use concepts::{ConceptMapping, Concepts, ItemName, concepts, map_concept, map_concepts};
pub use filing_preview::{FileAnswers, FilingPreview};
pub(crate) use plan::plan;
pub use plan::{Choices, WideChoices, plan_import};
pub use report::{ImportReport, ImportRequest, Source, TableRows};
pub use run::{Watch, import, import_here};
pub use start::{cancel_job, job_changes, jobs, start_import};
pub(crate) use upload_folder::forget_uploads;
pub use upload_folder::{UPLOAD_BYTES, UploadFolder, new_upload};
pub use uploads::{
    CsvPreview, FileMapping, IgnoredFile, ObservationFile, ObservationsSaid, PreviewRequest, StartImport, Upload, csv_preview,
    inspect_upload, start_upload,
};

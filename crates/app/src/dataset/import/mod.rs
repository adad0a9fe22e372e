//! Imports: planned, run, started from the browser.

mod plan;
pub(crate) mod report;
mod run;
mod start;
pub(crate) mod touched;
mod uploads;

pub(crate) use plan::source;
pub use plan::{CsvChoices, plan_import};
pub use report::{ImportReport, ImportRequest, Source, TableRows};
pub use run::{Watch, import, import_here};
pub use start::{cancel_job, job_changes, jobs, start_import};
pub(crate) use uploads::forget_uploads;
pub use uploads::{
    CsvPreview, FileMapping, PreviewRequest, StartImport, UPLOAD_BYTES, Upload, UploadFolder, csv_preview, inspect_upload, new_upload,
    start_upload,
};

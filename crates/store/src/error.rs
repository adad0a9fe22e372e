//! What can be wrong with the data folder, and what to do.

use std::path::PathBuf;

/// A failure of the store.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum StoreError {
    #[error("The data folder {path} is in use by another Artemon. Close that one, or choose another folder with --data.")]
    InUse { path: PathBuf },
    #[error("The data folder {path} cannot be used: {source}. Check that it exists and can be written, or choose another with --data.")]
    Folder { path: PathBuf, source: std::io::Error },
    #[error(
        "The database {path} cannot be read: {problem}. Nothing was changed. Put back a copy of the file, or start with another folder by --data."
    )]
    Corrupt { path: PathBuf, problem: String },
    #[error("The database is locked by another program. Close it and try again; nothing was changed.")]
    Locked,
    #[error("The dataset is damaged: {what}. Import it again into a new folder, or put back a copy.")]
    Damaged { what: String },
    #[error("The database refused: {0}. Nothing was changed.")]
    Query(diesel::result::Error),
}

impl From<diesel::result::Error> for StoreError {
    fn from(e: diesel::result::Error) -> StoreError {
        let text = e.to_string();
        if text.contains("database is locked") { StoreError::Locked } else { StoreError::Query(e) }
    }
}

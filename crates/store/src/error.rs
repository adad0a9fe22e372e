//! What can be wrong with the data folder. Messages say what is wrong and what to do, in words that fit whoever reads them:
//! nothing here knows whether that is in a browser or at a terminal.

use std::path::PathBuf;

/// A failure of the store.
#[derive(Debug, thiserror::Error)]
#[allow(missing_docs)]
pub enum StoreError {
    #[error("The data folder {path} is in use by another Artemon. Close that one, or choose another folder.")]
    InUse { path: PathBuf },
    #[error("The data folder {path} cannot be used: {source}. Check that it exists and can be written, or choose another.")]
    Folder { path: PathBuf, source: std::io::Error },
    #[error(
        "The database {path} cannot be read: {problem}. Nothing was changed. Put back a copy of the file, or start with another folder."
    )]
    Corrupt { path: PathBuf, problem: String },
    #[error("{path} is not a database of Artemon, and was left as it is. Choose another folder.")]
    Foreign { path: PathBuf },
    #[error("{path} was made by a newer version of Artemon, and was left as it is. Start that version, or choose another folder.")]
    Newer { path: PathBuf },
    #[error("{path} was made by an older version of Artemon. Start the server once, which brings it up to date, and try again.")]
    Older { path: PathBuf },
    #[error("Too much is being read at once. Nothing was changed; try again in a moment.")]
    Busy,
    #[error("The database is locked by another program. Close it and try again; nothing was changed.")]
    Locked,
    #[error("The dataset is damaged: {what}. Import it again into a new folder, or put back a copy.")]
    Damaged { what: String },
    #[error("The outcome of the backtest cannot be read any more: {0}. Run it again.")]
    Outcome(String),
    #[error("The rows were not wanted any more.")]
    BrokenOff,
    #[error("The database refused: {0}. Nothing was changed.")]
    Query(diesel::result::Error),
}

impl From<diesel::result::Error> for StoreError {
    fn from(e: diesel::result::Error) -> StoreError {
        let text = e.to_string();
        if text.contains("database is locked") { StoreError::Locked } else { StoreError::Query(e) }
    }
}

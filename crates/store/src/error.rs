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
    #[error(
        "What is kept on the disk is damaged: {what}. Nothing was changed. Put back the newest copy; a damaged dataset can also be moved away and imported again."
    )]
    Damaged { what: String },
    #[error("{path} exists already; choose another name, so that nothing is overwritten.")]
    Exists { path: PathBuf },
    #[error("{path} is missing or empty, though there are copies of it. Put the newest one back; nothing was changed.")]
    Gone { path: PathBuf },
    #[error("{path} is damaged and was not put back: {problem}. Choose another copy; nothing was changed.")]
    Unsound { path: PathBuf, problem: String },
    #[error("The disk is full. Nothing was changed; make room and try again.")]
    Full,
    #[error("The disk could not be read or written. Nothing was changed; look whether it is there and has room, and try again.")]
    Disk,
    #[error("The data folder can only be read. Nothing was changed; allow writing to it, or choose another folder.")]
    ReadOnly,
    #[error("The outcome of the backtest cannot be read any more: {0}. Run it again.")]
    Outcome(String),
    #[error("The rows were not wanted any more.")]
    BrokenOff,
    #[error("The database refused: {0}. Nothing was changed.")]
    Query(diesel::result::Error),
}

impl StoreError {
    /// The same without saying where on the machine the file is.
    #[must_use]
    pub fn by_name(mut self) -> StoreError {
        let (StoreError::InUse { path }
        | StoreError::Folder { path, .. }
        | StoreError::Corrupt { path, .. }
        | StoreError::Foreign { path }
        | StoreError::Newer { path }
        | StoreError::Older { path }
        | StoreError::Exists { path }
        | StoreError::Gone { path }
        | StoreError::Unsound { path, .. }) = &mut self
        else {
            return self;
        };
        *path = path.file_name().map(PathBuf::from).unwrap_or_default();
        self
    }
}

impl From<diesel::result::Error> for StoreError {
    fn from(e: diesel::result::Error) -> StoreError {
        let text = e.to_string();
        match text.as_str() {
            t if t.contains("database is locked") => StoreError::Locked,
            t if t.contains("disk is full") => StoreError::Full,
            t if t.contains("readonly database") || t.contains("unable to open database") => StoreError::ReadOnly,
            t if t.contains("disk I/O") => StoreError::Disk,
            t if t.contains("malformed") || t.contains("not a database") => StoreError::Damaged { what: text },
            _ => StoreError::Query(e),
        }
    }
}

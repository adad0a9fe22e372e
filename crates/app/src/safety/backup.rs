//! A backup: the files of the data folder as they are at one moment, in a folder of its own; and the way back.

use super::whole::made_whole;
use crate::AppError;
use artemon_store::{Kept, StoreError, copy, put_back};
use serde::Serialize;
use std::{
    fs,
    path::{Path, PathBuf},
};

/// What to copy.
#[derive(Clone, Debug, Default)]
pub struct BackupRequest {
    /// A folder that is not there yet.
    pub to: PathBuf,
    /// Only what belongs to persons: the dataset can be imported again.
    pub people_only: bool,
}

/// What was copied.
#[derive(Clone, Debug, Serialize)]
pub struct BackupReport {
    /// Where to.
    pub folder: PathBuf,
    /// The files with their sizes in bytes.
    pub files: Vec<(&'static str, u64)>,
}

/// What was put back.
#[derive(Clone, Debug, Serialize)]
pub struct Restored {
    /// The file.
    pub file: &'static str,
    /// Where what was there before lies now.
    pub before: Option<PathBuf>,
}

/// Copies the files of a data folder, perhaps while a server runs on it. Each copy is looked at before it counts.
///
/// # Errors
/// A folder that exists or cannot be written; nothing to copy; damage.
pub fn backup(folder: &Path, request: &BackupRequest) -> Result<BackupReport, AppError> {
    let to = &request.to;
    let wanted = Kept::ALL.into_iter().filter(|kept| !request.people_only || *kept == Kept::People);
    let there: Vec<Kept> = wanted.filter(|kept| folder.join(kept.file()).is_file()).collect();
    if there.is_empty() {
        return Err(AppError::NoDataset { folder: folder.to_owned() });
    }
    made_whole(to, |part| {
        fs::create_dir_all(part).map_err(|source| StoreError::Folder { path: to.clone(), source })?;
        Ok(there.iter().try_for_each(|kept| copy(folder, *kept, &part.join(kept.file())))?)
    })?;
    let size = |kept: &Kept| fs::metadata(to.join(kept.file())).map_or(0, |m| m.len());
    Ok(BackupReport { folder: to.clone(), files: there.iter().map(|kept| (kept.file(), size(kept))).collect() })
}

/// Puts a backup, or a copy of what belongs to persons, into a data folder that no server runs on. All of it is looked at before
/// anything is replaced, and what was there is kept.
///
/// # Errors
/// Nothing that could be put back; damage; a folder in use.
pub fn restore(folder: &Path, from: &Path) -> Result<Vec<Restored>, AppError> {
    let files: Vec<(Kept, PathBuf)> = if from.is_dir() {
        Kept::ALL.into_iter().map(|kept| (kept, from.join(kept.file()))).filter(|(_, path)| path.is_file()).collect()
    } else if from.is_file() {
        vec![(sort_of(from)?, from.to_owned())]
    } else {
        Vec::new()
    };
    if files.is_empty() {
        let problem = "it is neither a backup nor a copy of what is one's own; choose a folder that `backup` made, or a copy".to_owned();
        return Err(AppError::Unusable { what: from.display().to_string(), problem });
    }
    for (kept, path) in &files {
        if let Some(problem) = artemon_store::examine(path, *kept)?.into_iter().next() {
            return Err(StoreError::Unsound { path: path.clone(), problem }.into());
        }
    }
    files.iter().map(|(kept, path)| Ok(Restored { file: kept.file(), before: put_back(folder, *kept, path)? })).collect()
}

/// Which of the two a single file is.
fn sort_of(path: &Path) -> Result<Kept, AppError> {
    match artemon_store::examine(path, Kept::People) {
        Err(StoreError::Foreign { .. }) => artemon_store::examine(path, Kept::Dataset).map(|_| Kept::Dataset).map_err(AppError::from),
        done => Ok(done.map(|_| Kept::People)?),
    }
}

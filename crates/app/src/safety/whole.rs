//! Files and folders that somebody asked for are there whole or not at all, whenever the program is killed.

use crate::AppError;
use artemon_store::StoreError;
use std::{
    fs::{self, File},
    io,
    path::{Path, PathBuf},
};

/// What is being made bears its whole name and this, so that nobody else's is taken for it.
const UNFINISHED: &str = ".unfinished-by-artemon";

/// Makes a file or folder beside its place, and puts it there once it is on the disk. What an interrupted one left is removed.
///
/// # Errors
/// When there is something already, or it cannot be made.
pub(crate) fn made_whole<T>(to: &Path, make: impl FnOnce(&Path) -> Result<T, AppError>) -> Result<T, AppError> {
    if to.symlink_metadata().is_ok() && !is_empty_folder(to) {
        return Err(StoreError::Exists { path: to.to_owned() }.into());
    }
    let mut part = to.as_os_str().to_owned();
    part.push(UNFINISHED);
    let part = PathBuf::from(part);
    let failed = |source: io::Error| AppError::from(StoreError::Folder { path: to.to_owned(), source });
    remove(&part).map_err(failed)?;
    let made = make(&part).and_then(|made| put(&part, to).map(|()| made).map_err(failed));
    if made.is_err() {
        remove(&part).ok();
    }
    made
}

fn is_empty_folder(path: &Path) -> bool {
    fs::read_dir(path).is_ok_and(|mut all| all.next().is_none())
}

fn remove(path: &Path) -> io::Result<()> {
    match path.symlink_metadata() {
        Ok(m) if m.is_dir() => fs::remove_dir_all(path),
        Ok(_) => fs::remove_file(path),
        Err(_) => Ok(()),
    }
}

fn put(part: &Path, to: &Path) -> io::Result<()> {
    if part.is_dir() {
        for entry in fs::read_dir(part)? {
            File::open(entry?.path())?.sync_all()?;
        }
        // An empty folder makes room; on some systems nothing can be put over it.
        fs::remove_dir(to).ok();
    } else {
        File::open(part)?.sync_all()?;
    }
    fs::rename(part, to)
}

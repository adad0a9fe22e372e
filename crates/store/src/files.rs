//! The files of a data folder. Nobody but their owner may read them.

use crate::StoreError;
use diesel::{connection::SimpleConnection, prelude::*, sqlite::SqliteConnection};
use std::{
    fs::{self, OpenOptions},
    io,
    path::{Path, PathBuf},
};

/// The imported data.
pub(crate) const DATASET: &str = "dataset.sqlite";
/// What belongs to persons.
pub(crate) const PEOPLE: &str = "people.sqlite";
/// Both in one, as older versions kept them.
pub(crate) const LEGACY: &str = "artemon.sqlite";

/// Whether a folder holds a dataset.
#[must_use]
pub fn has_dataset(folder: &Path) -> bool {
    [DATASET, LEGACY].iter().any(|file| folder.join(file).is_file())
}

/// Puts what waits beside a database into it, so that it can be moved by itself.
pub(crate) fn settle(path: &Path) -> Result<(), StoreError> {
    let mut c = SqliteConnection::establish(&path.display().to_string())
        .map_err(|e| StoreError::Corrupt { path: path.to_owned(), problem: e.to_string() })?;
    // Leaving WAL mode writes the log back and removes it.
    c.batch_execute("PRAGMA busy_timeout = 5000; PRAGMA journal_mode = DELETE;").map_err(StoreError::from)
}

/// Removes a folder, if it is there.
pub(crate) fn clear(folder: &Path) -> Result<(), StoreError> {
    if folder.exists() { fs::remove_dir_all(folder).map_err(failed(folder)) } else { Ok(()) }
}

/// Makes sure that what was renamed in a folder stays so if the power fails.
pub(crate) fn onto_disk(folder: &Path) -> Result<(), StoreError> {
    if cfg!(unix) { fs::File::open(folder).and_then(|f| f.sync_all()).map_err(failed(folder)) } else { Ok(()) }
}

pub(crate) fn failed(folder: &Path) -> impl Fn(io::Error) -> StoreError {
    let path = folder.to_owned();
    move |source| StoreError::Folder { path: path.clone(), source }
}

/// What SQLite keeps beside a database.
pub(crate) fn beside(path: &Path, ending: &str) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push(ending);
    PathBuf::from(name)
}

/// Makes the folder unless it is there, for its owner alone.
pub(crate) fn own_folder(folder: &Path) -> Result<(), StoreError> {
    if folder.is_file() {
        return Err(failed(folder)(io::Error::new(io::ErrorKind::NotADirectory, "it is a file, not a folder")));
    }
    fs::create_dir_all(folder).map_err(failed(folder))?;
    restrict(folder, 0o700).map_err(failed(folder))
}

/// Makes a file unless it is there, for its owner alone. One that is there is not opened: see `db.rs` on locks.
pub(crate) fn own_file(path: &Path) -> io::Result<()> {
    match OpenOptions::new().create_new(true).append(true).open(path) {
        Err(e) if e.kind() != io::ErrorKind::AlreadyExists => Err(e),
        _ => restrict(path, 0o600),
    }
}

#[cfg(unix)]
fn restrict(path: &Path, mode: u32) -> io::Result<()> {
    use std::os::unix::fs::PermissionsExt;
    let mut permissions = fs::metadata(path)?.permissions();
    if permissions.mode() & 0o777 == mode {
        return Ok(());
    }
    permissions.set_mode(mode);
    fs::set_permissions(path, permissions)
}

#[cfg(not(unix))]
fn restrict(_: &Path, _: u32) -> io::Result<()> {
    Ok(())
}

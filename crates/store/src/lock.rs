//! One Artemon that writes a data folder.

use crate::{StoreError, files};
use std::{
    fs::{File, TryLockError},
    path::Path,
};

/// Holds the data folder; released when dropped or when the process ends, however it ends.
#[derive(Debug)]
pub struct FolderLock {
    _file: File,
}

impl FolderLock {
    /// Takes the folder, creating it when it is not there.
    ///
    /// # Errors
    /// When another process has it, or it cannot be written.
    pub fn take(folder: &Path) -> Result<FolderLock, StoreError> {
        files::own_folder(folder)?;
        let path = folder.join("artemon.lock");
        let file = files::own_file(&path).and_then(|()| File::options().append(true).open(&path)).map_err(files::failed(folder))?;
        match file.try_lock() {
            Ok(()) => Ok(FolderLock { _file: file }),
            Err(TryLockError::WouldBlock) => Err(StoreError::InUse { path: folder.to_owned() }),
            Err(TryLockError::Error(source)) => Err(files::failed(folder)(source)),
        }
    }
}

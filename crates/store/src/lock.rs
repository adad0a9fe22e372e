//! One Artemon that writes a data folder.

use crate::{StoreError, files};
use std::{
    fs::{File, TryLockError},
    path::Path,
};

/// Holds the data folder; released when dropped or when the process ends, however it ends.
#[derive(Debug)]
pub struct FolderLock {
    file: File,
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
            Ok(()) => Ok(FolderLock { file }),
            Err(TryLockError::WouldBlock) => Err(StoreError::InUse { path: folder.to_owned() }),
            Err(TryLockError::Error(source)) => Err(files::failed(folder)(source)),
        }
    }
}

impl Drop for FolderLock {
    /// Closing the file is not enough: a process started meanwhile has it open too, until it runs its own program.
    fn drop(&mut self) {
        self.file.unlock().ok();
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use super::*;

    #[test]
    fn a_folder_is_let_go_though_the_file_is_open_elsewhere() {
        let folder = tempfile::tempdir().unwrap();
        let lock = FolderLock::take(folder.path()).unwrap();
        let inherited = lock.file.try_clone().unwrap();
        assert!(matches!(FolderLock::take(folder.path()), Err(StoreError::InUse { .. })));
        drop(lock);
        FolderLock::take(folder.path()).unwrap();
        drop(inherited);
    }
}

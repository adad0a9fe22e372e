//! Another dataset in the place of a folder's.

use crate::{
    Dataset, StoreError,
    files::{self, DATASET},
};
use std::{fs, path::Path};

/// Makes a dataset beside that of a folder, and puts it in its place when it is whole. The folder must be locked. Killed at
/// any moment, the folder holds the one dataset or the other.
///
/// # Errors
/// Those of `make`; when a file cannot be moved. The folder's dataset is then as it was.
pub fn swap_dataset<E: From<StoreError>>(folder: &Path, make: impl FnOnce(&Dataset) -> Result<(), E>) -> Result<(), E> {
    let (beside, place) = (folder.join("making"), folder.join(DATASET));
    files::clear(&beside)?;
    make(&Dataset::open(&beside)?)?;
    files::settle(&beside.join(DATASET))?;
    if place.is_file() {
        // Else the log of the old one would be taken for that of the new.
        files::settle(&place)?;
    }
    fs::rename(beside.join(DATASET), &place).map_err(files::failed(folder))?;
    Ok(files::clear(&beside)?)
}

//! The way back when what is one's own cannot be opened at all: a sound copy takes its place, or nothing does; what was there is kept.

use super::copies::CopyEntry;
use crate::AppError;
use artemon_store::{Kept, People, StoreError, examine, people_copy, put_away, put_back, sound_copies};
use std::path::{Path, PathBuf};

/// A data folder whose file of what is one's own cannot be opened.
#[derive(Clone, Debug)]
pub struct Rescue {
    /// The folder.
    pub folder: PathBuf,
    /// What is wrong, in a sentence.
    pub problem: String,
    /// The sound copies, newest first.
    pub copies: Vec<CopyEntry>,
}

impl Rescue {
    /// What could be done about a folder that could not be opened; nothing where its file of what is one's own is not the reason.
    #[must_use]
    pub fn of(folder: &Path) -> Option<Rescue> {
        let examined = match People::open_to_read(folder) {
            Err(e @ StoreError::Gone { .. }) => Err(e),
            _ => examine(&folder.join(Kept::People.file()), Kept::People),
        };
        let problem = match examined {
            Ok(problems) => problems.into_iter().next()?,
            Err(e @ (StoreError::Corrupt { .. } | StoreError::Foreign { .. } | StoreError::Damaged { .. } | StoreError::Gone { .. })) => {
                e.to_string()
            }
            Err(_) => return None,
        };
        Some(Rescue { folder: folder.to_owned(), problem, copies: sound_copies(folder).map(CopyEntry::from).collect() })
    }

    /// Puts a copy in its place.
    ///
    /// # Errors
    /// When there is no such copy, or the folder cannot be written. Nothing is changed then.
    pub fn put_back(&self, name: &str) -> Result<(), AppError> {
        let copy = people_copy(&self.folder, name).ok_or_else(|| AppError::Missing { what: format!("The copy \"{name}\"") })?;
        put_back(&self.folder, Kept::People, &copy)?;
        Ok(())
    }

    /// Begins without anything of one's own.
    ///
    /// # Errors
    /// When the folder cannot be written. Nothing is changed then.
    pub fn begin_anew(&self) -> Result<(), AppError> {
        put_away(&self.folder, Kept::People)?;
        People::begin(&self.folder)?;
        Ok(())
    }
}

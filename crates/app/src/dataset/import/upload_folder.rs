//! The folders in which brought files wait until it is said how they are to be taken.

use crate::{AppError, Ctx, names::is_unprintable};
use artemon_formats::ReadError;
use artemon_store::unguessable;
use std::{
    fs,
    path::{Component, Path, PathBuf},
    time::Duration,
};

/// Files of one upload, uploads that wait, and the longest name of a file with its folders.
const FILES: usize = 1_000;
const UPLOADS: usize = 20;
const LONGEST_NAME: usize = 200;

/// How much may be brought at once unless said otherwise, in bytes.
pub const UPLOAD_BYTES: u64 = 8 << 30;

/// The folder in which brought files wait.
#[derive(Debug)]
pub struct UploadFolder {
    /// Its name.
    pub id: String,
    path: PathBuf,
    files: usize,
    /// Bytes that may still come.
    left: u64,
}

impl UploadFolder {
    /// Where a file of this name may be written; its folders are made.
    ///
    /// # Errors
    /// A name that no file can have or that leads out of the folder; too many files; a folder that cannot be written.
    pub fn place(&mut self, name: &str) -> Result<PathBuf, AppError> {
        let refused = |problem: &str| {
            let shown: String = name.chars().filter(|c| !c.is_control()).take(60).collect();
            Err(AppError::Unusable { what: format!("The file name \"{shown}\""), problem: problem.to_owned() })
        };
        let relative = Path::new(name);
        if name.is_empty() || !relative.components().all(|c| matches!(c, Component::Normal(_))) {
            return refused("it does not name a file inside the folder that was dropped; rename the file and bring it again");
        }
        if name.chars().any(is_unprintable) {
            return refused("it has characters that cannot be seen; rename the file and bring it again");
        }
        if name.len() > LONGEST_NAME {
            return refused(&format!("it is longer than {LONGEST_NAME} bytes; rename the file and bring it again"));
        }
        self.files += 1;
        if self.files > FILES {
            let problem = format!("more than {FILES} files were brought at once; bring them as one zip or in parts");
            return Err(AppError::Unusable { what: "The upload".to_owned(), problem });
        }
        let path = self.path.join(relative);
        if path.exists() {
            return refused("two files of this name were brought; bring each once");
        }
        let parent = path.parent().unwrap_or(&self.path);
        fs::create_dir_all(parent).map_err(|source| ReadError::Io { file: name.to_owned(), source })?;
        Ok(path)
    }

    /// Counts bytes that came.
    ///
    /// # Errors
    /// When they are more than may come.
    pub fn count(&mut self, bytes: usize) -> Result<(), AppError> {
        let left = self.left.checked_sub(bytes as u64).ok_or_else(|| AppError::Unusable {
            what: "The upload".to_owned(),
            problem: "it is larger than uploads may be. Import the files at the terminal, or start the server with a larger --upload-limit"
                .to_owned(),
        })?;
        self.left = left;
        Ok(())
    }

    /// Forgets the files.
    pub fn remove(self) {
        fs::remove_dir_all(self.path).ok();
    }
}

fn uploads(folder: &Path) -> PathBuf {
    folder.join("uploads")
}

/// Forgets whatever waits: nobody who brought it has the page open any more.
pub(crate) fn forget_uploads(folder: &Path) {
    fs::remove_dir_all(uploads(folder)).ok();
}

/// Where what a person brings waits.
fn own_uploads(ctx: &Ctx) -> PathBuf {
    uploads(ctx.home.folder()).join(ctx.person.as_str())
}

/// A new folder for files to come, under a name that nobody can guess. Those of the person that wait for longer than a day are forgotten,
/// and the oldest where many wait.
///
/// # Errors
/// When it cannot be made.
pub fn new_upload(ctx: &Ctx) -> Result<UploadFolder, AppError> {
    let all = own_uploads(ctx);
    forget_old(&all);
    let id = unguessable();
    let path = all.join(&id);
    let failed = |source| ReadError::Io { file: "The folder of what is brought".to_owned(), source };
    fs::create_dir_all(&path).map_err(failed)?;
    Ok(UploadFolder { id, path, files: 0, left: ctx.home.options.upload_bytes.unwrap_or(UPLOAD_BYTES) })
}

/// The folder of an upload of the caller's.
///
/// # Errors
/// When it is gone.
pub(super) fn upload(ctx: &Ctx, id: &str) -> Result<PathBuf, AppError> {
    let path = own_uploads(ctx).join(id);
    if id.bytes().all(|b| b.is_ascii_hexdigit()) && !id.is_empty() && path.is_dir() {
        return Ok(path);
    }
    let problem = "they are not here any more; choose them again".to_owned();
    Err(AppError::Unusable { what: "The files".to_owned(), problem })
}

fn forget_old(uploads: &Path) {
    const DAY: Duration = Duration::from_secs(24 * 60 * 60);
    let aged = |path: PathBuf| Some((fs::metadata(&path).and_then(|m| m.modified()).ok()?.elapsed().unwrap_or_default(), path));
    let mut waiting: Vec<(Duration, PathBuf)> =
        fs::read_dir(uploads).into_iter().flatten().flatten().filter_map(|entry| aged(entry.path())).collect();
    waiting.sort();
    for (i, (age, path)) in waiting.iter().enumerate() {
        if i + 1 >= UPLOADS || *age > DAY {
            fs::remove_dir_all(path).ok();
        }
    }
}

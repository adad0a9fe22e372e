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
    let part = beside(to).ok_or_else(|| StoreError::Exists { path: to.to_owned() })?;
    let failed = |source: io::Error| AppError::from(StoreError::Folder { path: to.to_owned(), source });
    remove(&part).map_err(failed)?;
    let made = make(&part).and_then(|made| put(&part, to).map(|()| made).map_err(failed));
    if made.is_err() {
        remove(&part).ok();
    }
    made
}

/// The same name with an ending, also where a slash stands behind it; none for what has no name, such as the folder above.
fn beside(to: &Path) -> Option<PathBuf> {
    let mut name = to.file_name()?.to_owned();
    name.push(UNFINISHED);
    Some(to.with_file_name(name))
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

#[cfg(test)]
mod tests {
    use super::*;

    fn names(folder: &Path) -> Vec<String> {
        let mut all: Vec<String> = fs::read_dir(folder).unwrap().map(|f| f.unwrap().file_name().into_string().unwrap()).collect();
        all.sort();
        all
    }

    fn folder_of_one(part: &Path) -> Result<(), AppError> {
        fs::create_dir(part).unwrap();
        fs::write(part.join("one"), "1").unwrap();
        Ok(())
    }

    #[test]
    fn a_folder_is_made_whole_however_its_name_is_typed() {
        let within = tempfile::tempdir().unwrap();
        let at = |name: &str| within.path().join(name);
        made_whole(&at("new/"), folder_of_one).unwrap();
        fs::create_dir(at("empty")).unwrap();
        made_whole(&at("empty/"), folder_of_one).unwrap();
        // What was interrupted makes room.
        folder_of_one(&at("again.unfinished-by-artemon")).unwrap();
        made_whole(&at("again"), folder_of_one).unwrap();
        assert_eq!(names(within.path()), ["again", "empty", "new"]);
        assert!(["again", "empty", "new"].iter().all(|name| names(&at(name)) == ["one"]));
        for taken in ["again", "new/", ".."] {
            let refused = made_whole(&at(taken), folder_of_one).unwrap_err();
            assert!(refused.to_string().contains("exists already"), "{taken}: {refused}");
        }
    }

    #[test]
    fn nothing_is_left_of_what_failed() {
        let within = tempfile::tempdir().unwrap();
        let failing = |part: &Path| {
            folder_of_one(part)?;
            Err::<(), AppError>(AppError::Empty)
        };
        assert!(matches!(made_whole(&within.path().join("out"), failing), Err(AppError::Empty)));
        assert_eq!(names(within.path()), Vec::<String>::new());
    }
}

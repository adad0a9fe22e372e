//! Sets of files that belong together: a zip of them, or the folder in which they lie.

use crate::{
    ReadError,
    archive::{Archive, Entry, MAGIC},
    filings::file_name,
};
use std::{
    fs::{self, File},
    io::{self, Read},
    path::{Path, PathBuf},
};

/// A set while it is read.
pub(crate) struct SetFiles {
    /// How reports call it.
    pub(crate) name: String,
    files: Files,
}

enum Files {
    Zip(Archive),
    Folder(PathBuf),
}

/// A file of a set.
pub(crate) enum Member<'a> {
    Zipped(Entry<'a>),
    Plain(File),
}

impl SetFiles {
    /// The set that a zip is, or that one of its files belongs to.
    ///
    /// # Errors
    /// A file that cannot be read, or a hostile zip.
    pub(crate) fn open(path: &Path) -> Result<SetFiles, ReadError> {
        let name = file_name(path);
        let mut magic = [0; MAGIC.len()];
        let read = File::open(path).and_then(|mut f| f.read_exact(&mut magic));
        if read.is_ok() && magic == MAGIC {
            return Ok(SetFiles { name, files: Files::Zip(Archive::open(path)?) });
        }
        let folder = path.parent().unwrap_or_else(|| Path::new("."));
        Ok(SetFiles { name: file_name(folder), files: Files::Folder(folder.to_owned()) })
    }

    /// A file by its name in lower case, in whatever case and folder it is written.
    ///
    /// # Errors
    /// A file that cannot be read.
    pub(crate) fn member(&mut self, name: &str) -> Result<Option<Member<'_>>, ReadError> {
        let is_it = |n: &str| n.rsplit('/').next().is_some_and(|last| last.eq_ignore_ascii_case(name));
        match &mut self.files {
            Files::Zip(archive) => {
                let Some(found) = archive.names().iter().find(|n| is_it(n)).cloned() else { return Ok(None) };
                Ok(archive.entry(&found)?.map(Member::Zipped))
            }
            Files::Folder(folder) => {
                let all = fs::read_dir(folder).into_iter().flatten().filter_map(|e| Some(e.ok()?.path()));
                let Some(found) = all.into_iter().find(|p| is_it(&file_name(p))) else { return Ok(None) };
                let opened = File::open(&found).map_err(|source| ReadError::Io { file: file_name(&found), source })?;
                Ok(Some(Member::Plain(opened)))
            }
        }
    }

    /// As [`SetFiles::member`], of a file without which the set means nothing.
    ///
    /// # Errors
    /// When it is missing, too.
    pub(crate) fn needed(&mut self, name: &'static str) -> Result<Member<'_>, ReadError> {
        let problem = format!("it has no {name}, without which the rest means nothing");
        let missing = ReadError::Unusable { file: self.name.clone(), problem };
        self.member(name)?.ok_or(missing)
    }

    /// How a file of it is called in reports.
    pub(crate) fn path_of(&self, member: &str) -> String {
        format!("{}: {member}", self.name)
    }
}

impl Read for Member<'_> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        match self {
            Member::Zipped(entry) => entry.read(buffer),
            Member::Plain(file) => file.read(buffer),
        }
    }
}

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
    sync::mpsc::{Receiver, sync_channel},
    thread,
};

/// Bytes unpacked at once, and how often ahead.
const CHUNK: usize = 1 << 20;
const CHUNKS: usize = 4;

/// A set while it is read.
pub(crate) struct SetFiles {
    /// How reports call it.
    pub(crate) name: String,
    path: PathBuf,
    files: Files,
}

enum Files {
    Zip(Archive),
    Folder(PathBuf),
}

/// A file of a set.
pub(crate) enum Member<'a> {
    Zipped(Box<Entry<'a>>),
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
            return Ok(SetFiles { name, path: path.to_owned(), files: Files::Zip(Archive::open(path)?) });
        }
        let folder = path.parent().unwrap_or_else(|| Path::new("."));
        Ok(SetFiles { name: file_name(folder), path: path.to_owned(), files: Files::Folder(folder.to_owned()) })
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
                Ok(archive.entry(&found)?.map(|entry| Member::Zipped(Box::new(entry))))
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

    /// As [`SetFiles::needed`], unpacked on a thread of its own while what came before is worked on.
    ///
    /// # Errors
    /// As [`SetFiles::needed`].
    pub(crate) fn ahead(&mut self, name: &'static str) -> Result<Ahead, ReadError> {
        self.needed(name)?;
        let path = self.path.clone();
        let (send, receive) = sync_channel(CHUNKS);
        thread::spawn(move || {
            let mut set = SetFiles::open(&path);
            let Ok(Ok(mut member)) = set.as_mut().map(|set| set.needed(name)) else { return };
            loop {
                let mut chunk = Vec::with_capacity(CHUNK);
                let read = member.by_ref().take(CHUNK as u64).read_to_end(&mut chunk);
                let ended = !matches!(read, Ok(n) if n > 0);
                if send.send(read.map(|_| chunk)).is_err() || ended {
                    return;
                }
            }
        });
        Ok(Ahead { receive, chunk: Vec::new(), at: 0 })
    }

    /// How a file of it is called in reports.
    pub(crate) fn path_of(&self, member: &str) -> String {
        format!("{}: {member}", self.name)
    }
}

/// A file that is unpacked ahead.
pub(crate) struct Ahead {
    receive: Receiver<io::Result<Vec<u8>>>,
    chunk: Vec<u8>,
    at: usize,
}

impl Read for Ahead {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        if self.at == self.chunk.len() {
            let ended = || io::Error::other("unpacking ended early");
            self.chunk = self.receive.recv().map_err(|_| ended())??;
            self.at = 0;
        }
        let n = buffer.len().min(self.chunk.len() - self.at);
        buffer[..n].copy_from_slice(&self.chunk[self.at..self.at + n]);
        self.at += n;
        Ok(n)
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

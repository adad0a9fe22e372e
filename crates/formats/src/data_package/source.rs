//! Where a package's files lie: in a folder or in a zip. Whatever is hostile about them is refused here.

use crate::{
    archive::{Archive, is_inside},
    problem::ReadError,
};
use std::{
    fs::File,
    io::Read,
    path::{Path, PathBuf},
};

/// The name of the descriptor.
pub(super) const DESCRIPTOR: &str = "datapackage.json";
/// The most bytes of a descriptor.
const MAX_DESCRIPTOR: u64 = 16 << 20;

pub(super) enum Source {
    Folder(PathBuf),
    Zip { path: PathBuf, archive: Box<Archive>, prefix: String },
}

impl Source {
    pub(super) fn open(path: &Path) -> Result<Source, ReadError> {
        if path.is_dir() {
            return Ok(Source::Folder(path.to_owned()));
        }
        if !path.exists() {
            return Err(ReadError::Missing { path: path.to_owned() });
        }
        // What is wrong with an archive is wrong with the package.
        let archive = Archive::open(path).map_err(|e| match e {
            ReadError::Unusable { problem, .. } => ReadError::Zip { path: path.to_owned(), problem },
            other => other,
        })?;
        let names = archive.names();
        let descriptors = names.iter().filter(|n| *n == DESCRIPTOR || n.ends_with(&format!("/{DESCRIPTOR}")));
        let shallowest = descriptors.min_by_key(|n| n.matches('/').count());
        let found = shallowest.ok_or_else(|| ReadError::NoDescriptor { path: path.to_owned() })?;
        let prefix = found.trim_end_matches(DESCRIPTOR).to_owned();
        Ok(Source::Zip { path: path.to_owned(), archive: Box::new(archive), prefix })
    }

    fn path(&self) -> &Path {
        match self {
            Source::Folder(path) | Source::Zip { path, .. } => path,
        }
    }

    pub(super) fn descriptor(&mut self) -> Result<Vec<u8>, ReadError> {
        let path = self.path().to_owned();
        let missing = || ReadError::NoDescriptor { path: path.clone() };
        let mut text = Vec::new();
        let (reader, _) = self.file(DESCRIPTOR).map_err(|_| missing())?;
        reader.take(MAX_DESCRIPTOR + 1).read_to_end(&mut text).map_err(|_| missing())?;
        if text.len() as u64 > MAX_DESCRIPTOR {
            return Err(ReadError::BadDescriptor { path, problem: "it is longer than 16 MB".to_owned() });
        }
        Ok(text)
    }

    /// The size of a file when unpacked, 0 where it is not there.
    pub(super) fn size(&mut self, file: &str) -> u64 {
        match self {
            Source::Folder(folder) => std::fs::metadata(folder.join(file)).map_or(0, |m| m.len()),
            Source::Zip { archive, prefix, .. } => archive.sizes(&format!("{prefix}{file}")).1,
        }
    }

    /// A file of the package and its size.
    pub(super) fn file(&mut self, file: &str) -> Result<(Box<dyn Read + '_>, u64), ReadError> {
        if !is_inside(file) {
            return Err(ReadError::Outside { file: file.to_owned() });
        }
        let missing = || ReadError::MissingFile { file: file.to_owned() };
        match self {
            Source::Folder(folder) => {
                let path = folder.join(file);
                let (real, root) = (path.canonicalize().map_err(|_| missing())?, folder.canonicalize().map_err(|_| missing())?);
                if !real.starts_with(root) {
                    return Err(ReadError::Outside { file: file.to_owned() });
                }
                if !real.is_file() {
                    return Err(missing());
                }
                let open = File::open(&real).map_err(|source| ReadError::Io { file: file.to_owned(), source })?;
                let size = open.metadata().map_or(0, |m| m.len());
                Ok((Box::new(open), size))
            }
            Source::Zip { archive, prefix, .. } => {
                let name = format!("{prefix}{file}");
                let size = archive.sizes(&name).1;
                let entry = archive.entry(&name)?.ok_or_else(missing)?;
                Ok((Box::new(entry), size))
            }
        }
    }
}

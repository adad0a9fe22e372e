//! Where a package's files lie: in a folder or in a zip. Whatever is hostile about them is refused here.

use crate::problem::ReadError;
use std::{
    fs::File,
    io::{self, Read},
    path::{Component, Path, PathBuf},
};
use zip::ZipArchive;

/// The name of the descriptor.
pub(super) const DESCRIPTOR: &str = "datapackage.json";
/// The most bytes of a descriptor.
const MAX_DESCRIPTOR: u64 = 16 << 20;
/// A file in a zip may grow by this factor when unpacked; real tables reach a tenth of it.
const MAX_GROWTH: u64 = 100;
/// Small files are unpacked however much they grow.
const ALWAYS_UNPACKED: u64 = 64 << 20;

pub(super) enum Source {
    Folder(PathBuf),
    Zip { path: PathBuf, archive: Box<ZipArchive<File>>, prefix: String },
}

impl Source {
    pub(super) fn open(path: &Path) -> Result<Source, ReadError> {
        if path.is_dir() {
            return Ok(Source::Folder(path.to_owned()));
        }
        let file = File::open(path).map_err(|source| match source.kind() {
            io::ErrorKind::NotFound => ReadError::Missing { path: path.to_owned() },
            _ => ReadError::Io { file: path.display().to_string(), source },
        })?;
        let archive = ZipArchive::new(file).map_err(|e| ReadError::Zip { path: path.to_owned(), problem: e.to_string() })?;
        Source::zip(path, archive)
    }

    fn zip(path: &Path, archive: ZipArchive<File>) -> Result<Source, ReadError> {
        let damaged = |e: zip::result::ZipError| ReadError::Zip { path: path.to_owned(), problem: e.to_string() };
        let names = archive.file_names().map(|n| n.map(|n| n.into_owned()).map_err(damaged)).collect::<Result<Vec<String>, _>>()?;
        if let Some(outside) = names.iter().find(|n| !is_inside(n.trim_end_matches('/'))) {
            return Err(ReadError::Outside { file: outside.clone() });
        }
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
            Source::Zip { archive, prefix, .. } => archive.by_name(&format!("{prefix}{file}")).map_or(0, |f| f.size()),
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
                let entry = archive.by_name(&format!("{prefix}{file}")).map_err(|_| missing())?;
                let (size, most) = (entry.size(), (entry.compressed_size().saturating_mul(MAX_GROWTH)).max(ALWAYS_UNPACKED));
                Ok((Box::new(Unpacked { inner: entry, left: most }), size))
            }
        }
    }
}

/// Whether a name stays within the package.
fn is_inside(name: &str) -> bool {
    !name.is_empty() && !name.contains('\\') && Path::new(name).components().all(|c| matches!(c, Component::Normal(_)))
}

/// Stops a file that grows beyond belief.
struct Unpacked<R> {
    inner: R,
    left: u64,
}

impl<R: Read> Read for Unpacked<R> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let n = self.inner.read(buffer)?;
        self.left = self
            .left
            .checked_sub(n as u64)
            .ok_or_else(|| io::Error::other(format!("it unpacks to more than {MAX_GROWTH} times its size, as no real table does")))?;
        Ok(n)
    }
}

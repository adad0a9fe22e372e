//! Zip archives. Whatever is hostile about them is refused here: paths that lead out of them, two entries of one name, and entries
//! that grow beyond belief when they are unpacked.

use crate::{ReadError, filings::file_name};
use std::{
    fs::File,
    io::{self, Read},
    path::{Component, Path},
};
use zip::{CompressionMethod, ZipArchive, read::ZipFile, result::ZipError, write::SimpleFileOptions};

/// An entry may grow by this factor when unpacked; real tables reach a tenth of it.
const MOST_GROWTH: u64 = 100;
/// Small entries are unpacked however much they grow.
const ALWAYS_UNPACKED: u64 = 16 << 20;

/// The first bytes of an archive.
pub(crate) const MAGIC: &[u8] = b"PK\x03\x04";

/// How entries are written. Whoever exports waits: half as many bytes again, in a quarter of the time.
pub fn quickly_packed() -> SimpleFileOptions {
    SimpleFileOptions::default().compression_method(CompressionMethod::Deflated).compression_level(Some(1)).large_file(true)
}

/// An archive whose names were looked at.
pub(crate) struct Archive {
    file: String,
    zip: ZipArchive<File>,
    names: Vec<String>,
}

/// An entry while it is read.
pub(crate) struct Entry<'a> {
    inner: ZipFile<'a, File>,
    file: String,
    left: u64,
}

impl Archive {
    /// Opens an archive and looks at the names in it.
    ///
    /// # Errors
    /// A file that is no complete archive, or has entries that no honest archive has.
    pub(crate) fn open(path: &Path) -> Result<Archive, ReadError> {
        let file = file_name(path);
        let opened = File::open(path).map_err(|source| ReadError::Io { file: file.clone(), source })?;
        let zip = ZipArchive::new(opened).map_err(|e| unusable(&file, &e))?;
        let names =
            zip.file_names().map(|n| n.map(|n| n.into_owned())).collect::<Result<Vec<String>, _>>().map_err(|e| unusable(&file, &e))?;
        if let Some(outside) = names.iter().find(|n| !is_inside(n.trim_end_matches('/'))) {
            let problem = format!("an entry of the archive has a path outside it: {outside}");
            return Err(ReadError::Unusable { file, problem });
        }
        if zip.has_duplicate_names() {
            return Err(ReadError::Unusable { file, problem: "two entries of the archive have the same name".to_owned() });
        }
        Ok(Archive { file, zip, names })
    }

    /// The names of its entries, folders included.
    pub(crate) fn names(&self) -> &[String] {
        &self.names
    }

    /// An entry; `None` where there is none of this name.
    pub(crate) fn entry(&mut self, name: &str) -> Result<Option<Entry<'_>>, ReadError> {
        let file = self.file.clone();
        let inner = match self.zip.by_name(name) {
            Ok(entry) => entry,
            Err(ZipError::FileNotFound) => return Ok(None),
            Err(e) => return Err(unusable(&file, &e)),
        };
        let most = inner.compressed_size().saturating_mul(MOST_GROWTH).max(ALWAYS_UNPACKED);
        if inner.size() > most {
            return Err(ReadError::Unusable { file, problem: format!("{name} {}", too_large()) });
        }
        Ok(Some(Entry { inner, file: format!("{file}: {name}"), left: most }))
    }

    /// Unpacks every entry to nothing, for those who open the archive by other means.
    ///
    /// # Errors
    /// An entry that is damaged or grows beyond belief.
    pub(crate) fn check(mut self) -> Result<(), ReadError> {
        for name in std::mem::take(&mut self.names) {
            if let Some(mut entry) = self.entry(&name)? {
                io::copy(&mut entry, &mut io::sink())
                    .map_err(|e| ReadError::Unusable { file: entry.file.clone(), problem: e.to_string() })?;
            }
        }
        Ok(())
    }

    /// The packed and the unpacked size of an entry, 0 where there is none.
    pub(crate) fn sizes(&mut self, name: &str) -> (u64, u64) {
        self.zip.by_name(name).map_or((0, 0), |entry| (entry.compressed_size(), entry.size()))
    }
}

impl Entry<'_> {
    /// The whole entry, up to a number of bytes.
    pub(crate) fn bytes(mut self, most: u64) -> Result<Vec<u8>, ReadError> {
        let mut bytes = Vec::new();
        let read = self.by_ref().take(most + 1).read_to_end(&mut bytes);
        read.map_err(|source| ReadError::Io { file: self.file.clone(), source })?;
        if bytes.len() as u64 > most {
            return Err(ReadError::Unusable { file: self.file.clone(), problem: format!("it is larger than {} MB", most >> 20) });
        }
        Ok(bytes)
    }
}

impl Read for Entry<'_> {
    fn read(&mut self, buffer: &mut [u8]) -> io::Result<usize> {
        let n = self.inner.read(buffer)?;
        self.left = self.left.checked_sub(n as u64).ok_or_else(|| io::Error::other(format!("it {}", too_large())))?;
        Ok(n)
    }
}

fn too_large() -> String {
    format!("unpacks to more than {MOST_GROWTH} times its size, as no real table does")
}

fn unusable(file: &str, e: &ZipError) -> ReadError {
    ReadError::Unusable { file: file.to_owned(), problem: format!("it is no complete archive ({e})") }
}

/// Whether a name stays within the archive.
pub(crate) fn is_inside(name: &str) -> bool {
    let has_drive = name.as_bytes().get(1) == Some(&b':');
    !name.is_empty() && !has_drive && !name.contains('\\') && Path::new(name).components().all(|c| matches!(c, Component::Normal(_)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::Write;
    use zip::{ZipWriter, write::SimpleFileOptions};

    fn archive(entries: &[(&str, Vec<u8>)]) -> (tempfile::NamedTempFile, Result<Archive, ReadError>) {
        let file = tempfile::NamedTempFile::new().unwrap();
        let mut zip = ZipWriter::new(file.reopen().unwrap());
        for (name, content) in entries {
            zip.start_file(*name, SimpleFileOptions::default()).unwrap();
            zip.write_all(content).unwrap();
        }
        zip.finish().unwrap();
        let opened = Archive::open(file.path());
        (file, opened)
    }

    #[test]
    fn honest_entries_are_read_and_others_refused() {
        let (_file, opened) = archive(&[("a/b.txt", b"content".to_vec())]);
        let mut opened = opened.unwrap();
        assert_eq!(opened.entry("a/b.txt").unwrap().unwrap().bytes(100).unwrap(), b"content");
        assert!(opened.entry("a/b.txt").unwrap().unwrap().bytes(3).unwrap_err().to_string().contains("larger than"));
        assert!(opened.entry("c").unwrap().is_none());
        for outside in ["/etc/planted", "a/../../b", "C:/x", "a\\b"] {
            let refused = archive(&[(outside, Vec::new())]).1.err().map(|e| e.to_string());
            assert!(refused.is_some_and(|r| r.contains("has a path outside it")), "{outside}");
        }
    }

    /// 20 MB of zeros pack a thousand to one; 20 MB that pack badly are no bomb, and so are a few zeros.
    #[test]
    fn what_grows_beyond_belief_is_not_unpacked() {
        let noise: Vec<u8> = (0..20_u32 << 20).map(|i| (i.wrapping_mul(2_654_435_761) >> 13) as u8).collect();
        let (_file, opened) = archive(&[("bomb", vec![0; 20 << 20]), ("noise", noise), ("few", vec![0; 10 << 20])]);
        let mut opened = opened.unwrap();
        assert!(opened.entry("bomb").err().unwrap().to_string().contains("unpacks to more than 100 times"));
        assert!(opened.entry("noise").unwrap().is_some());
        assert_eq!(opened.entry("few").unwrap().unwrap().bytes(64 << 20).unwrap().len(), 10 << 20);
    }
}

//! The stand-in for a mail server: a folder into which messages are put as files that any mail program opens.

use std::{
    fs, io,
    path::{Path, PathBuf},
};

/// Puts a message into the folder. One of the same name is replaced by it, so that what is delivered again after an interruption is
/// not there twice; half of one is never seen.
///
/// # Errors
/// When the folder cannot be written.
pub fn deliver(folder: &Path, name: &str, message: &[u8]) -> io::Result<PathBuf> {
    fs::create_dir_all(folder)?;
    let safe: String = name.chars().map(|c| if c.is_ascii_alphanumeric() || c == '-' { c } else { '-' }).collect();
    let (half, whole) = (folder.join(format!(".{safe}.part")), folder.join(format!("{safe}.eml")));
    fs::write(&half, message)?;
    fs::rename(&half, &whole)?;
    Ok(whole)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_delivered_twice_is_there_once() {
        let folder = std::env::temp_dir().join(format!("artemon-outbox-{}", std::process::id()));
        deliver(&folder, "digest 2026-07-01", b"one").unwrap();
        let file = deliver(&folder, "digest 2026-07-01", b"two").unwrap();
        assert_eq!(fs::read(&file).unwrap(), b"two");
        assert_eq!(file.file_name().unwrap(), "digest-2026-07-01.eml");
        assert_eq!(fs::read_dir(&folder).unwrap().count(), 1);
        deliver(&folder, "../../away", b"three").unwrap();
        assert_eq!(fs::read_dir(&folder).unwrap().count(), 2, "no name leads out of the folder");
        fs::remove_dir_all(&folder).unwrap();
    }
}

//! Whether the files of a data folder are sound, and what is where.

use crate::{AppError, dataset::damage_said};
use artemon_store::{Dataset, FolderLock, Kept, PeopleCopy, StoreError, examine, newest_sound_copy, people_copies};
use serde::Serialize;
use std::{
    fs,
    path::{Path, PathBuf},
};

/// How sound a data folder is.
#[derive(Clone, Debug, Serialize)]
pub struct Health {
    /// Each of its files.
    pub files: Vec<FileHealth>,
    /// The newest sound copy of what is one's own, where that is damaged.
    pub sound_copy: Option<PathBuf>,
}

impl Health {
    /// Whether nothing is damaged.
    #[must_use]
    pub fn is_sound(&self) -> bool {
        self.files.iter().all(|f| f.problems.is_empty())
    }
}

/// How sound a file is.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct FileHealth {
    pub file: &'static str,
    /// Bytes.
    pub size: u64,
    /// Sentences.
    pub problems: Vec<String>,
}

/// Looks at every page and every row, perhaps while a server runs on the folder. Nothing is changed.
///
/// # Errors
/// When there is nothing in the folder.
pub fn check(folder: &Path) -> Result<Health, AppError> {
    let there: Vec<Kept> = Kept::ALL.into_iter().filter(|kept| folder.join(kept.file()).is_file()).collect();
    if there.is_empty() {
        return Err(AppError::NoDataset { folder: folder.to_owned() });
    }
    let files: Vec<FileHealth> = there.into_iter().map(|kept| of_file(folder, kept)).collect();
    let own_damaged = files.iter().any(|f| f.file == Kept::People.file() && !f.problems.is_empty());
    let sound_copy = if own_damaged { newest_sound_copy(folder).map(|c| folder.join("copies").join(c.name)) } else { None };
    Ok(Health { files, sound_copy })
}

fn of_file(folder: &Path, kept: Kept) -> FileHealth {
    let path = folder.join(kept.file());
    let mut problems = examine(&path, kept).unwrap_or_else(|e| vec![e.to_string()]);
    if kept == Kept::Dataset && problems.is_empty() {
        match Dataset::open_to_read(folder).and_then(|dataset| dataset.check()) {
            Ok(damaged) => problems.extend(damaged.iter().map(damage_said)),
            Err(StoreError::Older { .. }) => {}
            Err(e) => problems.push(e.to_string()),
        }
    }
    FileHealth { file: kept.file(), size: fs::metadata(path).map_or(0, |m| m.len()), problems }
}

const LOG: &str = "log";

/// How many days a server's log is kept.
pub const LOG_DAYS: usize = 14;

/// Where a server keeps its log.
#[must_use]
pub fn log_folder(folder: &Path) -> PathBuf {
    folder.join(LOG)
}

/// What is where, how large and how healthy, a line each: its name and what is to be said.
///
/// # Errors
/// As [`check`].
pub fn doctor(folder: &Path) -> Result<Vec<(String, String)>, AppError> {
    let health = check(folder)?;
    let mut lines = vec![("folder".to_owned(), folder.display().to_string())];
    for file in &health.files {
        let state = match file.problems.as_slice() {
            [] => "sound".to_owned(),
            [one] => one.clone(),
            [first, rest @ ..] => format!("{first} And {} more: `artemon check` lists them.", rest.len()),
        };
        lines.push((file.file.to_owned(), format!("{}, {state}", size(file.size))));
    }
    let copies = people_copies(folder);
    lines.push(("copies".to_owned(), copies_said(&copies)));
    if let Some(copy) = &health.sound_copy {
        lines.push(("way back".to_owned(), format!("artemon restore \"{}\"", copy.display())));
    }
    let in_use = matches!(FolderLock::take(folder), Err(StoreError::InUse { .. }));
    lines.push(("in use".to_owned(), if in_use { "by a running Artemon" } else { "no" }.to_owned()));
    let folders = [
        ("uploads", "files that the browser brought and that wait"),
        ("outbox", "messages as files"),
        (LOG, "what a server wrote down of itself"),
    ];
    for (name, what) in folders {
        lines.push((name.to_owned(), format!("{}, {what}", size(below(&folder.join(name))))));
    }
    lines.push(("version".to_owned(), env!("CARGO_PKG_VERSION").to_owned()));
    Ok(lines)
}

fn copies_said(copies: &[PeopleCopy]) -> String {
    match copies {
        [] => "none of what is your own yet; a running server makes one each day".to_owned(),
        [newest, ..] => format!("{} of what is your own, the newest of {} ({})", copies.len(), newest.made_at, newest.reason),
    }
}

/// Bytes below a folder.
fn below(folder: &Path) -> u64 {
    let mut all = 0;
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        all += match entry.metadata() {
            Ok(m) if m.is_dir() => below(&entry.path()),
            Ok(m) => m.len(),
            Err(_) => 0,
        };
    }
    all
}

/// As people say it.
fn size(bytes: u64) -> String {
    match bytes {
        b if b >= 1 << 30 => format!("{:.1} GB", b as f64 / f64::from(1 << 30)),
        b if b >= 1 << 20 => format!("{:.1} MB", b as f64 / f64::from(1 << 20)),
        b if b >= 1 << 10 => format!("{} kB", b >> 10),
        b => format!("{b} bytes"),
    }
}

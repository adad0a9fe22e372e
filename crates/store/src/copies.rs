//! Copies of the files of a data folder: made while they are in use, looked at before they count, and put back.

use crate::{
    StoreError,
    db::{self, Sort},
    files::{self, DATASET, PEOPLE},
    lock::FolderLock,
    moment,
    people::{self, checksums, schema::persons},
};
use diesel::{connection::SimpleConnection, prelude::*, sql_types::Text, sqlite::SqliteConnection};
use std::{
    fs::{self, File},
    path::{Path, PathBuf},
};

/// Where copies of what belongs to persons are kept, within the data folder.
const FOLDER: &str = "copies";

/// Which file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kept {
    /// What was imported.
    Dataset,
    /// What belongs to persons.
    People,
}

impl Kept {
    /// Both.
    pub const ALL: [Kept; 2] = [Kept::People, Kept::Dataset];

    /// The name of the file.
    #[must_use]
    pub const fn file(self) -> &'static str {
        match self {
            Kept::Dataset => DATASET,
            Kept::People => PEOPLE,
        }
    }

    const fn sort(self) -> &'static Sort {
        match self {
            Kept::Dataset => &crate::dataset::SORT,
            Kept::People => &crate::people::SORT,
        }
    }
}

/// A copy of what belongs to persons.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PeopleCopy {
    /// The file's name, which begins with the time it was made.
    pub name: String,
    /// Why it was made: "daily", "by hand", "before an update", "replaced".
    pub reason: String,
    /// When, as RFC 3339.
    pub made_at: String,
    /// Bytes.
    pub size: u64,
}

#[derive(QueryableByName)]
struct Said {
    #[diesel(sql_type = Text)]
    said: String,
}

/// What is wrong with a file, in words; nothing where it is sound. It is not changed.
///
/// # Errors
/// When it is no database of Artemon of this sort, or of a newer version.
pub fn examine(path: &Path, kept: Kept) -> Result<Vec<String>, StoreError> {
    let mut c = db::to_look_at(path, kept.sort())?;
    let said = diesel::sql_query("SELECT quick_check AS said FROM pragma_quick_check LIMIT 20").load::<Said>(&mut c);
    let mut wrong: Vec<String> = match said {
        Ok(all) => all.into_iter().map(|s| s.said).filter(|said| said != "ok").collect(),
        Err(e) => vec![e.to_string()],
    };
    if kept == Kept::People {
        match checksums::damaged(&mut c) {
            Ok(tables) => wrong.extend(tables.into_iter().map(|table| format!("the table {table} is not as it was written"))),
            Err(e) => wrong.push(e.to_string()),
        }
    }
    Ok(wrong)
}

/// Copies a file that may be in use, as it is at one moment; the copy counts once it is whole, looked at and on the disk.
///
/// # Errors
/// When it exists, cannot be written, or is not sound.
pub fn copy(folder: &Path, kept: Kept, to: &Path) -> Result<(), StoreError> {
    if to.exists() {
        return Err(StoreError::Exists { path: to.to_owned() });
    }
    let part = to.with_extension("part");
    let made = copied(folder, kept, &part).and_then(|()| fs::rename(&part, to).map_err(files::failed(to)));
    if made.is_err() {
        fs::remove_file(&part).ok();
    }
    made?;
    to.parent().map_or(Ok(()), files::onto_disk)
}

fn copied(folder: &Path, kept: Kept, part: &Path) -> Result<(), StoreError> {
    fs::remove_file(part).ok();
    files::own_file(part).map_err(files::failed(part))?;
    let mut c = db::to_look_at(&folder.join(kept.file()), kept.sort())?;
    diesel::sql_query("VACUUM INTO ?").bind::<Text, _>(part.display().to_string()).execute(&mut c)?;
    if kept == Kept::People {
        people::forget_sessions(part)?;
    }
    File::open(part).and_then(|file| file.sync_all()).map_err(files::failed(part))?;
    match examine(part, kept)?.first() {
        None => Ok(()),
        Some(wrong) => Err(StoreError::Damaged { what: wrong.clone() }),
    }
}

/// The copies of what belongs to persons in a data folder, newest first.
#[must_use]
pub fn people_copies(folder: &Path) -> Vec<PeopleCopy> {
    let mut all: Vec<PeopleCopy> = fs::read_dir(folder.join(FOLDER)).into_iter().flatten().flatten().filter_map(|e| listed(&e)).collect();
    all.sort_by(|a, b| b.name.cmp(&a.name));
    all
}

fn listed(entry: &fs::DirEntry) -> Option<PeopleCopy> {
    let name = entry.file_name().into_string().ok()?;
    let (time, reason) = name.strip_suffix(".sqlite")?.split_once(' ')?;
    let made = chrono::NaiveDateTime::parse_from_str(time, STAMP).ok()?.and_utc();
    let made_at = moment::text(made);
    Some(PeopleCopy { reason: reason.to_owned(), made_at, size: entry.metadata().ok()?.len(), name })
}

/// How names of copies tell their time, to the millisecond.
const STAMP: &str = "%Y%m%dT%H%M%S%.3f";

/// Copies what belongs to persons into the folder's copies. Of those made for the same reason `keep` stay.
///
/// # Errors
/// As [`copy`].
pub fn copy_people(folder: &Path, reason: &str, keep: usize) -> Result<PeopleCopy, StoreError> {
    let copies = folder.join(FOLDER);
    files::own_folder(&copies)?;
    let name = format!("{} {reason}.sqlite", chrono::Utc::now().format(STAMP));
    copy(folder, Kept::People, &copies.join(&name))?;
    let all = people_copies(folder);
    for old in all.iter().filter(|c| c.reason == reason).skip(keep.max(1)) {
        fs::remove_file(copies.join(&old.name)).ok();
    }
    all.into_iter().find(|c| c.name == name).ok_or_else(|| StoreError::Damaged { what: format!("{name} is not where it was put") })
}

/// Where a copy of what belongs to persons lies.
#[must_use]
pub fn people_copy(folder: &Path, name: &str) -> Option<PathBuf> {
    people_copies(folder).into_iter().find(|c| c.name == name).map(|c| folder.join(FOLDER).join(c.name))
}

/// The copies of what belongs to persons that are sound, newest first.
pub fn sound_copies(folder: &Path) -> impl Iterator<Item = PeopleCopy> {
    let sound = |copy: &PeopleCopy| examine(&folder.join(FOLDER).join(&copy.name), Kept::People).is_ok_and(|wrong| wrong.is_empty());
    people_copies(folder).into_iter().filter(move |copy| copy.reason != REPLACED && sound(copy))
}

/// The newest of them.
#[must_use]
pub fn newest_sound_copy(folder: &Path) -> Option<PeopleCopy> {
    sound_copies(folder).next()
}

/// Why what was there before is kept.
const REPLACED: &str = "replaced";

/// Puts a copy in the place of a folder's file, once it was looked at; what was there is kept, and said where. No other program may
/// have the folder.
///
/// # Errors
/// A copy that is not sound or of another sort; a folder in use or that cannot be written. Nothing is changed then.
pub fn put_back(folder: &Path, kept: Kept, from: &Path) -> Result<Option<PathBuf>, StoreError> {
    let _lock = FolderLock::take(folder)?;
    if let Some(wrong) = examine(from, kept)?.into_iter().next() {
        return Err(StoreError::Unsound { path: from.to_owned(), problem: wrong });
    }
    let (place, made) = (folder.join(kept.file()), folder.join(format!("{}.part", kept.file())));
    files::own_file(&made).and_then(|()| fs::copy(from, &made)).map_err(files::failed(folder))?;
    files::own_file(&made).and_then(|()| File::open(&made)?.sync_all()).map_err(files::failed(folder))?;
    let aside = set_apart(folder, kept, &place)?;
    fs::rename(&made, &place).map_err(files::failed(folder))?;
    files::onto_disk(folder)?;
    Ok(aside)
}

/// Takes a file out of a folder, which then begins without it; it is kept, and said where. No other program may have the folder.
///
/// # Errors
/// A folder in use or that cannot be written. Nothing is changed then.
pub fn put_away(folder: &Path, kept: Kept) -> Result<Option<PathBuf>, StoreError> {
    let _lock = FolderLock::take(folder)?;
    let place = folder.join(kept.file());
    let aside = set_apart(folder, kept, &place)?;
    if aside.is_some() {
        fs::remove_file(&place).map_err(files::failed(folder))?;
        files::onto_disk(folder)?;
    }
    Ok(aside)
}

/// Keeps a file, with what waits beside it, under another name.
fn set_apart(folder: &Path, kept: Kept, place: &Path) -> Result<Option<PathBuf>, StoreError> {
    if !place.is_file() {
        return Ok(None);
    }
    // What waits in the log belongs into the file; where it cannot be read the log goes with it.
    files::settle(place).ok();
    files::own_folder(&folder.join(FOLDER))?;
    let stamp = chrono::Utc::now().format(STAMP);
    let name = match kept {
        Kept::People => format!("{stamp} {REPLACED}.sqlite"),
        Kept::Dataset => format!("{stamp} {REPLACED} dataset.sqlite"),
    };
    let to = folder.join(FOLDER).join(name);
    for ending in ["-wal", "-shm"] {
        let with = files::beside(place, ending);
        if with.is_file() {
            fs::rename(with, files::beside(&to, ending)).map_err(files::failed(folder))?;
        }
    }
    // It stays in its place until the other takes it.
    fs::hard_link(place, &to).or_else(|_| fs::copy(place, &to).map(drop)).map_err(files::failed(folder))?;
    Ok(Some(to))
}

/// How people sign in, what they share, and what was done: this stays as it is when their work is taken back. Nothing that was ended
/// since opens a door again.
const STAYS: [&str; 10] =
    ["persons", "credentials", "recovery_codes", "sessions", "devices", "invitations", "access_tokens", "addresses", "shares", "audit"];

/// Takes the contents of another file of the same layout into an open one, in one transaction. Whoever computed with a revision up
/// to `newest` finds a later one. Persons who came since stay, without anything of their own.
pub(crate) fn take_contents(c: &mut SqliteConnection, from: &Path, newest: i64) -> Result<(), StoreError> {
    diesel::sql_query("ATTACH ? AS other").bind::<Text, _>(from.display().to_string()).execute(c)?;
    let taken = c.immediate_transaction::<_, StoreError, _>(|c| {
        c.batch_execute("PRAGMA defer_foreign_keys = ON;")?;
        let mut tables = checksums::tables(c)?;
        tables.retain(|table| !STAYS.contains(&table.as_str()));
        tables.iter().try_for_each(|table| c.batch_execute(&format!("DELETE FROM main.\"{table}\";")))?;
        c.batch_execute("INSERT OR IGNORE INTO main.persons SELECT * FROM other.persons;")?;
        tables.iter().try_for_each(|table| c.batch_execute(&format!("INSERT INTO main.\"{table}\" SELECT * FROM other.\"{table}\";")))?;
        diesel::update(persons::table).set(persons::revision.eq(persons::revision + newest + 1)).execute(c)?;
        // What is kept of a table that could not be trusted says nothing about what is there now.
        checksums::keep(c, &[])
    });
    c.batch_execute("DETACH other;")?;
    taken
}

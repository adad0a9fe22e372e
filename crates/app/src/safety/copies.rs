//! Copies of what is one's own: one a day, and whenever somebody asks; put back while the server runs.

use crate::{
    AppError, Ctx, Home,
    alerts::data_changed,
    backtests::work_on_backtests,
    dataset::{Damage, damages},
    people::noted,
};
use artemon_store::{PeopleCopy, copy_people, newest_sound_copy, people_copies, people_copy};
use serde::Serialize;
use std::{fs, path::PathBuf, sync::Arc};
use utoipa::ToSchema;

/// Copies kept of those that are made each day, unless said otherwise; of those that somebody asked for; of what was replaced.
pub const DAILY: usize = 14;
const BY_HAND: usize = 50;
const REPLACED: usize = 10;

/// How safe it all is.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Safety {
    /// The data folder; empty on a server of several people, who need not know where it is.
    pub folder: String,
    /// Bytes of the file of what is one's own.
    pub own_size: u64,
    /// Bytes of the dataset's file.
    pub dataset_size: u64,
    /// The parts of one's own that are not as they were saved: something on the disk is damaged.
    pub own_damaged: Vec<String>,
    /// The newest copy that is sound, where something is damaged.
    pub sound_copy: Option<String>,
    /// Of how many companies, currencies and indexes something is damaged and was set aside.
    pub damaged: usize,
    /// What it is, of the first two hundred.
    pub dataset_damaged: Vec<Damage>,
    /// The copies of what is one's own, newest first.
    pub copies: Vec<CopyEntry>,
    /// How many daily copies are kept.
    pub daily: usize,
}

/// A copy of what is one's own.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CopyEntry {
    /// By which it is asked for.
    pub name: String,
    /// Why it was made: "daily", "by hand", "before an update", "replaced".
    pub reason: String,
    /// When, as RFC 3339.
    pub made_at: String,
    /// Bytes.
    pub size: u64,
}

impl From<PeopleCopy> for CopyEntry {
    fn from(c: PeopleCopy) -> CopyEntry {
        CopyEntry { name: c.name, reason: c.reason, made_at: c.made_at, size: c.size }
    }
}

/// How safe it all is.
///
/// # Errors
/// None now.
pub fn safety(ctx: &Ctx) -> Result<Safety, AppError> {
    let folder = ctx.home.folder();
    // With what waits beside it.
    let one = |file: String| fs::metadata(folder.join(file)).map_or(0, |m| m.len());
    let size = |file: &str| one(file.to_owned()) + one(format!("{file}-wal"));
    let own_damaged = ctx.home.people.damaged();
    let (damaged, dataset_damaged) = damages(&ctx.dataset);
    Ok(Safety {
        folder: ctx.home.folder_shown(),
        own_size: size(artemon_store::Kept::People.file()),
        dataset_size: size(artemon_store::Kept::Dataset.file()),
        sound_copy: if own_damaged.is_empty() { None } else { newest_sound_copy(folder).map(|c| c.name) },
        own_damaged,
        damaged,
        dataset_damaged,
        copies: people_copies(folder).into_iter().map(CopyEntry::from).collect(),
        daily: ctx.home.options.daily_copies.unwrap_or(DAILY),
    })
}

/// Makes a copy now.
///
/// # Errors
/// A disk that is full; damage.
pub fn copy_now(ctx: &Ctx) -> Result<CopyEntry, AppError> {
    Ok(copy_people(ctx.home.folder(), "by hand", BY_HAND)?.into())
}

/// Makes the copy of the day, unless it is there. What is damaged is not copied over what was sound.
///
/// # Errors
/// A disk that is full.
pub fn copy_today(home: &Arc<Home>) -> Result<(), AppError> {
    let (folder, keep) = (home.folder(), home.options.daily_copies.unwrap_or(DAILY));
    let today = home.clock.now().format("%Y-%m-%d").to_string();
    let made = people_copies(folder).iter().any(|c| c.reason == "daily" && c.made_at.starts_with(&today));
    if keep > 0 && !made && home.people.damaged().is_empty() {
        copy_people(folder, "daily", keep)?;
        tracing::info!("the copy of the day was made");
    }
    Ok(())
}

/// Where a copy lies, so that it can be taken elsewhere.
///
/// # Errors
/// When there is none of this name, or it holds what belongs to others too.
pub fn copy_file(ctx: &Ctx, name: &str) -> Result<PathBuf, AppError> {
    if ctx.home.is_shared() {
        let what = "A copy holds what belongs to everybody, and is not handed out; whoever has the machine finds it in the data folder";
        return Err(AppError::NotAllowed { what: what.to_owned() });
    }
    copy_path(ctx, name)
}

fn copy_path(ctx: &Ctx, name: &str) -> Result<PathBuf, AppError> {
    people_copy(ctx.home.folder(), name).ok_or_else(|| AppError::Missing { what: format!("The copy \"{name}\"") })
}

/// Takes everything of one's own back to a copy. What is there now is kept as a copy first.
///
/// # Errors
/// When there is no such copy, or it is damaged. Nothing is changed then.
pub fn put_back(ctx: &Ctx, name: &str) -> Result<(), AppError> {
    let (home, path) = (&ctx.home, copy_path(ctx, name)?);
    noted(ctx, "took everybody's work back to a copy", name)?;
    let _one = home.changing();
    {
        let _booking = home.booking();
        if home.people.damaged().is_empty() {
            copy_people(home.folder(), "replaced", REPLACED)?;
        }
        home.people.take_back(home.folder(), &path)?;
        home.forget_people();
        tracing::warn!("what is one's own was taken back to a copy");
    }
    // Sessions that the copy knows nothing of are worked out again.
    data_changed(home);
    home.tell_news();
    work_on_backtests(home);
    Ok(())
}

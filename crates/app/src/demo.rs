//! The making of the demo world.

use crate::{AppError, state};
use artemon_core::domain::{Currency, Record};
use artemon_demo::World;
use artemon_store::{FolderLock, Store, StoreError};
use std::path::Path;

/// The setting that says which demo world the dataset is.
pub(crate) const WORLD: &str = "demo_world";

/// Puts the demo world into a folder unless it is there already; `reset` makes it anew.
///
/// # Errors
/// A folder that cannot be used.
pub fn make_demo(folder: &Path, companies: Option<usize>, reset: bool) -> Result<(), AppError> {
    let _lock = FolderLock::take(folder)?;
    if state::has_dataset(folder) {
        let made = Store::open(folder)?.setting(WORLD)?;
        let wanted = companies.map(|companies| name_of(World { companies, ..World::default() }));
        match made {
            Some(m) if !reset && wanted.is_none_or(|w| w == m) => return Ok(()),
            Some(_) => {}
            None => {
                let problem =
                    "it holds a dataset that is not the demo world, which is not touched. Choose another folder with --data".to_owned();
                return Err(AppError::Unusable { what: format!("The data folder {}", folder.display()), problem });
            }
        }
    }
    for file in ["artemon.sqlite", "artemon.sqlite-wal", "artemon.sqlite-shm"] {
        let path = folder.join(file);
        if path.exists() {
            std::fs::remove_file(&path).map_err(|source| StoreError::Folder { path: folder.to_owned(), source })?;
        }
    }
    let world = World { companies: companies.unwrap_or(World::default().companies), ..World::default() };
    let base: Currency = World::base_currency();
    Store::open(folder)?.write(|batch| {
        made_ahead(world, |record| batch.put(record))?;
        batch.set(state::NAME, "The Meridian Reach")?;
        batch.set(state::BASE_CURRENCY, base.as_str())?;
        batch.set(WORLD, &name_of(world))
    })?;
    Ok(())
}

/// Rows that are handed on together, and how many such lots may wait to be stored.
const ROWS_AT_ONCE: usize = 8_192;
const WAITING: usize = 8;

/// Makes the world on one thread while `take` stores it on this one.
fn made_ahead<E>(world: World, mut take: impl FnMut(Record) -> Result<(), E>) -> Result<(), E> {
    let (give, get) = std::sync::mpsc::sync_channel::<Vec<Record>>(WAITING);
    std::thread::scope(|s| {
        s.spawn(move || {
            let mut lot = Vec::with_capacity(ROWS_AT_ONCE);
            let gone = world.make(|record| {
                lot.push(record);
                let full = lot.len() == ROWS_AT_ONCE;
                if full { give.send(std::mem::replace(&mut lot, Vec::with_capacity(ROWS_AT_ONCE))).map_err(drop) } else { Ok(()) }
            });
            // Whoever takes the rows has stopped when they can no longer be given.
            gone.and_then(|()| give.send(lot).map_err(drop)).ok();
        });
        get.into_iter().flatten().try_for_each(&mut take)
    })
}

/// The world that a dataset is, if it is one: by the setting that [`make_demo`] left.
pub(crate) fn world_of(setting: &str) -> Option<World> {
    let mut numbers = setting.split(|c: char| !c.is_ascii_digit()).filter(|n| !n.is_empty()).map(str::parse::<u64>);
    let (companies, seed, version) = (numbers.next()?.ok()?, numbers.next()?.ok()?, numbers.next()?.ok()?);
    (version == u64::from(artemon_demo::VERSION)).then_some(World { companies: usize::try_from(companies).ok()?, seed })
}

/// Tells one world from another, and from those of other versions of the generator.
fn name_of(world: World) -> String {
    format!("{} companies, seed {}, version {}", world.companies, world.seed, artemon_demo::VERSION)
}

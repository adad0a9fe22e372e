//! The making of the demo world, and the sessions that it has in store.

use super::opened::{BASE_CURRENCY, NAME};
use crate::{
    AppError,
    ports::{Feed, Session},
};
use artemon_core::domain::{Currency, Day, Record};
use artemon_demo::World;
use artemon_formats::Known;
use artemon_store::{Dataset, FolderLock, has_dataset, swap_dataset};
use std::path::Path;

/// The setting that says which demo world the dataset is.
pub(crate) const WORLD: &str = "demo_world";

/// Puts the demo world into a folder unless it is there already; `reset` makes it anew. The world is made beside and put in
/// place when it is whole: whatever interrupts it, the folder stays as it was. What belongs to persons is not touched.
///
/// # Errors
/// A folder that cannot be used; one that holds another dataset, or another demo world without `reset`.
pub fn make_demo(folder: &Path, companies: Option<usize>, reset: bool) -> Result<(), AppError> {
    let _lock = FolderLock::take(folder)?;
    let world = World { companies: companies.unwrap_or(World::default().companies), ..World::default() };
    if has_dataset(folder) && !wanted(&Dataset::open(folder)?, folder, companies.map(|_| world), reset)? {
        return Ok(());
    }
    let base: Currency = World::base_currency();
    swap_dataset(folder, |made| {
        made.write::<(), AppError>(|batch| {
            made_ahead(world, |record| batch.put(record))?;
            batch.set(NAME, "The Meridian Reach")?;
            batch.set(BASE_CURRENCY, base.as_str())?;
            Ok(batch.set(WORLD, &name_of(world))?)
        })
    })
}

/// Whether the demo world is to be made although there is a dataset.
fn wanted(dataset: &Dataset, folder: &Path, asked: Option<World>, reset: bool) -> Result<bool, AppError> {
    let refused = |problem: String| Err(AppError::Unusable { what: format!("The data folder {}", folder.display()), problem });
    match dataset.setting(WORLD)? {
        // What an interrupted start of older versions left behind.
        None if dataset.is_empty()? => Ok(true),
        None => refused("it holds a dataset that is not the demo world, which is not touched; choose another folder".to_owned()),
        Some(_) if reset => Ok(true),
        Some(made) => match asked.map(name_of) {
            Some(name) if name != made => {
                refused(format!("it holds the demo world of {made}; it is made anew with --reset, and what is your own stays"))
            }
            _ => Ok(false),
        },
    }
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

/// The sessions that the demo world has in store.
#[derive(Debug)]
pub(crate) struct DemoFeed(Vec<Session>);

impl DemoFeed {
    pub(crate) fn of(world: World) -> DemoFeed {
        DemoFeed(world.feed())
    }
}

impl Feed for DemoFeed {
    fn ahead(&self, last: Day) -> Result<Vec<Day>, String> {
        Ok(self.0.iter().map(|s| s.0).filter(|d| *d > last).collect())
    }

    fn session(&self, day: Day, _: &mut Known) -> Result<Vec<Record>, String> {
        let at = self.0.binary_search_by_key(&day, |s| s.0).map_err(|_| format!("it has no session on {day}"))?;
        Ok(self.0[at].1.clone())
    }
}

//! The making of the demo world.

use crate::{AppError, state};
use artemon_core::domain::Currency;
use artemon_demo::World;
use artemon_store::{FolderLock, Store, StoreError};
use std::path::Path;

/// The setting that says which demo world the dataset is.
const WORLD: &str = "demo_world";

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
        world.make(|record| batch.put(record))?;
        batch.set(state::NAME, "The Meridian Reach")?;
        batch.set(state::BASE_CURRENCY, base.as_str())?;
        batch.set(WORLD, &name_of(world))
    })?;
    Ok(())
}

/// Tells one world from another, and from those of other versions of the generator.
fn name_of(world: World) -> String {
    format!("{} companies, seed {}, version {}", world.companies, world.seed, artemon_demo::VERSION)
}

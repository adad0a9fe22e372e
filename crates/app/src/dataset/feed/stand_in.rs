//! The stand-in for a data provider that ships: the sessions of the demo world, each as a package.

use super::super::demo::{WORLD, world_of};
use crate::{AppError, ports::Session};
use artemon_core::domain::Day;
use artemon_demo::World;
use artemon_formats::{BlockWriter, WriteError, data_package::ZipPackageWriter};
use artemon_store::{Dataset, has_dataset};
use std::path::Path;

/// Sessions to hand out.
#[derive(Debug)]
pub struct StandIn(Vec<Session>);

/// The sessions of the demo world of a folder, or of the usual one where the folder has none.
///
/// # Errors
/// When the folder cannot be read.
pub fn stand_in(folder: &Path, companies: Option<usize>) -> Result<StandIn, AppError> {
    let made = if has_dataset(folder) { Dataset::open_to_read(folder)?.setting(WORLD)?.and_then(|s| world_of(&s)) } else { None };
    let usual = World::default();
    let world = companies.map_or(made.unwrap_or(usual), |companies| World { companies, ..usual });
    Ok(StandIn(world.feed()))
}

impl StandIn {
    /// Its days, oldest first.
    #[must_use]
    pub fn days(&self) -> Vec<Day> {
        self.0.iter().map(|s| s.0).collect()
    }

    /// The package of a day; none when it has no session.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn package(&self, day: Day) -> Result<Option<Vec<u8>>, AppError> {
        let Ok(at) = self.0.binary_search_by_key(&day, |s| s.0) else { return Ok(None) };
        let stream = |source| AppError::Write(WriteError::Stream { source });
        let mut rows = self.0[at].1.clone();
        rows.sort_by_key(|r| r.table());
        let mut package = ZipPackageWriter::new(Vec::new());
        let mut blocks = BlockWriter::default();
        for row in &rows {
            if let Some(block) = blocks.write(row).map_err(stream)? {
                package.write(&block)?;
            }
        }
        if let Some(rest) = blocks.take().map_err(stream)? {
            package.write(&rest)?;
        }
        Ok(Some(package.finish()?))
    }
}

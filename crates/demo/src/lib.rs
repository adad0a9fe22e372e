//! The Meridian Reach: an invented world of companies, prices and people, the same for the same seed.
//!
//! Statements add up to the unit, prices follow value with noise and slow reversion, insiders know a little, analysts
//! hope too much. See `docs/demo-world.md`.

mod analysts;
mod books;
mod company;
mod economy;
mod filings;
mod insiders;
mod names;
mod prices;
mod random;
mod stories;

use artemon_core::domain::{Currency, Day, Record};
use economy::Economy;
use rayon::prelude::*;

/// How many companies the world has when not told otherwise.
pub const DEFAULT_COMPANIES: usize = 300;
/// The world's last day.
pub const LAST_DAY: (i32, u32, u32) = (2026, 6, 30);
/// Changes whenever the generator makes other worlds of the same seed.
pub const VERSION: u32 = 2;
/// Companies made at once, which bounds the memory in use.
const AT_ONCE: usize = 64;

/// Which world to make.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct World {
    /// How many companies.
    pub companies: usize,
    /// The seed; equal seeds make equal worlds.
    pub seed: u64,
}

impl Default for World {
    fn default() -> World {
        World { companies: DEFAULT_COMPANIES, seed: 1 }
    }
}

impl World {
    /// The currency in which the world counts: that of its largest state.
    #[must_use]
    pub fn base_currency() -> Currency {
        economy::currency("ZOC")
    }

    /// The last day with prices.
    #[must_use]
    pub fn last_day() -> Day {
        economy::day(LAST_DAY)
    }

    /// Makes the world, table rows grouped by company.
    ///
    /// # Errors
    /// Those of `take`, which ends the making.
    pub fn make<E>(self, mut take: impl FnMut(Record) -> Result<(), E>) -> Result<(), E> {
        let economy = Economy::new(self.seed);
        economy.records().into_iter().try_for_each(&mut take)?;
        let names = names::all(self.companies, self.seed);
        let all: Vec<usize> = (0..self.companies).collect();
        for some in all.chunks(AT_ONCE) {
            let made: Vec<Vec<Record>> = some.par_iter().map(|&i| company::make(i, &names[i], self.seed, &economy)).collect();
            made.into_iter().flatten().try_for_each(&mut take)?;
        }
        Ok(())
    }
}

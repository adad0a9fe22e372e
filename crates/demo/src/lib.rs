//! The Meridian Reach: an invented world of companies, prices and people, the same for the same seed.
//!
//! Statements add up to the unit, prices follow value with noise and slow reversion, insiders know a little, analysts
//! hope too much. The course of the world goes on for a year after its last day, for the feed. See `docs/demo-world.md`.

mod analysts;
mod books;
mod calendar;
mod character;
mod company;
mod economy;
mod filings;
mod indexes;
mod industries;
mod insiders;
mod mistakes;
mod names;
mod people;
mod press;
mod prices;
mod quarter;
mod random;
mod regimes;
mod stories;
mod timeline;

use artemon_core::domain::{Currency, Day, Record};
use economy::Economy;
use indexes::Indexes;
use rayon::prelude::*;

/// How many companies the world has when not told otherwise.
pub const DEFAULT_COMPANIES: usize = 1_200;
/// The world's last day.
const LAST_DAY: (i32, u32, u32) = (2026, 6, 30);
/// The last session that the feed can bring: more than 250 later.
const END_OF_FEED: (i32, u32, u32) = (2027, 7, 9);
/// Changes whenever the generator makes other worlds of the same seed.
pub const VERSION: u32 = 5;
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

    /// The last session that the feed can bring.
    #[must_use]
    pub fn end_of_feed() -> Day {
        economy::day(END_OF_FEED)
    }

    /// Makes the world as it is known on its last day, table rows grouped by company.
    ///
    /// # Errors
    /// Those of `take`, which ends the making.
    pub fn make<E>(self, mut take: impl FnMut(Record) -> Result<(), E>) -> Result<(), E> {
        let last = World::last_day();
        let known =
            |rows: &[Record], first: Day| rows.iter().filter(|_| first <= last).filter_map(|r| timeline::known_by(r, last)).collect();
        self.run(known, |rows| rows.into_iter().try_for_each(&mut take))
    }

    /// The sessions that the feed brings, oldest first.
    #[must_use]
    pub fn feed_days() -> Vec<Day> {
        artemon_sim::sessions::sessions(World::last_day().plus_days(1), World::end_of_feed())
    }

    /// What becomes known after the last day, session by session, oldest first: new rows, and rows that replace those of
    /// the same key.
    #[must_use]
    pub fn feed(self) -> Vec<(Day, Vec<Record>)> {
        let last = World::last_day();
        let days = World::feed_days();
        let mut out: Vec<(Day, Vec<Record>)> = days.iter().map(|d| (*d, Vec::new())).collect();
        let session = |d: Day| days.partition_point(|s| *s < d);
        let turning = |rows: &[Record], first: Day| -> Vec<(usize, Record)> {
            let one = |r: &Record| {
                let from = (first > last).then_some(first);
                let turns = timeline::turns(r).map(|d| d.max(first)).chain(from).filter(|d| *d > last);
                let mut at: Vec<usize> = turns.map(session).filter(|i| *i < days.len()).collect();
                at.sort_unstable();
                at.dedup();
                at.into_iter().filter_map(|i| Some((i, timeline::known_by(r, days[i])?))).collect::<Vec<_>>()
            };
            rows.iter().flat_map(one).collect()
        };
        let placed: Result<(), ()> = self.run(turning, |rows| {
            rows.into_iter().for_each(|(i, r)| out[i].1.push(r));
            Ok(())
        });
        placed.unwrap_or_default();
        out
    }

    /// Runs the whole course of the world: of each company and of the market, `pick` chooses among all rows (on all cores;
    /// before the day that it is told nothing is known of the company), `take` gets what it chose in order.
    fn run<T: Send, E>(
        self,
        pick: impl Fn(&[Record], Day) -> Vec<T> + Sync,
        mut take: impl FnMut(Vec<T>) -> Result<(), E>,
    ) -> Result<(), E> {
        let economy = Economy::new(self.seed);
        let market: Vec<Record> = economy.records().into_iter().chain(regimes::headlines()).collect();
        take(pick(&market, Day::MIN))?;
        let names = names::all(self.companies, self.seed);
        let all: Vec<usize> = (0..self.companies).collect();
        let mut indexes = Indexes::new(&economy);
        for some in all.chunks(AT_ONCE) {
            let one = |&i: &usize| {
                let made = company::make(i, &names[i], self.seed, &economy);
                (pick(&made.records, made.weight.listed_on), made.weight)
            };
            let made: Vec<_> = some.par_iter().map(one).collect();
            for (rows, weight) in made {
                take(rows)?;
                indexes.add(weight);
            }
        }
        take(pick(&indexes.records(&economy), Day::MIN))
    }
}

#[cfg(test)]
mod tests;

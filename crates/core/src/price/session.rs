//! What happened to prices on one session.

use super::price_return;
use crate::{
    domain::Day,
    panel::{AsOf, CompanyAt},
    stats,
};
use rayon::prelude::*;

/// Fewer companies say nothing of their sector.
const FEWEST: usize = 3;

/// The first session of a company on or after a day, which is when the market could answer what was published then; none until it is
/// over.
#[must_use]
pub fn session_after(c: &CompanyAt<'_>, day: Day) -> Option<Day> {
    let bars = c.bars();
    bars.dates().get(bars.upto(day.plus_days(-1))).copied()
}

/// The close of a session over the one before it, less one, on one split basis; none when the company did not trade on that day or
/// never before.
#[must_use]
pub fn session_change(c: &CompanyAt<'_>, session: Day) -> Option<f64> {
    let bars = c.bars();
    let after = bars.upto(session);
    let [before, on] = [after.checked_sub(2)?, after - 1];
    let start = bars.close(before);
    (bars.dates()[on] == session && start > 0.0).then(|| bars.close(on) / start - 1.0)
}

/// The median change of a session over the companies of a sector that were listed and traded on that day; none for fewer than
/// three.
#[must_use]
pub fn sector_change(as_of: AsOf<'_>, sector: &str, session: Day) -> Option<f64> {
    sector_median(as_of.at(session.min(as_of.t)), sector, |c| session_change(c, session))
}

/// The median change of the price from one day to another over the companies of a sector that were listed and traded on the
/// first; none for fewer than three.
#[must_use]
pub fn sector_return(as_of: AsOf<'_>, sector: &str, from: Day, to: Day) -> Option<f64> {
    sector_median(as_of.at(from.min(as_of.t)), sector, |c| price_return(c, to.min(as_of.t)).ok())
}

fn sector_median(then: AsOf<'_>, sector: &str, change: impl Fn(&CompanyAt<'_>) -> Option<f64> + Sync) -> Option<f64> {
    let all = 0..u32::try_from(then.snapshot.company_count()).unwrap_or(u32::MAX);
    let changes: Vec<f64> = all
        .into_par_iter()
        .filter(|i| then.snapshot.company(*i).sector == sector)
        .map(|i| then.company(i))
        .filter(CompanyAt::in_universe)
        .filter_map(|c| change(&c))
        .collect();
    (changes.len() >= FEWEST).then(|| stats::median(&changes)).flatten()
}

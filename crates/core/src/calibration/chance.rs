//! Of those that were given some chance of being under value, how many then brought more than the others?

use super::cells::{Interval, interval, share};
use crate::{
    domain::{Day, Kind},
    engine::Context,
    panel::{CompanyAt, CompanyIndex},
    price::total_return,
    stats::median,
    valuation::{Assumptions, Premises, chances_on},
};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Years after which it is asked.
const YEARS: i32 = 3;
/// Bands of chance.
const BANDS: usize = 10;
/// Draws for each value: a chance within two hundredths.
const DRAWS: u32 = 500;
/// The most companies of which values are drawn: every so many in order of symbol.
const COMPANIES: usize = 1_200;
/// Companies that are worked on between two words of progress.
const TOGETHER: usize = 64;

/// Companies that were given a chance between two ends.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub struct ChanceCell {
    pub from: f64,
    pub to: f64,
    pub episodes: usize,
    pub companies: usize,
    /// The share of those that brought more over three years than the median of all.
    pub better: Option<f64>,
    /// Its 90 % interval by a bootstrap over companies.
    pub better_interval: Option<Interval>,
}

/// By band of chance; and of how many companies values were drawn.
pub(super) fn chances(context: &Context, days: &[Day], followed_to: Day, progress: &mut dyn FnMut(f64)) -> (Vec<ChanceCell>, usize) {
    let over: Vec<Day> = days.iter().copied().filter(|day| day.plus_months(12 * YEARS) <= followed_to).collect();
    let everybody: Vec<CompanyIndex> = context.as_of(followed_to).companies().filter(|c| c.kind() != Kind::Fund).map(|c| c.index).collect();
    let middles: Vec<Option<f64>> = over.iter().map(|day| middle(context, *day, &everybody)).collect();
    let sample: Vec<CompanyIndex> = everybody.iter().copied().step_by(everybody.len().div_ceil(COMPANIES).max(1)).collect();
    let quick = Assumptions { draws: DRAWS, ..context.settings().assumptions.clone() };
    let premises = Premises { assumptions: &quick, overrides: &context.settings().overrides };
    let mut counts: Vec<BTreeMap<CompanyIndex, (u32, u32)>> = vec![BTreeMap::new(); BANDS];
    let mut done = 0;
    for some in sample.chunks(TOGETHER) {
        context.cancel().check();
        progress(f64::from(done) / sample.len() as f64);
        done += u32::try_from(some.len()).unwrap_or_default();
        let drawn = chances_on(context.view(followed_to), &over, some, premises);
        for (company, (day, chance)) in some.iter().zip(drawn).flat_map(|(company, of)| of.into_iter().map(move |c| (*company, c))) {
            let returned = total_return(&context.as_of(over[day]).company(company), after(over[day])).ok();
            if let Some((returned, middle)) = returned.zip(middles[day]) {
                let count = counts[band(chance)].entry(company).or_default();
                *count = (count.0 + u32::from(returned > middle), count.1 + 1);
            }
        }
    }
    let cell = |(band, of): (usize, BTreeMap<CompanyIndex, (u32, u32)>)| {
        let of: Vec<(u32, u32)> = of.into_values().collect();
        let (from, to) = (band as f64 / BANDS as f64, (band + 1) as f64 / BANDS as f64);
        let episodes = of.iter().map(|c| c.1 as usize).sum();
        ChanceCell { from, to, episodes, companies: of.len(), better: share(&of), better_interval: interval(&of) }
    };
    (counts.into_iter().enumerate().map(cell).collect(), sample.len())
}

fn after(day: Day) -> Day {
    day.plus_months(12 * YEARS)
}

/// The median return of all that are in the universe of a day.
fn middle(context: &Context, day: Day, everybody: &[CompanyIndex]) -> Option<f64> {
    let rows = everybody.par_iter().map(|i| context.as_of(day).company(*i)).filter(CompanyAt::in_universe);
    median(&rows.filter_map(|c| total_return(&c, after(day)).ok()).collect::<Vec<_>>())
}

#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
fn band(chance: f64) -> usize {
    ((chance * BANDS as f64) as usize).min(BANDS - 1)
}

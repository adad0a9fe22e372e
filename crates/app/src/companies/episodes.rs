//! The company's own record of being far under its value.

use super::months::MonthPoint;
use artemon_core::{
    domain::Day,
    panel::CompanyAt,
    stats,
    valuation::{Episode, episodes},
    wording::figures::{count, percent},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Price to value at which it counts as far under.
const UNDER: f64 = 0.75;
/// Days of a month in the mean.
const MONTH: f64 = 30.44;

/// How often the price was far under the value, and what came of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct OwnRecord {
    /// All of it in a sentence.
    pub sentence: String,
    /// Oldest first.
    pub episodes: Vec<EpisodeRow>,
}

/// A time that began with the price far under the value of its day.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct EpisodeRow {
    #[schema(value_type = String)]
    pub from: Day,
    /// The value that the price had to meet, on today's split basis.
    pub value: f64,
    /// When a close met it; not yet, or never, when absent.
    #[schema(value_type = Option<String>)]
    pub met: Option<Day>,
}

/// The record of a company from its months of price and value.
pub(super) fn own_record(c: &CompanyAt<'_>, months: &[MonthPoint]) -> OwnRecord {
    let valued: Vec<(Day, f64, f64)> = months.iter().filter_map(|m| Some((m.date, m.price, m.value?))).collect();
    let bars = c.bars();
    let closes: Vec<(Day, f64)> = bars.dates().iter().take(bars.len()).enumerate().map(|(i, d)| (*d, bars.close(i))).collect();
    let found = episodes(&valued, &closes, UNDER);
    OwnRecord { sentence: sentence(&found, valued.first().map(|v| v.0)), episodes: found.iter().map(row).collect() }
}

fn row(e: &Episode) -> EpisodeRow {
    EpisodeRow { from: e.from, value: e.value, met: e.met }
}

fn sentence(found: &[Episode], since: Option<Day>) -> String {
    let Some(since) = since.map(Day::year) else { return "It was never valued, so that there is no record.".to_owned() };
    let under = percent(1.0 - UNDER);
    if found.is_empty() {
        return format!("Since {since} it was never {under} under its value.");
    }
    let months: Vec<f64> = found.iter().filter_map(|e| Some(f64::from(e.met?.days_since(e.from)) / MONTH)).collect();
    let times = match found.len() {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        n => format!("{n} times"),
    };
    let after = stats::median(&months).map(|m| count((m.round() as usize).max(1), "month")).unwrap_or_default();
    let met = match (months.len(), found.len()) {
        (0, _) => "the price has not met the value since".to_owned(),
        (1, 1) => format!("the price met the value after {after}"),
        (1, _) => format!("the price met the value in one of them, after {after}"),
        (n, all) if n == all => format!("the price met the value each time, after {after} in the middle"),
        (n, _) => format!("the price met the value in {n} of them, after {after} in the middle"),
    };
    format!("It was {under} or more under its value {times} since {since}; {met}.")
}

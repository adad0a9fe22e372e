//! When a condition would have become true in the past.

use super::fired::Condition;
use crate::{
    domain::Day,
    engine::{Context, Section},
    formula::{Column, Compiled},
    panel::{CompanyAt, CompanyIndex, Field},
    screening::{self, UniverseError},
    today::Followed,
};
use rayon::prelude::*;
use serde::Serialize;
use std::{
    collections::BTreeSet,
    time::{Duration, Instant},
};

/// How often a condition was looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum LookedAt {
    Session,
    Week,
    Month,
}

/// When a condition became true.
#[derive(Clone, Debug, PartialEq)]
pub struct Past {
    /// The first day that was looked at.
    pub from: Day,
    /// How often.
    pub step: LookedAt,
    /// When it became true of which company, the newest first.
    pub fired: Vec<(Day, CompanyIndex)>,
}

/// Rows that may be valued for one look back.
const ROWS: usize = 60_000;
/// Sessions of a year and of a week, about.
const SESSIONS_A_YEAR: usize = 252;
const SESSIONS_A_WEEK: usize = 5;
/// How long a screen is run over the past.
const PATIENCE: Duration = Duration::from_millis(2_500);

/// When a condition would have become true of some companies in so many years before a date; `None` for dates, of which nothing is known
/// beforehand. Each session is looked at, or where that would take long each week; screens are run at month ends, the newest first, as
/// far as some seconds reach.
///
/// # Errors
/// A screen that cannot be run.
pub fn past(
    context: &Context,
    condition: &Condition<'_>,
    t: Day,
    years: i32,
    companies: &[Followed],
) -> Result<Option<Past>, UniverseError> {
    let from = t.plus_months(-12 * years);
    if let Condition::Screen { screen, entered, left } = condition {
        return through_screen(context, screen, (*entered, *left), (from, t)).map(Some);
    }
    let text = match condition {
        Condition::Formula(formula, _) => return Ok(Some(of_formula(context, Watched::Flag(formula), (from, t), companies))),
        Condition::UnderPrice => "price <= buy_below",
        Condition::Cluster => "insider_cluster",
        Condition::Flags => "red_flags",
        Condition::Verdict => "verdict",
        Condition::Dates(_) | Condition::Screen { .. } => return Ok(None),
    };
    let Ok(formula) = context.compile(text) else { return Ok(None) };
    let watched = match condition {
        Condition::Flags => Watched::Rise(&formula),
        Condition::Verdict => Watched::Change(&formula),
        _ => Watched::Flag(&formula),
    };
    Ok(Some(of_formula(context, watched, (from, t), companies)))
}

/// What of a formula is watched.
#[derive(Clone, Copy)]
enum Watched<'a> {
    /// It becomes true.
    Flag(&'a Compiled),
    /// Its number rises.
    Rise(&'a Compiled),
    /// Its text is another.
    Change(&'a Compiled),
}

fn of_formula(context: &Context, watched: Watched<'_>, (from, t): (Day, Day), companies: &[Followed]) -> Past {
    let years = usize::try_from(t.days_since(from) / 365).unwrap_or(1).max(1);
    let rows = companies.len() * years * SESSIONS_A_YEAR;
    let (step, every) = if rows > ROWS { (LookedAt::Week, SESSIONS_A_WEEK) } else { (LookedAt::Session, 1) };
    let of = |f: &Followed| {
        let c = context.as_of(t).company(f.company);
        let days = looked_at(&c, from, every);
        let fired = match (watched, f.typed) {
            (Watched::Flag(formula), Some(limit)) if is_price(context, formula) => under_typed(&c, &days, limit),
            _ => turned(context, watched, &c, &days),
        };
        fired.into_iter().map(|day| (day, f.company)).collect::<Vec<_>>()
    };
    let mut fired: Vec<(Day, CompanyIndex)> = companies.par_iter().flat_map_iter(of).collect();
    fired.sort_by(|a, b| b.0.cmp(&a.0).then(a.1.cmp(&b.1)));
    Past { from, step, fired }
}

fn is_price(context: &Context, formula: &Compiled) -> bool {
    context.compile("price <= buy_below").is_ok_and(|known| known.identity == formula.identity)
}

/// Every so manieth session after a day, the newest included.
fn looked_at(c: &CompanyAt<'_>, from: Day, every: usize) -> Vec<Day> {
    let mut days: Vec<Day> = c.bars().dates().iter().rev().take_while(|d| **d > from).step_by(every).copied().collect();
    days.reverse();
    days
}

fn under_typed(c: &CompanyAt<'_>, days: &[Day], limit: f64) -> Vec<Day> {
    let bars = c.bars();
    let closes = bars.series(Field::Close, 0..bars.len());
    let under: Vec<bool> = days.iter().map(|d| bars.upto(*d).checked_sub(1).is_some_and(|i| closes[i] <= limit)).collect();
    edges(days, |i| under[i] && !under[i - 1])
}

/// The days, but for the first, on which something holds.
fn edges(days: &[Day], turned: impl Fn(usize) -> bool) -> Vec<Day> {
    (1..days.len()).filter(|i| turned(*i)).map(|i| days[i]).collect()
}

fn turned(context: &Context, watched: Watched<'_>, c: &CompanyAt<'_>, days: &[Day]) -> Vec<Day> {
    let rows: Vec<CompanyAt<'_>> = days.iter().map(|d| c.at(*d)).collect();
    let (Watched::Flag(formula) | Watched::Rise(formula) | Watched::Change(formula)) = watched;
    match (context.evaluate(formula, &rows), watched) {
        (Column::Flag(all), _) => edges(days, |i| all[i] == Ok(true) && all[i - 1] != Ok(true)),
        (Column::Number(all), _) => edges(days, |i| matches!((all[i - 1], all[i]), (Ok(was), Ok(is)) if is > was)),
        (Column::Text(all), _) => edges(days, |i| matches!((&all[i - 1], &all[i]), (Ok(was), Ok(is)) if was != is)),
    }
}

fn through_screen(
    context: &Context,
    screen: &screening::Screen,
    (entered, left): (bool, bool),
    (from, t): (Day, Day),
) -> Result<Past, UniverseError> {
    let ends = context.snapshot().month_ends();
    let days: Vec<Day> = ends.into_iter().filter(|d| *d > from && *d < t).chain([t]).collect();
    let begun = Instant::now();
    let mut fired = Vec::new();
    let mut later: Option<(Day, BTreeSet<CompanyIndex>)> = None;
    let mut earliest = t;
    for day in days.into_iter().rev() {
        let apart = context.apart();
        let section = Section::new(&apart, day);
        let passing: BTreeSet<CompanyIndex> = screening::survivors(screen, &section)?.into_iter().map(|p| section.members()[p]).collect();
        if let Some((on, after)) = &later {
            let came = after.difference(&passing).filter(|_| entered);
            let went = passing.difference(after).filter(|_| left);
            fired.extend(came.chain(went).map(|i| (*on, *i)));
        }
        (later, earliest) = (Some((day, passing)), day);
        if begun.elapsed() > PATIENCE {
            break;
        }
    }
    Ok(Past { from: earliest, step: LookedAt::Month, fired })
}

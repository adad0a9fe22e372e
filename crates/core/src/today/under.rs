//! Who costs no more than one would pay.

use super::Followed;
use crate::{
    domain::Day,
    engine::Context,
    formula::{Column, Compiled},
    panel::{CompanyAt, CompanyIndex, Field},
};
use rayon::prelude::*;
use serde::Serialize;

/// A company whose price is at or under what one would pay.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct UnderPrice {
    /// The company.
    pub company: CompanyIndex,
    /// Its price.
    pub price: f64,
    /// What one would pay.
    pub limit: f64,
    /// That was typed; else it is `buy_below`.
    pub typed: bool,
    /// How many sessions in a row it has been so, this one included.
    pub sessions: usize,
    /// There may be more sessions than were counted.
    pub longer: bool,
    /// The first of these sessions.
    pub since: Day,
    /// It began after the earlier day.
    pub new: bool,
}

/// Sessions that are valued at a time, going back; doubled each time.
const CHUNK: usize = 8;

/// The followed companies whose price is at or under what the person would pay, by symbol: under the price typed, or where none is
/// under `buy_below` as of each session. At most so many sessions are counted back.
#[must_use]
pub fn under_my_price(context: &Context, t: Day, since: Day, followed: &[Followed], at_most: usize) -> Vec<UnderPrice> {
    let (as_of, values) = (context.as_of(t), context.valuations(t));
    let Ok(is_under) = context.compile("price <= buy_below") else { return Vec::new() };
    let one = |f: &Followed| {
        let c = as_of.company(f.company);
        if !c.in_universe() {
            return None;
        }
        let price = c.price().ok()?;
        let limit = f.typed.or_else(|| values[f.company as usize].buy_below(&context.settings().assumptions).ok())?;
        if price > limit {
            return None;
        }
        let sessions = if f.typed.is_some() { typed_run(&c, limit, at_most) } else { run(context, &is_under, &c, at_most) };
        let bars = c.bars();
        let start = bars.dates()[bars.len() - sessions];
        let longer = sessions >= at_most && sessions < bars.len();
        Some(UnderPrice { company: f.company, price, limit, typed: f.typed.is_some(), sessions, longer, since: start, new: start > since })
    };
    let mut under: Vec<UnderPrice> = followed.par_iter().filter_map(one).collect();
    // Positions are in order of symbol.
    under.sort_by_key(|u| u.company);
    under
}

/// How many of the newest closes, at least one, lie at or under a price.
fn typed_run(c: &CompanyAt<'_>, limit: f64, at_most: usize) -> usize {
    let bars = c.bars();
    let closes = bars.series(Field::Close, bars.len().saturating_sub(at_most)..bars.len());
    closes.iter().rev().take_while(|close| **close <= limit).count().max(1)
}

/// Of how many of the newest sessions, at least one, a condition holds as of each of them.
fn run(context: &Context, holds: &Compiled, c: &CompanyAt<'_>, at_most: usize) -> usize {
    let dates = c.bars().dates();
    let (mut count, mut chunk) = (1, CHUNK);
    while count < at_most.min(dates.len()) {
        let until = dates.len() - count;
        let some = &dates[until.saturating_sub(chunk.min(at_most - count))..until];
        let rows: Vec<CompanyAt<'_>> = some.iter().map(|d| c.at(*d)).collect();
        let Column::Flag(held) = context.evaluate(holds, &rows) else { return count };
        let more = held.iter().rev().take_while(|h| **h == Ok(true)).count();
        count += more;
        if more < some.len() {
            break;
        }
        chunk *= 2;
    }
    count
}

//! The levels of an index by session: as they are given, or derived from its members.

use crate::{
    domain::{Currency, Day},
    engine::{Context, Keep, Settings},
    panel::CompanyIndex,
    price::{price_return, total_return},
};
use std::{
    collections::HashMap,
    sync::{Arc, Mutex, PoisonError},
};

/// The levels of an index on each of some days, oldest first, in the base currency; `None` before the first.
///
/// An index without levels in the dataset is derived session by session: level × Σ cap (1 + r) ÷ Σ cap over those who are members and
/// in the universe at the session before and have a market value then; r is the total return to the session in the index's currency,
/// of a share that leaves the exchange with its return on leaving. It is 100 at the first session on which a member has a market value.
///
/// `None` for an index that is not known.
#[must_use]
pub fn index_levels(context: &Context, id: &str, days: &[Day]) -> Option<Vec<Option<f64>>> {
    let currency = context.snapshot().indexes().find(|i| i.0 == id).map(|i| i.2)?;
    let given = !is_derived(context, id);
    let derived = if given { Arc::default() } else { kept(context, id, currency) };
    let level = |day: Day| {
        if given {
            return context.as_of(day).index_level(id);
        }
        derived.partition_point(|d| d.0 <= day).checked_sub(1).map(|i| derived[i].1)
    };
    let base = context.settings().base;
    Some(days.iter().map(|day| Some(level(*day)? * context.as_of(*day).fx(currency, base)?)).collect())
}

/// Whether the levels of an index follow from its members: the dataset has none.
#[must_use]
pub fn is_derived(context: &Context, id: &str) -> bool {
    context.as_of(Day::MAX).index_level(id).is_none()
}

/// Levels by session.
type Levels = Arc<Vec<(Day, f64)>>;

/// The derived levels of the dataset's indexes by id: each in its own currency, they depend on nothing but the data.
#[derive(Default)]
struct Derived(Mutex<HashMap<String, Levels>>);

impl Keep for Derived {
    fn bytes(&self) -> usize {
        // One level a session of twenty years, of a few indexes.
        1 << 20
    }
}

/// The derived levels up to the newest session, worked out once.
fn kept(context: &Context, id: &str, currency: Currency) -> Levels {
    let all = context.engine().whole(Derived::default);
    let mut all = all.0.lock().unwrap_or_else(PoisonError::into_inner);
    let in_its_currency = || context.with(Settings { base: currency, ..context.settings().clone() });
    all.entry(id.to_owned()).or_insert_with(|| Arc::new(derived(&in_its_currency(), id, currency))).clone()
}

fn derived(context: &Context, id: &str, currency: Currency) -> Vec<(Day, f64)> {
    let sessions = context.snapshot().sessions_after(Day::MIN);
    let mut out: Vec<(Day, f64)> = Vec::new();
    for pair in sessions.windows(2) {
        let caps = market_values(context, id, pair[0]);
        if caps.is_empty() {
            continue;
        }
        if out.is_empty() {
            out.push((pair[0], 100.0));
        }
        let grown = |(i, cap): &(CompanyIndex, f64)| cap * (1.0 + returned(context, *i, currency, pair[0], pair[1]));
        let level = out.last().map_or(100.0, |l| l.1) * caps.iter().map(grown).sum::<f64>() / caps.iter().map(|c| c.1).sum::<f64>();
        out.push((pair[1], level));
    }
    out
}

/// The members of a session that are in the universe and have a market value, with it.
fn market_values(context: &Context, id: &str, day: Day) -> Vec<(CompanyIndex, f64)> {
    let as_of = context.as_of(day);
    let rows: Vec<_> =
        as_of.index_members(id).unwrap_or_default().into_iter().map(|i| as_of.company(i)).filter(|c| c.in_universe()).collect();
    let Ok(formula) = context.compile("market_cap") else { return Vec::new() };
    let column = context.evaluate(&formula, &rows);
    rows.iter().enumerate().filter_map(|(i, c)| Some((c.index, column.value(i).number().ok().filter(|cap| *cap > 0.0)?))).collect()
}

fn returned(context: &Context, company: CompanyIndex, currency: Currency, from: Day, to: Day) -> f64 {
    let c = context.as_of(from).company(company);
    let rate = |day: Day| context.as_of(day).fx(c.listing_currency(), currency);
    // Before the first dividend of all nothing was left out.
    let own = total_return(&c, to).or_else(|_| price_return(&c, to)).unwrap_or(0.0);
    rate(from).zip(rate(to)).map_or(own, |(before, after)| (1.0 + own) * after / before - 1.0)
}

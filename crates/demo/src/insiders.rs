//! Insiders: they buy more when the price is under value and after falls, and sell the other way round.

use crate::{
    character::{Character, Story},
    economy::{FIRST_YEAR, QUARTERS, STATES, currency, day, rounded},
    people::Person,
    prices::Traded,
    random::Chance,
};
use artemon_core::domain::{Bar, InsiderTrade, Ownership, Record, Role};

/// Sessions ahead of which insiders have an inkling, and how much of one.
const KNOWN_AHEAD: usize = 190;
const KNOWLEDGE: f64 = 4.0;

pub(crate) fn trade(c: &Character, market: &Traded, mut people: Vec<Person>, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 60);
    if c.silent {
        return;
    }
    for (i, bar) in market.bars.iter().enumerate() {
        // One look a week.
        if bar.date.epoch_days() % 7 != 1 || c.is_suspended(bar.date) {
            continue;
        }
        let gap = market.mispricing[i];
        let year_ago = market.bars[i.saturating_sub(250)].close;
        let fallen = (bar.close / year_ago - 1.0).clamp(-0.8, 1.0);
        // They know a little of what is coming.
        let coming = market.mispricing[(i + KNOWN_AHEAD).min(market.mispricing.len() - 1)] - gap;
        let wish = if c.family { 0.010 } else { 0.004 } * (-2.0 * gap - 0.7 * fallen + KNOWLEDGE * coming).exp().min(7.0);
        for person in people.iter_mut().filter(|p| p.in_office(bar.date)) {
            if x.happens(wish) || scripted(c, bar, person.role, &mut x) {
                out.push(one(c, person, bar, true, &mut x));
            } else if x.happens(0.013 * (2.2 * gap + 0.8 * fallen).exp().min(8.0)) {
                out.push(one(c, person, bar, false, &mut x));
            }
        }
    }
}

/// The families and clusters of the stories.
fn scripted(c: &Character, bar: &Bar, role: Role, x: &mut Chance) -> bool {
    let left = crate::World::last_day().days_since(bar.date);
    match c.story {
        Some(Story::FamilyBuys) => role == Role::ControllingHolder && x.happens(0.22),
        Some(Story::Cluster) => role != Role::Officer && (10..45).contains(&left) && x.happens(0.35),
        _ => false,
    }
}

fn one(c: &Character, person: &mut Person, bar: &Bar, buys: bool, x: &mut Chance) -> Record {
    let size = if person.role == Role::ControllingHolder { 6.0 } else { 1.0 };
    let shares = (x.between(500.0, 9_000.0) * size * 40.0 / bar.close.max(4.0)).round().max(10.0);
    let shares = if buys { shares } else { shares.min(person.holding * 0.5).round().max(1.0) };
    let grant = !buys && x.happens(0.35);
    person.holding += if buys || grant { shares } else { -shares };
    Record::InsiderTrade(Box::new(InsiderTrade {
        company_id: c.id.clone(),
        filing_id: format!("{}-{}", person.id, bar.date),
        filed_on: bar.date.plus_days(1 + i32::try_from(x.below(4)).unwrap_or(0)),
        traded_on: bar.date,
        insider_id: person.id.as_str().into(),
        insider_name: person.name.as_str().into(),
        role: Some(person.role),
        code: if grant {
            "A"
        } else if buys {
            "P"
        } else {
            "S"
        }
        .into(),
        acquired: buys || grant,
        shares,
        price: Some(if grant { 0.0 } else { rounded(bar.close, 2) }),
        currency: currency(STATES[c.exchange()].currency),
        shares_after: Some(person.holding.max(0.0)),
        direct: true,
        planned: !buys && x.happens(0.4),
        superseded_on: None,
    }))
}

/// The share of the controlling stake that is pledged.
fn pledged(c: &Character, q: usize) -> f64 {
    match c.story {
        Some(Story::Late) if q > 80 => 0.46,
        _ if c.family && c.index % 11 == 3 => 0.15,
        _ => 0.0,
    }
}

/// Stakes by quarter.
pub(crate) fn own(c: &Character, out: &mut Vec<Record>) {
    let mut x = Chance::new(c.seed, c.index, 61);
    let mut insiders = c.insiders;
    let mut institutions = x.between(0.05, 0.45);
    for q in 8..QUARTERS {
        let rising = if c.story == Some(Story::FamilyBuys) && q > 70 { 0.004 } else { 0.0 };
        insiders = (insiders + 0.0012 * x.normal() + rising).clamp(0.0005, 0.75);
        institutions = (institutions + 0.008 * x.normal()).clamp(0.01, 0.95 - insiders);
        let as_of = day((FIRST_YEAR, 1, 1)).plus_months(i32::try_from(q * 3 + 2).unwrap_or(0)).month_end();
        let filed_on = as_of.plus_days(40);
        if filed_on < c.listed_on || c.delisted.is_some_and(|d| filed_on > d.0) {
            continue;
        }
        out.push(Record::Ownership(Ownership {
            company_id: c.id.clone(),
            as_of,
            filed_on,
            insiders: Some(rounded(insiders, 4)),
            controlling: Some(if c.family { rounded(insiders * 0.85, 4) } else { 0.0 }),
            institutions: Some(rounded(institutions, 4)),
            pledged: Some(pledged(c, q)),
        }));
    }
}

use super::*;
use artemon_core::domain::{Item, Metric, Period, Table};
use std::collections::{BTreeMap, HashSet};

const SMALL: World = World { companies: 60, seed: 3 };

fn made(world: World) -> Vec<Record> {
    let mut all = Vec::new();
    let made: Result<(), ()> = world.make(|r| {
        all.push(r);
        Ok(())
    });
    assert!(made.is_ok());
    all
}

#[test]
fn the_same_seed_makes_the_same_world() {
    assert_eq!(made(SMALL), made(SMALL));
    assert_eq!(SMALL.feed(), SMALL.feed());
    assert_ne!(made(SMALL).len(), made(World { seed: 4, ..SMALL }).len());
}

/// Nothing of a later day is in the world, and what lies ahead is left open.
#[test]
fn the_last_day_knows_nothing_of_the_next() {
    let last = World::last_day();
    for row in made(SMALL) {
        match &row {
            Record::Listing(x) => assert!(x.delisted_on.is_none_or(|d| d <= last)),
            Record::Officer(x) => assert!(x.until.is_none_or(|d| d <= last)),
            Record::IndexMember(x) => assert!(x.to.is_none_or(|d| d <= last)),
            Record::Event(x) => assert!(x.date <= last.plus_days(45)),
            Record::Action(x) => assert!(x.declared_on.is_none_or(|d| d <= last)),
            Record::Company(x) => assert!(x.founded.is_some_and(|y| y <= 2026)),
            other => assert!(other.known_on().is_none_or(|d| d <= last), "{other:?}"),
        }
    }
}

/// The feed brings each session's prices and, over its year, every other kind of row; it goes on from the last day.
#[test]
fn the_feed_goes_on_for_a_year() {
    let feed = SMALL.feed();
    assert!(feed.len() >= 250 && feed[0].0 > World::last_day());
    let before = made(SMALL);
    let mut listed: HashSet<_> =
        before.iter().filter_map(|r| if let Record::Listing(l) = r { Some(l.symbol.clone()) } else { None }).collect();
    let mut counts: BTreeMap<Table, usize> = BTreeMap::new();
    for (day, rows) in &feed {
        let priced = rows.iter().filter(|r| matches!(r, Record::Price { bar, .. } if bar.date == *day)).count();
        assert!(priced > 30, "{priced} prices on {day}");
        rows.iter().for_each(|r| *counts.entry(r.table()).or_default() += 1);
        listed.extend(rows.iter().filter_map(|r| if let Record::Listing(l) = r { Some(l.symbol.clone()) } else { None }));
        assert!(rows.iter().all(|r| r.symbol().is_none_or(|s| listed.contains(s))));
    }
    let wanted = [
        Table::Statements,
        Table::Prices,
        Table::Actions,
        Table::Estimates,
        Table::InsiderTrades,
        Table::Ownership,
        Table::Rates,
        Table::Fx,
        Table::Officers,
        Table::Events,
        Table::News,
        Table::IndexMembers,
        Table::IndexLevels,
    ];
    for table in wanted {
        assert!(counts.contains_key(&table), "no {table} in the feed: {counts:?}");
    }
}

#[test]
fn names_and_symbols_are_no_two_alike() {
    let names = names::all(5_000, 1);
    let thrice = |n: &str| n.to_lowercase().as_bytes().windows(3).any(|w| w[0] == w[1] && w[1] == w[2]);
    assert_eq!(names.iter().find(|n| thrice(&n.name)).map(|n| &n.name), None);
    let distinct = |f: fn(&names::Name) -> &str| names.iter().map(f).collect::<HashSet<_>>().len();
    assert_eq!((distinct(|n| &n.name), distinct(|n| &n.symbol)), (names.len(), names.len()));
}

/// In a list of the shipped world no two names begin alike.
#[test]
fn no_two_names_begin_alike() {
    for seed in 1..=5 {
        let beginnings: HashSet<String> =
            names::all(crate::DEFAULT_COMPANIES, seed).iter().map(|n| n.name.to_lowercase().chars().take(6).collect()).collect();
        assert_eq!(beginnings.len(), crate::DEFAULT_COMPANIES, "seed {seed}");
    }
}

/// Even the largest worlds have a name and a symbol for everybody, and end.
#[test]
fn sixty_thousand_have_names_and_symbols_of_their_own() {
    let all = crate::names::all(60_000, 1);
    let symbols: std::collections::HashSet<&str> = all.iter().map(|n| n.symbol.as_str()).collect();
    let names: std::collections::HashSet<&str> = all.iter().map(|n| n.name.as_str()).collect();
    assert_eq!((symbols.len(), names.len()), (60_000, 60_000));
    assert!(symbols.iter().all(|s| (3..=5).contains(&s.len())), "{:?}", symbols.iter().find(|s| s.len() > 5));
}

/// A year ahead estimates are some percent too high and four in five within thirty percent; they come nearer as the year goes on, and
/// revisions go on in the same direction.
#[test]
fn analysts_learn_slowly() {
    let misses = analysts::misses(600, 1);
    let at = |before: usize| -> Vec<f64> { misses.iter().map(|m| m[before]).collect() };
    let mean = |of: &[f64]| of.iter().sum::<f64>() / of.len() as f64;
    let within = |of: &[f64], by: f64| of.iter().filter(|e| e.abs() <= by).count() as f64 / of.len() as f64;
    let (year, half, last) = (at(4), at(2), at(0));
    assert!((0.04..0.09).contains(&mean(&year)), "{}", mean(&year));
    assert!((0.75..0.88).contains(&within(&year, 0.3)), "{}", within(&year, 0.3));
    assert!(within(&year, 0.1) < within(&half, 0.1) && within(&half, 0.1) < within(&last, 0.1));
    assert!((-0.04..-0.01).contains(&mean(&last)), "{}", mean(&last));
    let same = misses.iter().filter(|m| (m[4] - m[3]) * (m[3] - m[2]) > 0.0).count() as f64 / misses.len() as f64;
    assert!(same > 0.6, "{same} of revisions go on");
}

/// What is expected of a year goes together: its operating income is a share of its sales that the company could earn.
#[test]
fn estimates_imply_margins_within_reach() {
    let rows = made(World { companies: 80, seed: 2 });
    let mut of_year: BTreeMap<_, [Option<f64>; 2]> = BTreeMap::new();
    let mut earned: BTreeMap<_, Vec<f64>> = BTreeMap::new();
    for row in &rows {
        match row {
            Record::Estimate(e) if e.period == Some(Period::FY) && e.metric != Metric::Eps => {
                let at = usize::from(e.metric == Metric::Ebit);
                of_year.entry((e.company_id.clone(), e.published_on, e.fiscal_year)).or_default()[at] = Some(e.mean);
            }
            Record::Statement(s) if s.period == Period::FY => {
                if let (Some(i), Some(r)) = (s.items.get(Item::OperatingIncome), s.items.get(Item::Revenue)) {
                    earned.entry(s.company_id.clone()).or_default().push(i / r);
                }
            }
            _ => {}
        }
    }
    let (mut all, mut far) = (0, 0);
    for ((company, ..), expected) in of_year {
        let ([Some(revenue), Some(operating)], Some(margins)) = (expected, earned.get(&company)) else { continue };
        let (low, high) = margins.iter().fold((f64::MAX, f64::MIN), |(l, h), m| (l.min(*m), h.max(*m)));
        all += 1;
        far += usize::from(!(low - 0.08..=high + 0.08).contains(&(operating / revenue)));
    }
    assert!(all > 3_000 && far * 100 < all, "{far} of {all} are out of reach");
}

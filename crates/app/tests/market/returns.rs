//! Cheapness pays a little on average and not every year; insiders know a little; analysts hope too much.

use super::{between, column, day, view};
use artemon_core::{
    domain::Day,
    panel::{AsOf, CompanyAt},
    price::total_return,
    stats,
};
use std::collections::HashSet;

fn mean_return<'a>(rows: impl Iterator<Item = &'a CompanyAt<'a>>, to: Day) -> f64 {
    stats::mean(&rows.filter_map(|c| total_return(c, to).ok()).collect::<Vec<_>>()).unwrap()
}

/// The ends of June of the years in which a year's return can be seen.
fn years() -> impl Iterator<Item = (AsOf<'static>, Day)> {
    (2008..2026).map(|y| (view(Day::from_ymd(y, 6, 30).unwrap()), Day::from_ymd(y + 1, 6, 30).unwrap()))
}

#[test]
fn the_cheapest_fifth_earns_more_but_not_every_year() {
    let spread = |(view, to): (AsOf<'static>, Day)| {
        let rows = view.universe();
        let yields = column("earnings_yield", &rows);
        let mut known: Vec<(f64, usize)> = (0..rows.len()).filter_map(|i| Some((yields.value(i).number().ok()?, i))).collect();
        known.sort_by(|a, b| a.0.total_cmp(&b.0));
        let fifth = known.len() / 5;
        let of = |part: &[(f64, usize)]| mean_return(part.iter().map(|(_, i)| &rows[*i]), to);
        of(&known[known.len() - fifth..]) - of(&known[..fifth])
    };
    let spreads: Vec<f64> = years().map(spread).collect();
    println!("value spreads {spreads:.3?}");
    between("the cheapest fifth's lead a year", stats::mean(&spreads).unwrap(), 0.02, 0.06);
    let against = spreads.iter().filter(|s| **s < 0.0).count();
    assert!((2..=9).contains(&against), "the dearest led in {against} of {} years", spreads.len());
}

#[test]
fn what_insiders_buy_does_a_little_better() {
    let lead = |(view, to): (AsOf<'static>, Day)| {
        let rows = view.universe();
        let bought = column("insider_buyers(3) >= 1", &rows);
        let buyers: Vec<_> = (0..rows.len()).filter(|i| bought.value(*i).number() == Ok(1.0)).map(|i| &rows[i]).collect();
        mean_return(buyers.into_iter(), to) - mean_return(rows.iter(), to)
    };
    let leads: Vec<f64> = years().map(lead).collect();
    println!("insider leads {leads:.3?}");
    between("the lead of what insiders bought", stats::mean(&leads).unwrap(), 0.01, 0.04);
}

/// Targets against the prices a year later, both for one unit of the price on the day of the target.
#[test]
fn price_targets_are_too_high() {
    let (mut said, mut came) = (0.0, 0.0);
    let mut seen = HashSet::new();
    for year in 2014..2026 {
        let rows = view(Day::from_ymd(year, 6, 30).unwrap()).universe();
        let targets = column("target_upside", &rows);
        for (i, c) in rows.iter().enumerate() {
            let (Ok(upside), Ok(price), Some(later)) = (targets.value(i).number(), c.price(), price_later(c, year + 1)) else { continue };
            said += 1.0 + upside;
            came += later / price;
            seen.insert(c.index);
        }
    }
    assert!(seen.len() > 500);
    between("targets over what came", said / came - 1.0, 0.05, 0.10);
}

fn price_later(c: &CompanyAt<'_>, year: i32) -> Option<f64> {
    let then = c.at(Day::from_ymd(year, 6, 30).unwrap());
    then.in_universe().then(|| then.price().ok().map(|p| p * then.splits_since(c.t()))).flatten()
}

/// A price control falls on all makers of lamp oil in one week, with its headline.
#[test]
fn a_decree_falls_on_one_industry() {
    let (before, after) = (view(day("2012-03-09")), view(day("2012-03-16")));
    let fall = |oil: bool| {
        let rows: Vec<_> = before.universe().into_iter().filter(|c| (c.company().industry == "Lamp oil") == oil).collect();
        stats::median(&rows.iter().filter_map(|c| Some(c.at(after.t).price().ok()? / c.price().ok()? - 1.0)).collect::<Vec<_>>()).unwrap()
    };
    between("the fall of lamp oil against the rest", fall(true) - fall(false), -0.35, -0.15);
    assert!(after.market_news().any(|n| n.headline == "Orrin caps the price of lamp oil"));
}

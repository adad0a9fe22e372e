//! What holds for every measure of the catalogue, on a small demo world.
#![allow(clippy::unwrap_used)]

mod backtests;
mod calibration;
mod changes;
mod ledger;
mod market;
mod oracle;
mod scale;
mod screens;
mod valuations;

use artemon_core::{
    domain::{Day, Record},
    engine::{Context, Engine, Settings},
    formula::{Compiled, evaluate_days},
    measures::{self, compile},
    panel::{CompanyAt, PanelBuilder, Snapshot},
};
use artemon_demo::World;
use std::sync::OnceLock;

fn records() -> &'static [Record] {
    static RECORDS: OnceLock<Vec<Record>> = OnceLock::new();
    RECORDS.get_or_init(|| {
        let mut all = Vec::new();
        World { companies: 40, seed: 7 }
            .make(|r| {
                all.push(r);
                Ok::<(), ()>(())
            })
            .unwrap();
        all
    })
}

fn snapshot<'r>(records: impl Iterator<Item = &'r Record>) -> Snapshot {
    let mut builder = PanelBuilder::default();
    records.for_each(|r| builder.push(r.clone()));
    builder.build()
}

/// With the Standard set; nothing is kept yet.
fn context<'r>(records: impl Iterator<Item = &'r Record>) -> Context {
    Engine::new(snapshot(records)).context(Settings::standard(World::base_currency()).into())
}

/// Every measure, and the functions over time and peers.
fn formulas() -> Vec<Compiled> {
    let functions = [
        "own_rank(pe, 10y)",
        "own_median(ev_ebit, 5y)",
        "own_z(pb, 5y)",
        "rank_in(roe, universe)",
        "median_in(pe, sector)",
        "ago(pe, 1y)",
        "change_of(net_margin, 2y)",
        "fy(revenue, 3)",
        "fy_rises(eps, 5)",
        "own_rank(price_to_value, 5y)",
    ];
    let all = measures::all().map(|m| m.example()).chain(functions.map(str::to_owned));
    all.map(|f| compile(&f).unwrap()).collect()
}

/// Answered for many days together, everybody has the answers of each day by itself, to the last digit.
#[test]
fn days_together_are_each_day_by_itself() {
    let context = context(records().iter());
    let days: Vec<Day> =
        ["2009-01-31", "2009-02-27", "2013-06-15", "2013-06-17", "2013-08-30", "2021-12-31"].map(|d| d.parse().unwrap()).into();
    let alone: Vec<Compiled> = formulas().into_iter().filter(Compiled::is_of_one_company).collect();
    assert!(alone.len() > 150, "{} measures ask for one company alone", alone.len());
    let together = evaluate_days(context.view(days[0]), &alone.iter().collect::<Vec<_>>(), &days);
    for (day, of) in days.iter().zip(together) {
        let rows = context.as_of(*day).universe();
        assert_eq!(of.members, rows.iter().map(|c| c.index).collect::<Vec<_>>());
        for (formula, column) in alone.iter().zip(of.columns) {
            assert_eq!(column, context.evaluate(formula, &rows), "{} as of {day}", formula.text);
        }
    }
}

/// Its value as of a day is the same whether or not the dataset goes on after that day.
#[test]
fn no_measure_knows_what_comes_later() {
    let whole = context(records().iter());
    for day in ["2011-02-11", "2016-08-31", "2023-05-19"] {
        let t: Day = day.parse().unwrap();
        let cut = context(records().iter().filter(|r| r.known_on().is_none_or(|d| d <= t)));
        let (then, now): (Vec<CompanyAt<'_>>, Vec<CompanyAt<'_>>) =
            (cut.as_of(t).companies().collect(), whole.as_of(t).companies().collect());
        for formula in formulas() {
            let (a, b) = (cut.evaluate(&formula, &then), whole.evaluate(&formula, &now));
            for (i, company) in then.iter().enumerate() {
                assert_eq!(a.value(i), b.value(i), "{} of {} as of {t}", formula.text, company.symbol());
            }
        }
    }
}

/// The order in which rows come in changes nothing.
#[test]
fn the_order_of_rows_does_not_matter() {
    let (forward, backward) = (context(records().iter()), context(records().iter().rev()));
    let t = World::last_day();
    let (a, b): (Vec<_>, Vec<_>) = (forward.as_of(t).companies().collect(), backward.as_of(t).companies().collect());
    for formula in formulas() {
        assert_eq!(forward.evaluate(&formula, &a), backward.evaluate(&formula, &b), "{}", formula.text);
    }
}

/// Ranks lie between 0 and 100, and undefined figures never turn into numbers that count.
#[test]
fn ranks_keep_their_range() {
    let whole = context(records().iter());
    let rows = whole.as_of(World::last_day()).universe();
    for formula in ["own_rank(pe, 10y)", "own_rank(interest_cover, 5y)", "rank_in(interest_cover, universe)", "rank_in(pe, sector)"] {
        let column = whole.evaluate(&compile(formula).unwrap(), &rows);
        let ranks: Vec<f64> = column.numbers().unwrap().iter().filter_map(|r| r.ok()).collect();
        assert!(!ranks.is_empty() && ranks.iter().all(|r| (0.0..=100.0).contains(r)), "{formula}: {ranks:?}");
    }
}

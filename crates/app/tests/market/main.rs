//! The demo world behaves like a market: its books add up, its prices pay for cheapness a little, and everything that the
//! product looks for is there to be found.
#![allow(clippy::unwrap_used, clippy::cast_precision_loss)]

mod books;
mod characters;
mod found;
mod returns;

use artemon_core::{
    domain::{Day, Record},
    engine::{Context, Engine, Settings},
    formula::Column,
    measures::compile,
    panel::{AsOf, CompanyAt, PanelBuilder},
    stats,
};
use artemon_demo::World;
use std::sync::OnceLock;

/// The world as it ships, with its statements for themselves.
struct Made {
    context: Context,
    statements: Vec<artemon_core::domain::Statement>,
}

fn made() -> &'static Made {
    static MADE: OnceLock<Made> = OnceLock::new();
    MADE.get_or_init(|| {
        let (mut builder, mut statements) = (PanelBuilder::default(), Vec::new());
        let take = |r: Record| {
            if let Record::Statement(s) = &r {
                statements.push((**s).clone());
            }
            builder.push(r);
            Ok::<(), ()>(())
        };
        World::default().make(take).unwrap();
        let context = Engine::new(builder.build()).context(Settings::standard(World::base_currency()).into());
        Made { context, statements }
    })
}

fn context() -> &'static Context {
    &made().context
}

fn view(t: Day) -> AsOf<'static> {
    context().as_of(t)
}

fn day(text: &str) -> Day {
    text.parse().unwrap()
}

fn column(formula: &str, rows: &[CompanyAt<'static>]) -> Column {
    context().evaluate(&compile(formula).unwrap(), rows)
}

/// The defined values of a formula over the universe of a day.
fn values(formula: &str, t: Day) -> Vec<f64> {
    let rows = view(t).universe();
    let all = column(formula, &rows);
    (0..rows.len()).filter_map(|i| all.value(i).number().ok()).collect()
}

fn median(formula: &str, t: Day) -> f64 {
    stats::median(&values(formula, t)).unwrap()
}

/// The share of the universe for which a condition holds, of those for which it is known.
fn share(condition: &str, t: Day) -> f64 {
    stats::mean(&values(condition, t)).unwrap()
}

#[track_caller]
fn between(what: &str, value: f64, low: f64, high: f64) {
    println!("{what}: {value:.4}");
    assert!((low..=high).contains(&value), "{what} is {value:.4}, not within {low} to {high}");
}

#[test]
fn the_market_is_plausible() {
    let last = World::last_day();
    for t in [day("2013-06-28"), day("2017-06-30"), day("2024-06-28"), last] {
        between(&format!("median P/E at {t}"), median("pe", t), 10.0, 22.0);
        between(&format!("median net margin at {t}"), median("net_margin", t), 0.04, 0.10);
        between(&format!("share of dividend payers at {t}"), share("dividend_yield > 0", t), 0.40, 0.70);
        between(&format!("median volatility at {t}"), median("volatility(252)", t), 0.20, 0.50);
    }
    for t in [day("2010-05-31"), day("2022-05-31")] {
        between(&format!("share of losses in the recession before {t}"), share("fy(net_income, 0) < 0", t), 0.15, 0.30);
    }
    between("companies listed at the end", view(last).universe().len() as f64, 820.0, 950.0);
}

/// Of a hundred listed companies, two to four leave in a year.
#[test]
fn companies_leave_the_exchange() {
    let years: Vec<f64> = (2010..2026)
        .map(|year| {
            let (from, to) = (Day::from_ymd(year, 6, 30).unwrap(), Day::from_ymd(year + 1, 6, 30).unwrap());
            let before = view(from).universe();
            before.iter().filter(|c| !c.at(to).in_universe()).count() as f64 / before.len() as f64
        })
        .collect();
    between("share that leaves in a year", stats::mean(&years).unwrap(), 0.02, 0.04);
}

//! Places in the own history and among peers, counted by hand.

use crate::world::{Peer, World, assert_is, day, estimate, peers};
use artemon_core::{
    Why,
    domain::{Item, Kind, Metric, Period},
    engine::Context,
    measures::compile,
    valuation::yearly_multiples,
};
use std::sync::Arc;

/// Earnings of 1 from before the first month on, so that P/E is the price; a price at the last day of each month, and one on
/// 15 March 2024.
fn monthly(prices: &[f64], today: f64) -> World {
    let items = [(Item::EpsDiluted, 1.0), (Item::EpsAdjusted, 1.0)];
    let years = (2015..=2023)
        .fold(World::new(), |w, year| w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &items));
    let last = day("2024-02-29");
    let w = prices.iter().rev().enumerate().fold(years, |w, (back, price)| {
        let month = last.plus_months(-i32::try_from(back).unwrap()).month_end();
        w.traded(month, *price, 100.0)
    });
    w.traded(day(T), today, 100.0)
}

const T: &str = "2024-03-15";

/// 36 months from 1 to 36: half of them are below 18.5.
#[test]
fn the_own_history_is_one_price_a_month() {
    let prices: Vec<f64> = (1..=36).map(f64::from).collect();
    let ask = |today: f64, f: &str| monthly(&prices, today).ask(f, T);
    let rank = |today: f64| ask(today, "own_rank(pe, 3y)").unwrap();
    assert_eq!((rank(0.5), rank(18.5), rank(40.0)), (0.0, 50.0, 100.0));
    assert!(rank(10.5) < rank(20.5));
    // The value of the date is one of the history but for the rank.
    assert_is(ask(18.5, "own_median(pe, 3y)"), 18.5);
    assert_is(ask(18.5, "own_mean(pe, 3y)"), 18.5);
    assert_is(ask(0.5, "own_low(pe, 3y)"), 0.5);
    assert_is(ask(40.0, "own_high(pe, 3y)"), 40.0);
    let z = ask(18.5, "own_z(pe, 3y)").unwrap();
    assert!(z.abs() < 1e-12, "the mean is no distance away: {z}");
}

/// Sessions that follow each other go on with the histories of the month before: the month in which they were made ends with its
/// last price and not with that of the day on which they were made, and the months after it are there.
#[test]
fn histories_go_on_from_month_to_month() {
    let rank_and_median = |context: &Context, t: &str| {
        let of = |text: &str| {
            let row = context.as_of(day(t)).company(0);
            // So many rows ask for the histories of all companies, which are kept.
            context.evaluate(&context.compile(text).unwrap(), &vec![row; 600]).value(0).number()
        };
        (of("own_rank(pe, 3y)").unwrap(), of("own_median(pe, 3y)").unwrap())
    };
    let mut w = monthly(&(1..=36).map(f64::from).collect::<Vec<_>>(), 20.0);
    let mut engine = w.context().engine().clone();
    let settings = Arc::new(w.context().settings().clone());
    let mut last = T;
    rank_and_median(&engine.context(settings.clone()), last);
    for (t, price) in [("2024-03-28", 90.0), ("2024-04-02", 30.0), ("2024-04-30", 5.0), ("2024-05-02", 31.0), ("2024-07-01", 32.0)] {
        w = w.traded(day(t), price, 100.0);
        engine = engine.next_session(w.snapshot(), day(last));
        let gone_on = rank_and_median(&engine.context(settings.clone()), t);
        assert_eq!(gone_on, rank_and_median(&w.context(), t), "{t}");
        last = t;
    }
}

/// A price that is met counts half: of 36 months at 10, 10 is the middle.
#[test]
fn equal_values_count_half() {
    let same = vec![10.0; 36];
    assert_is(monthly(&same, 10.0).ask("own_rank(pe, 3y)", T), 50.0);
    assert_is(monthly(&same, 9.9).ask("own_rank(pe, 3y)", T), 0.0);
    assert_is(monthly(&same, 10.1).ask("own_rank(pe, 3y)", T), 100.0);
}

/// The window begins after t − 3 years; months before are no part of it.
#[test]
fn months_before_the_window_do_not_count() {
    let mut prices = vec![100.0; 24];
    prices.extend(vec![10.0; 36]);
    assert_is(monthly(&prices, 11.0).ask("own_rank(pe, 3y)", T), 100.0);
    assert!(monthly(&prices, 11.0).ask("own_rank(pe, 5y)", T).unwrap() < 70.0);
    assert_is(monthly(&prices, 11.0).ask("own_high(pe, 3y)", T), 11.0);
    assert_is(monthly(&prices, 11.0).ask("own_high(pe, 5y)", T), 100.0);
}

/// A place needs 36 months, and half of those of the window.
#[test]
fn a_short_history_has_no_place() {
    let rank = |months: usize, window: &str| monthly(&vec![10.0; months], 10.0).ask(&format!("own_rank(pe, {window})"), T);
    assert_eq!(rank(34, "3y"), Err(Why::HistoryTooShort));
    assert_is(rank(35, "3y"), 50.0);
    assert_eq!(rank(58, "10y"), Err(Why::HistoryTooShort));
    assert_is(rank(59, "10y"), 50.0);
    assert!(compile("own_rank(pe, 35m)").is_err(), "shorter windows are refused when typed");
}

/// Some time ago is what was known then, on the basis of the splits of then; a change of the price is on one basis.
#[test]
fn ago_is_what_was_known_then() {
    let w = monthly(&(1..=36).map(f64::from).collect::<Vec<_>>(), 40.0);
    // On 15 December the price is that of the end of November, the 33rd month.
    assert_is(w.ask("ago(pe, 3m)", T), 33.0);
    assert_is(w.ask("change_of(price, 3m)", T), 40.0 - 33.0);
    assert_is(w.ask("change(3m)", T), 40.0 / 33.0 - 1.0);
    let split = monthly(&[10.0; 36], 5.0).split("2024-03-01", 2.0);
    assert_is(split.ask("ago(price, 1m)", T), 10.0);
    assert_is(split.ask("change(1m)", T), 0.0);
}

/// Companies A to G of one sector, H of another; revenue is 100 to 700, of G unknown, and F a fund.
fn sector() -> Context {
    let revenue = [("A", 100.0), ("B", 200.0), ("C", 300.0), ("D", 400.0), ("E", 500.0), ("F", 600.0), ("G", 700.0), ("H", 800.0)];
    peers(revenue.map(|(symbol, revenue)| Peer {
        symbol,
        sector: if symbol == "H" { "Other" } else { "Sector" },
        kind: if symbol == "F" { Kind::Fund } else { Kind::Operating },
        price: 1.0,
        revenue: (symbol != "G").then_some(revenue),
    }))
}

/// Five of the sector have the figure: A the lowest, E the highest, C in the middle. A fund is no peer; one in a sector of its
/// own has too few.
#[test]
fn peers_are_those_of_the_group_that_have_it() {
    let context = sector();
    let ask = |symbol: &str, formula: &str| {
        let row = context.as_of(day("2024-03-01")).company(context.snapshot().find(symbol).unwrap());
        context.evaluate(&compile(formula).unwrap(), &[row]).value(0).number()
    };
    let rank = |symbol: &str| ask(symbol, "rank_in(revenue, sector)");
    assert_is(rank("C"), 50.0);
    assert!(rank("A").unwrap() < rank("B").unwrap() && rank("D").unwrap() < rank("E").unwrap());
    assert_is(rank("A").map(|a| a + rank("E").unwrap()), 100.0);
    assert_eq!((rank("H"), rank("F"), rank("G").is_err()), (Err(Why::FewPeers), Err(Why::NotMeaningful), true));
    assert_is(ask("A", "median_in(revenue, sector)"), 300.0);
    assert_is(ask("F", "median_in(revenue, sector)"), 300.0);
    // Of the whole universe H is one more: 100 to 500 and 800.
    assert_is(ask("H", "median_in(revenue, universe)"), 350.0);
    assert!(ask("H", "rank_in(revenue, universe)").unwrap() > ask("E", "rank_in(revenue, universe)").unwrap());
    assert_is(ask("A", "median_in(revenue, sector_country)"), 300.0);
}

/// Lows and highs of each fiscal year over its earnings: 10–30 over 2, 25–40 over 2.5, 20–60 over 4. The close of the day on
/// which the year before ended is that year's. Expected earnings of 5 × the lowest low (5), the median of the mids (10, 13, 10),
/// the median of the highs (15, 16, 15).
#[test]
fn the_multiple_range_is_that_of_the_years() {
    let earned = |w: World, year: i32, eps: f64| {
        w.filed((year, Period::FY), &format!("{year}-12-31"), &format!("{}-02-20", year + 1), &[(Item::EpsDiluted, eps)])
    };
    let prices = [
        ("2020-12-31", 99.0),
        ("2021-03-01", 10.0),
        ("2021-09-01", 20.0),
        ("2021-12-31", 30.0),
        ("2022-06-30", 25.0),
        ("2022-12-30", 40.0),
        ("2023-03-01", 20.0),
        ("2023-12-29", 60.0),
        ("2024-03-01", 58.0),
    ];
    let two = prices.into_iter().fold(World::new(), |w, (on, price)| w.price(on, price));
    let two = earned(earned(two, 2022, 2.5), 2023, 4.0).row(estimate("2024-02-25", Metric::Eps, Some(2024), 5.0));
    assert_eq!(two.ask("range_middle", "2024-03-01"), Err(Why::HistoryTooShort), "of two years");
    let three = earned(two, 2021, 2.0);
    assert_is(three.ask("range_downside", "2024-03-01"), 25.0);
    assert_is(three.ask("range_middle", "2024-03-01"), 50.0);
    assert_is(three.ask("range_upside", "2024-03-01"), 75.0);
    three.at("2024-03-01", |c| {
        let years = yearly_multiples(c, 5);
        let all: Vec<_> = years.iter().map(|y| (y.fiscal_year, y.low_price, y.high_price, y.low, y.high)).collect();
        assert_eq!(all, [(2023, 20.0, 60.0, 5.0, 15.0), (2022, 25.0, 40.0, 10.0, 16.0), (2021, 10.0, 30.0, 5.0, 15.0)]);
        assert_eq!(yearly_multiples(c, 2).len(), 2);
    });
    let losing = earned(three, 2022, -1.0);
    losing.at("2024-03-01", |c| assert_eq!(yearly_multiples(c, 5).iter().map(|y| y.fiscal_year).collect::<Vec<_>>(), [2023, 2021]));
}

/// Twelve months of revenue at each month's end: the year 80 until the fourth quarter of 2022 is filed (thirty months), then
/// 10 + 20 + 30 + 40 (three), with the next first quarter 115 (one), and 121 after a correction of an old quarter (two, and
/// the running one). Earnings per share go with it, halved from the split on.
#[test]
fn a_history_knows_corrections_and_splits_of_its_months() {
    let filed = |w: World, year, period, end, on, revenue: f64| {
        w.filed((year, period), end, on, &[(Item::Revenue, revenue), (Item::EpsDiluted, revenue / 10.0)])
    };
    let w = filed(World::new(), 2019, Period::FY, "2019-12-31", "2020-02-20", 80.0);
    let w = filed(w, 2020, Period::FY, "2020-12-31", "2021-02-20", 80.0);
    let w = filed(w, 2021, Period::FY, "2021-12-31", "2022-02-20", 80.0);
    let w = filed(w, 2022, Period::Q1, "2022-03-31", "2022-05-01", 10.0);
    let w = filed(w, 2022, Period::Q2, "2022-06-30", "2022-08-01", 20.0);
    let w = filed(w, 2022, Period::Q3, "2022-09-30", "2022-11-01", 30.0);
    let w = filed(w, 2022, Period::Q4, "2022-12-31", "2023-02-25", 40.0);
    let w = filed(w, 2023, Period::Q1, "2023-03-31", "2023-05-01", 25.0);
    let w = filed(w, 2022, Period::Q3, "2022-09-30", "2023-06-15", 36.0).split("2023-07-10", 2.0);
    let ends = (0..36).map(|back| day("2023-07-31").plus_months(-back).month_end());
    let w = ends.fold(w, |w, on| w.traded(on, 10.0, 100.0)).price("2023-08-15", 10.0);
    // With the running month, which is after the split.
    let sum = 30.0 * 80.0 + 3.0 * 100.0 + 115.0 + 3.0 * 121.0;
    assert_is(w.ask("own_mean(revenue, 3y)", "2023-08-15"), sum / 37.0);
    // On the basis of each month's own day: the split halves the last two alone.
    assert_is(w.ask("own_mean(eps, 3y)", "2023-08-15"), (sum - 121.0) / 370.0);
    assert_is(w.ask("eps", "2023-08-15"), 6.05);
}

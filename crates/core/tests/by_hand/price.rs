//! What the price did: the breakout, the trend, the levels, on sessions made by hand.

use crate::world::{World, assert_is, day};
use artemon_core::{
    Why,
    domain::{Bar, BarSize, Company, Listing, Record},
    panel::CompanyAt,
    price,
};

/// A flat year at 10.
fn flat(n: usize) -> Vec<f64> {
    vec![10.0; n]
}

/// Above the highest close of the 126 sessions before, on more than one and a half times the mean volume of 63.
#[test]
fn a_breakout_needs_height_and_volume() {
    let last = |price: f64, volume: f64, sessions: usize| {
        World::new().sessions("2024-03-04", &flat(sessions)).traded(day("2024-03-05"), price, volume).ask("breakout", "2024-03-05")
    };
    assert_is(last(10.1, 151.0, 126), 1.0);
    assert_is(last(10.1, 150.0, 126), 0.0);
    assert_is(last(10.0, 400.0, 126), 0.0);
    assert_eq!(last(10.1, 400.0, 125), Err(Why::HistoryTooShort));
    // A higher close 126 sessions ago forbids it, one of a session before that does not.
    let with_high = |at: usize| {
        let mut closes = flat(130);
        closes[at] = 11.0;
        World::new().sessions("2024-03-04", &closes).traded(day("2024-03-05"), 10.1, 400.0).ask("breakout", "2024-03-05")
    };
    assert_is(with_high(130 - 126), 0.0);
    assert_is(with_high(130 - 127), 1.0);
}

/// The six tests of the day, each by itself.
#[test]
fn the_trend_is_six_tests() {
    let tests = |closes: &[f64]| World::new().sessions("2024-03-05", closes).at("2024-03-05", |c| price::trend_tests(c, BarSize::Day));
    // 200 sessions are averaged, and those of 21 sessions ago; the change needs half a year, the high a year.
    let rising: Vec<f64> = (0..300).map(|i| 10.0 + 0.02 * f64::from(i) + if i % 2 == 0 { 0.1 } else { -0.1 }).collect();
    assert_eq!(tests(&rising), Ok([true; 6]));
    let falling: Vec<f64> = rising.iter().rev().copied().collect();
    let down = tests(&falling).unwrap();
    assert_eq!(down[..4], [false; 4]);
    assert!(!down[5], "10 of 15 is less than three quarters");
    // Without a pause the strength is 100, which is no sound one.
    let steep: Vec<f64> = (0..300).map(|i| 10.0 + f64::from(i)).collect();
    assert_eq!(tests(&steep), Ok([true, true, true, true, false, true]));
    // A rise, then a fall to under three quarters of the high, still above where it was half a year ago.
    let mut fallen = vec![10.0; 150];
    fallen.extend((0..100).map(|i| 10.0 + 0.4 * f64::from(i)));
    fallen.extend((0..50).map(|i| 50.0 - f64::from(i) * 0.5));
    let end = tests(&fallen).unwrap();
    assert_eq!((end[0], end[1], end[2], end[3], end[5]), (false, true, true, true, false));
    assert_eq!(tests(&rising[..220]), Err(Why::HistoryTooShort));
}

/// Twice a high at 12 and a low at 8, once a high at 15: turns are strictly beyond five sessions on both sides, and known five later.
#[test]
fn levels_are_where_the_price_turned_twice() {
    let mut closes = flat(260);
    for (at, price) in [(60, 12.0), (120, 12.0), (80, 8.0), (160, 8.0), (200, 15.0)] {
        closes[at] = price;
    }
    let w = |closes: &[f64]| World::new().sessions("2024-03-05", closes);
    let levels = w(&closes).at("2024-03-05", price::levels).unwrap();
    let prices: Vec<(f64, usize)> = levels.iter().map(|l| (l.price, l.touches)).collect();
    assert_eq!(prices, [(8.0, 2), (12.0, 2)]);
    assert_is(w(&closes).ask("support", "2024-03-05"), 8.0);
    assert_is(w(&closes).ask("resistance", "2024-03-05"), 12.0);
    // The turn at the end is not known before five sessions have passed.
    let turns = |until: usize| w(&closes[..until]).at("2024-03-05", price::turns).map(|t| t.len());
    let mut newest = closes.clone();
    newest[254] = 20.0;
    assert_eq!(w(&newest).at("2024-03-05", price::turns).unwrap().len(), 6);
    newest[255] = 20.0;
    assert_eq!(w(&newest).at("2024-03-05", price::turns).unwrap().len(), 5, "two equal highs are no turn");
    assert_eq!(turns(251), Err(Why::HistoryTooShort));
    assert_eq!(w(&flat(260)).ask("support", "2024-03-05"), Err(Why::NoLevel));
}

/// A jump of at least 1 % of the close before, open until a session trades at the edge again.
#[test]
fn gaps_are_open_until_traded_in() {
    let w = |closes: &[f64]| World::new().sessions("2024-03-05", closes);
    let with = |end: &[f64]| [flat(260).as_slice(), end].concat();
    let open = |end: &[f64]| w(&with(end)).at("2024-03-05", |c| price::gaps(c, 252)).unwrap();
    assert_eq!(open(&[10.09]).len(), 0);
    let up = open(&[10.2, 10.25, 10.15]);
    assert_eq!(up.iter().map(|g| (g.low, g.high, g.open_low, g.open_high, g.up)).collect::<Vec<_>>(), [(10.0, 10.2, 10.0, 10.15, true)]);
    assert!(open(&[10.2, 10.0]).iter().all(|g| !g.up), "closed at the edge");
    let down = open(&[9.0, 9.5]);
    assert_eq!(
        down.iter().map(|g| (g.low, g.high, g.open_low, g.open_high, g.up)).collect::<Vec<_>>(),
        [(9.0, 10.0, 9.5, 10.0, false), (9.0, 9.5, 9.0, 9.5, true)]
    );
    assert_is(w(&with(&[9.0, 9.5])).ask("gaps_down(252)", "2024-03-05"), 1.0);
    assert_is(w(&with(&[9.0, 9.5])).ask("gaps_up(252)", "2024-03-05"), 1.0);
}

#[test]
fn an_order_is_compared_with_what_trades() {
    // 50 sessions × 100 units at 10.
    let w = World::new().sessions("2024-03-05", &flat(60));
    assert_is(w.ask("order_share(500)", "2024-03-05"), 0.5);
    assert_is(w.ask("average_volume(50)", "2024-03-05"), 100.0);
    assert_is(w.ask("relative_volume(50)", "2024-03-05"), 1.0);
}

/// What was said on a Saturday is answered on Monday: the company falls from 10 to 9 over a split of two for one, its sector by 2, 5 and
/// 10 percent; one of another sector, one that did not trade that day and one that came that day do not count.
#[test]
fn a_session_answers_what_was_published_before_it() {
    let mut w = World::new().price("2024-03-01", 20.0).split("2024-03-04", 2.0).price("2024-03-04", 9.0);
    let others = [
        ("A", "Sector", [Some(100.0), Some(98.0)]),
        ("B", "Sector", [Some(50.0), Some(47.5)]),
        ("D", "Other", [Some(50.0), Some(100.0)]),
        ("E", "Sector", [Some(50.0), None]),
        ("F", "Sector", [None, Some(50.0)]),
    ];
    for (symbol, sector, closes) in others {
        let company = Company { id: symbol.into(), sector: sector.to_owned(), ..w.company.clone() };
        let listing = Listing { symbol: symbol.into(), company_id: symbol.into(), ..w.listing.clone() };
        w = w.row(Record::Company(company)).row(Record::Listing(listing));
        for (on, close) in ["2024-03-01", "2024-03-04"].iter().zip(closes) {
            let Some(close) = close else { continue };
            let bar = Bar { date: day(on), open: close, high: close, low: close, close, volume: 1.0 };
            w = w.row(Record::Price { symbol: symbol.into(), bar });
        }
    }
    let context = w.context();
    let as_of = context.as_of(day("2024-03-04"));
    let c = as_of.company(context.snapshot().find("SYM").unwrap());
    let answered = |c: &CompanyAt<'_>| price::session_after(c, day("2024-03-02"));
    assert_eq!(answered(&c), Some(day("2024-03-04")));
    assert_eq!(answered(&c.at(day("2024-03-03"))), None, "not over yet");
    assert_is(price::session_change(&c, day("2024-03-04")).ok_or(Why::NoAnswer), -0.1);
    assert_eq!(price::session_change(&c, day("2024-03-01")), None, "the first session");
    assert_eq!(price::session_change(&c, day("2024-03-03")), None, "no session");
    let sector = |name| price::sector_change(as_of, name, day("2024-03-04"));
    assert_is(sector("Sector").ok_or(Why::NoAnswer), -0.05);
    assert_eq!(sector("Other"), None, "one says nothing of its sector");
}

/// Two for one and one for ten, each from its own day on.
#[test]
fn splits_are_told_with_their_ratios() {
    let w = World::new().price("2024-01-02", 10.0).split("2024-01-10", 2.0).split("2024-02-10", 0.1).price("2024-03-01", 50.0);
    let told = |t: &str| w.at(t, |c| c.splits().collect::<Vec<_>>());
    assert_eq!(told("2024-01-09"), []);
    assert_eq!(told("2024-01-10"), [(day("2024-01-10"), 2.0)]);
    let both = told("2024-03-01");
    assert!(both.len() == 2 && (both[1].1 - 0.1).abs() < 1e-12, "{both:?}");
}

//! Gaps, levels, bars of a week and a month, worked by hand.

use super::world::{World, assert_is, day};
use artemon_core::{
    Why,
    domain::{Bar, Record},
    price::{gaps, levels},
};

/// Sessions one after the other from a Monday, weekends left out, as (high, low, close).
fn sessions(bars: &[(f64, f64, f64)]) -> (World, String) {
    let (mut world, mut date) = (World::new(), day("2023-01-02"));
    for (high, low, close) in bars {
        let bar = Bar { date, open: *close, high: *high, low: *low, close: *close, volume: 10.0 };
        world = world.row(Record::Price { symbol: "SYM".into(), bar });
        date = date.plus_days(1);
        while (date.epoch_days() + 3).rem_euclid(7) > 4 {
            date = date.plus_days(1);
        }
    }
    let last = world.rows.iter().filter_map(|r| if let Record::Price { bar, .. } = r { Some(bar.date) } else { None }).max().unwrap();
    (world, last.to_string())
}

/// A jump stays open until a later session trades down to the high before it.
#[test]
fn a_gap_is_open_until_it_is_traded_through() {
    let jump = [(10.0, 9.0, 9.5), (12.0, 11.0, 11.5), (12.0, 10.5, 11.0)];
    let (world, last) = sessions(&jump);
    assert_is(world.ask("gaps_up(3)", &last), 1.0);
    world.at(&last, |c| {
        let open = gaps(c, 3).unwrap();
        assert_eq!((open[0].low, open[0].high, open[0].up), (10.0, 11.0, true));
    });
    let (world, last) = sessions(&[&jump[..], &[(11.0, 10.0, 10.2)]].concat());
    assert_is(world.ask("gaps_up(4)", &last), 0.0);
    assert_eq!(world.ask("gaps_up(5)", &last), Err(Why::HistoryTooShort));
    // A jump of less than 1 % of the close before is none.
    let (world, last) = sessions(&[(10.0, 9.9, 10.0), (10.2, 10.05, 10.1)]);
    assert_is(world.ask("gaps_up(2)", &last), 0.0);
}

/// The price turns up at 90 and down at 110 again and again: two levels, one on each side.
#[test]
fn prices_that_turned_it_twice_are_levels() {
    let wave = |i: i32| 100.0 + 10.0 * (std::f64::consts::TAU * f64::from(i) / 40.0).sin();
    let bars: Vec<(f64, f64, f64)> = (0..261).map(|i| (wave(i) + 0.1, wave(i) - 0.1, wave(i))).collect();
    let (world, last) = sessions(&bars);
    let context = world.context();
    let company = context.as_of(day(&last)).company(0);
    let found = levels(&company).unwrap();
    assert_eq!(found.len(), 2);
    assert!((found[0].price - 89.9).abs() < 1e-9 && (found[1].price - 110.1).abs() < 1e-9 && found[0].touches >= 5);
    assert_is(world.ask("support", &last), found[0].price);
    assert_is(world.ask("resistance", &last), found[1].price);
}

/// Two weeks and a Monday: the running week is a bar of its own.
#[test]
fn weeks_and_months_end_with_their_last_session() {
    let bars: Vec<(f64, f64, f64)> = (1..=11).map(|i| (f64::from(i) + 0.5, f64::from(i) - 0.5, f64::from(i))).collect();
    let (world, last) = sessions(&bars);
    assert_eq!(last, "2023-01-16");
    assert_is(world.ask("sma(3, week)", &last), (5.0 + 10.0 + 11.0) / 3.0);
    assert_is(world.ask("sma(1, month)", &last), 11.0);
    assert_eq!(world.ask("sma(2, month)", &last), Err(Why::HistoryTooShort));
    // Of the running week only what has been traded.
    assert_is(world.ask("sma(3, week)", "2023-01-18"), (5.0 + 10.0 + 11.0) / 3.0);
    assert_is(world.ask("sma(2, week)", "2023-01-11"), (5.0 + 8.0) / 2.0);
}

/// The running month ends with its last session by the date, whatever is traded later in it.
#[test]
fn a_running_month_ends_at_the_date() {
    let w = World::new().price("2023-01-31", 10.0).price("2023-02-10", 20.0).price("2023-02-28", 30.0).price("2023-03-01", 50.0);
    assert_is(w.ask("sma(1, month)", "2023-02-09"), 10.0);
    assert_eq!(w.ask("sma(2, month)", "2023-02-09"), Err(Why::HistoryTooShort));
    assert_is(w.ask("sma(2, month)", "2023-02-10"), 15.0);
    assert_is(w.ask("sma(2, month)", "2023-02-28"), 20.0);
    assert_is(w.ask("sma(3, month)", "2023-03-01"), 30.0);
}

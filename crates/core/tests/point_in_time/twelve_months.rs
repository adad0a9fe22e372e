//! Rule 5: the latest twelve months, decided for each measure at once.

use crate::world::{World, assert_is};
use artemon_core::domain::{Item, Item::*, Period, Period::*};

const ENDS: [(Period, &str, &str); 4] = [(Q1, "03-31", "05-01"), (Q2, "06-30", "08-01"), (Q3, "09-30", "11-01"), (FY, "12-31", "12-31")];

/// Quarters 1 to 3 and the year, with revenue 10, 20, 30 and 100 more each year.
fn quarterly(mut w: World, year: i32, more: f64) -> World {
    for ((period, end, filed), revenue) in ENDS.into_iter().zip([10.0, 20.0, 30.0, 100.0]) {
        let filed = if period == FY { format!("{}-03-01", year + 1) } else { format!("{year}-{filed}") };
        w = w.filed((year, period), &format!("{year}-{end}"), &filed, &[(Revenue, revenue + more)]);
    }
    w
}

/// The year's own row when it is the newest; else four quarters, a missing fourth being the year less the others.
#[test]
fn quarters_are_added_and_a_missing_fourth_is_told_from_the_year() {
    let w = quarterly(quarterly(World::new(), 2022, 0.0), 2023, 100.0);
    assert_is(w.ask("revenue", "2023-03-01"), 100.0);
    // Q1 2023 + Q2, Q3 2022 + (100 − 10 − 20 − 30).
    assert_is(w.ask("revenue", "2023-05-01"), 110.0 + 20.0 + 30.0 + 40.0);
    assert_is(w.ask("revenue", "2023-08-01"), 110.0 + 120.0 + 30.0 + 40.0);
    assert_is(w.ask("revenue", "2024-03-01"), 200.0);
}

/// A missing second quarter is the half less the first.
#[test]
fn a_missing_second_quarter_is_told_from_the_half() {
    let one = |w: World, p: (i32, Period), end: &str, filed: &str, v: f64| w.filed(p, end, filed, &[(Revenue, v)]);
    let w = one(World::new(), (2022, FY), "2022-12-31", "2023-03-01", 100.0);
    let w = one(w, (2022, Q3), "2022-09-30", "2022-11-01", 25.0);
    let w = one(w, (2022, Q4), "2022-12-31", "2023-03-01", 35.0);
    let w = one(w, (2023, Q1), "2023-03-31", "2023-05-01", 22.0);
    let w = one(w, (2023, H1), "2023-06-30", "2023-08-01", 50.0);
    let w = one(w, (2023, Q3), "2023-09-30", "2023-11-01", 27.0);
    assert_is(w.ask("revenue", "2023-11-01"), 27.0 + (50.0 - 22.0) + 22.0 + 35.0);
}

/// Half-yearly reporters: two halves, a missing second being the year less the first.
#[test]
fn halves_are_added() {
    let w = World::new()
        .filed((2022, H1), "2022-06-30", "2022-08-15", &[(Revenue, 40.0)])
        .filed((2022, FY), "2022-12-31", "2023-03-15", &[(Revenue, 100.0)])
        .filed((2023, H1), "2023-06-30", "2023-08-15", &[(Revenue, 55.0)]);
    assert_is(w.ask("revenue", "2023-08-15"), 55.0 + 60.0);
}

/// When the twelve months are not all known the newest year counts.
#[test]
fn without_all_quarters_the_newest_year_counts() {
    let w = World::new().filed((2022, FY), "2022-12-31", "2023-03-15", &[(Revenue, 100.0)]).filed(
        (2023, Q1),
        "2023-03-31",
        "2023-05-15",
        &[(Revenue, 30.0)],
    );
    assert_is(w.ask("revenue", "2023-05-15"), 100.0);
}

/// A measure takes all its flows over the same months: where one item is not known of the newest, all are of the year.
#[test]
fn the_months_are_decided_for_a_measure_at_once() {
    let mut w = World::new();
    for (year, scale) in [(2022, 1.0), (2023, 2.0)] {
        for ((period, end, filed), share) in ENDS.into_iter().zip([0.2, 0.2, 0.2, 1.0]) {
            if year == 2023 && period == FY {
                continue;
            }
            let filed = if period == FY { format!("{}-03-01", year + 1) } else { format!("{year}-{filed}") };
            let mut items: Vec<(Item, f64)> = vec![(Revenue, 100.0 * share * scale), (OperatingIncome, 20.0 * share * scale)];
            if period == FY {
                items.push((DepreciationAmortization, 5.0 * scale));
            }
            w = w.filed((year, period), &format!("{year}-{end}"), &filed, &items);
        }
    }
    let t = "2023-11-01";
    // Three quarters of 2023 at 40 and the last of 2022 at 40.
    assert_is(w.ask("operating_margin", t), 0.2);
    assert_is(w.ask("revenue", t), 3.0 * 40.0 + 40.0);
    // Depreciation is known of years alone: EBITDA is that of 2022, and so is the revenue it is compared with.
    assert_is(w.ask("ebitda", t), 25.0);
    assert_is(w.ask("ebitda_margin", t), 0.25);
}

/// One quarter at a time: what a company does not report by itself is told from what it does, else it is unknown.
#[test]
fn single_quarters_are_told_from_longer_periods() {
    let one = |w: World, p: Period, end: &str, v: f64| w.filed((2023, p), &format!("2023-{end}"), "2024-03-01", &[(Revenue, v)]);
    let quarters = |w: &World| [1, 2, 3, 4].map(|q| w.at("2024-03-01", |c| c.quarter((2023, q), Revenue)));
    // Quarters 1 and 3, the half and the year: 2 = 50 − 22, 4 = 110 − 22 − 28 − 25.
    let w = one(one(World::new(), Q1, "03-31", 22.0), H1, "06-30", 50.0);
    let w = one(one(w, Q3, "09-30", 25.0), FY, "12-31", 110.0);
    assert_eq!(quarters(&w), [Some(22.0), Some(28.0), Some(25.0), Some(35.0)]);
    // The second half instead of the year: 4 = 57 − 25, and 2 is unknown without the first half.
    let w = one(one(one(World::new(), Q1, "03-31", 22.0), Q3, "09-30", 25.0), H2, "12-31", 57.0);
    assert_eq!(quarters(&w), [Some(22.0), None, Some(25.0), Some(32.0)]);
    // What is reported by itself counts, whatever the longer periods say.
    let w = one(one(one(w, Q2, "06-30", 27.0), Q4, "12-31", 30.0), FY, "12-31", 500.0);
    assert_eq!(quarters(&w), [Some(22.0), Some(27.0), Some(25.0), Some(30.0)]);
}

/// Quarters are counted back over the turn of the year; a quarter's end may be that of the half or the year.
#[test]
fn quarters_are_counted_back_and_have_ends() {
    let w = quarterly(quarterly(World::new(), 2022, 0.0), 2023, 100.0);
    w.at("2023-08-01", |c| {
        assert_eq!((0..4).map(|k| c.quarter_back(k).unwrap()).collect::<Vec<_>>(), [(2023, 2), (2023, 1), (2022, 4), (2022, 3)]);
        assert_eq!(c.quarter_back(9), Ok((2021, 1)));
        let end = |year, quarter| c.quarter_end((year, quarter)).map(|p| c.period_end(p).to_string());
        assert_eq!(end(2023, 2).as_deref(), Some("2023-06-30"));
        assert_eq!(end(2022, 4).as_deref(), Some("2022-12-31"), "the year's");
        assert_eq!((end(2023, 3), end(2021, 4)), (None, None), "not filed yet; not there");
    });
    for (period, quarter) in [(Q1, 1), (H1, 2), (Q3, 3), (Q4, 4), (H2, 4), (FY, 4)] {
        let w = World::new().filed((2023, period), "2023-12-31", "2024-03-01", &[(Revenue, 1.0)]);
        w.at("2024-03-01", |c| {
            assert_eq!(c.quarter_back(0), Ok((2023, quarter)), "{period:?}");
            let ends = matches!(period, H1 | H2 | FY | Q1 | Q3 | Q4);
            assert_eq!(c.quarter_end((2023, quarter)).is_some(), ends, "{period:?}");
            assert_eq!(c.quarter_end((2023, if quarter == 4 { 2 } else { 4 })), None, "{period:?}");
        });
    }
}

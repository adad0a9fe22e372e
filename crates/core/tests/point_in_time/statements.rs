//! Rules 1, 6, 7, 8 and 10: what counts of filings.

use crate::world::{World, assert_is};
use artemon_core::{
    Why,
    domain::{Item::*, Period::*},
};

/// Rule 1: the latest filing counts, item by item; an empty item erases nothing, and nothing counts before it is filed.
#[test]
fn a_correction_counts_item_by_item_from_its_day() {
    let w = World::new().filed((2023, FY), "2023-12-31", "2024-03-10", &[(Revenue, 1000.0), (NetIncome, 100.0)]).filed(
        (2023, FY),
        "2023-12-31",
        "2024-08-01",
        &[(NetIncome, 90.0)],
    );
    assert_eq!(w.ask("revenue", "2024-03-09").unwrap_err(), Why::NoItem(Revenue));
    assert_is(w.ask("net_income", "2024-07-31"), 100.0);
    assert_is(w.ask("net_income", "2024-08-01"), 90.0);
    assert_is(w.ask("revenue", "2024-08-01"), 1000.0);
}

/// Rule 6: the newest known statement that carries the item, of any period.
#[test]
fn the_latest_balance_is_the_newest_that_carries_the_item() {
    let w = World::new().filed((2023, FY), "2023-12-31", "2024-03-10", &[(Cash, 50.0), (TotalAssets, 900.0)]).filed(
        (2024, Q1),
        "2024-03-31",
        "2024-05-01",
        &[(TotalAssets, 950.0)],
    );
    assert_is(w.ask("total_assets", "2024-05-01"), 950.0);
    assert_is(w.ask("cash", "2024-05-01"), 50.0);
}

/// Rule 7: fiscal years by label; a gap is a missing year, not the one before.
#[test]
fn a_missing_year_leaves_a_gap() {
    let w = World::new()
        .filed((2020, FY), "2020-12-31", "2021-03-01", &[(Revenue, 100.0)])
        .filed((2022, FY), "2022-12-31", "2023-03-01", &[(Revenue, 144.0)])
        .filed((2023, FY), "2023-12-31", "2024-03-01", &[(Revenue, 150.0)]);
    assert_is(w.ask("fy(revenue, 1)", "2024-04-01"), 144.0);
    assert_eq!(w.ask("fy(revenue, 2)", "2024-04-01").unwrap_err(), Why::HistoryTooShort);
    assert_is(w.ask("fy(revenue, 3)", "2024-04-01"), 100.0);
    assert!(w.ask("fy_average(revenue, 3)", "2024-04-01").is_err());
    assert_is(w.ask("revenue_growth(3)", "2024-04-01"), 1.5f64.cbrt() - 1.0);
}

/// Rule 8: fifteen months after the newest period's end everything from statements is stale, and not a day before.
#[test]
fn statements_grow_stale_after_fifteen_months() {
    let w = World::new().filed((2022, FY), "2022-12-31", "2023-03-01", &[(Revenue, 100.0)]);
    assert_is(w.ask("revenue", "2024-03-31"), 100.0);
    assert_eq!(w.ask("revenue", "2024-04-01").unwrap_err(), Why::Stale);
}

/// Rule 10: what is absent is none where the statement says so, and unknown everywhere else.
#[test]
fn absent_means_none_only_beside_what_it_belongs_to() {
    let w = World::new().filed(
        (2023, FY),
        "2023-12-31",
        "2024-03-01",
        &[(TotalAssets, 900.0), (Equity, 400.0), (LongTermDebt, 100.0), (OperatingCashFlow, 80.0), (CapitalExpenditure, 30.0)],
    );
    let t = "2024-03-01";
    assert_is(w.ask("goodwill", t), 0.0);
    assert_is(w.ask("preferred_equity", t), 0.0);
    assert_is(w.ask("debt_to_equity", t), 0.25);
    assert_is(w.ask("fcf_after_dividends", t), 50.0);
    assert_eq!(w.ask("cash", t).unwrap_err(), Why::NoItem(Cash));
    assert_eq!(w.ask("preferred_dividends", t).unwrap_err(), Why::NoItem(PreferredDividends));
    let no_debt_said = World::new().filed((2023, FY), "2023-12-31", "2024-03-01", &[(TotalAssets, 900.0), (Equity, 400.0)]);
    assert!(no_debt_said.ask("debt_to_equity", t).is_err(), "of two debts at least one must be known");
}

/// Averages take the balance a fiscal year before; the closing one alone where there is none (rule 6).
#[test]
fn return_on_equity_is_on_the_mean_of_opening_and_closing() {
    let year = |w: World, y: i32, income: f64, equity: f64| {
        w.filed(
            (y, FY),
            &format!("{y}-12-31"),
            &format!("{}-03-01", y + 1),
            &[(NetIncome, income), (Equity, equity), (TotalAssets, 1000.0)],
        )
    };
    let first = year(World::new(), 2022, 30.0, 200.0);
    assert_is(first.ask("roe", "2023-03-01"), 30.0 / 200.0);
    let second = year(first, 2023, 44.0, 240.0);
    assert_is(second.ask("roe", "2024-03-01"), 44.0 / 220.0);
    let negative = year(second, 2024, 44.0, -10.0);
    assert_eq!(negative.ask("roe", "2025-03-01").unwrap_err(), Why::NotPositive);
}

/// A year typed wrongly, centuries from the others, is found under its label as they are.
#[test]
fn years_far_apart_keep_their_labels() {
    let w = World::new()
        .filed((1623, FY), "1623-12-31", "1624-03-01", &[(Revenue, 1.0)])
        .filed((1823, FY), "1823-12-31", "1824-03-01", &[(Revenue, 2.0)])
        .filed((2023, FY), "2023-12-31", "2024-03-01", &[(Revenue, 3.0)]);
    w.at("2024-03-01", |c| {
        let of = |year| c.find_period(year, FY).and_then(|p| c.item(p, Revenue));
        assert_eq!([1622, 1623, 1823, 1923, 2023, 2024].map(of), [None, Some(1.0), Some(2.0), None, Some(3.0), None]);
        assert_eq!(c.years().map(|p| c.label(p).0).collect::<Vec<_>>(), [1623, 1823, 2023]);
        assert_eq!(c.find_period(2023, Q1), None);
        assert_eq!(c.newest_filing().map(|d| d.to_string()).as_deref(), Some("2024-03-01"));
    });
    w.at("1624-02-29", |c| assert_eq!((c.newest_filing(), c.find_period(1623, FY)), (None, None)));
}

/// Each item says which filing it is from, and whether that filing names it or leaves it out as none.
#[test]
fn items_name_their_filing() {
    let w = World::new().filed((2023, FY), "2023-12-31", "2024-03-10", &[(TotalAssets, 900.0), (Cash, 50.0)]).filed(
        (2023, FY),
        "2023-12-31",
        "2024-08-01",
        &[(Cash, 60.0)],
    );
    w.at("2024-08-01", |c| {
        let year = c.year0().unwrap();
        let filed = |item| c.filed(year, item).map(|f| (f.value, f.filed_on.to_string(), f.taken_as_none));
        assert_eq!(filed(Cash), Some((60.0, "2024-08-01".to_owned(), false)));
        assert_eq!(filed(TotalAssets), Some((900.0, "2024-03-10".to_owned(), false)));
        assert_eq!(filed(Goodwill), Some((0.0, "2024-03-10".to_owned(), true)));
        assert_eq!(filed(Revenue), None);
        assert_eq!(c.item_source(year, Cash).map(|s| s.0), Some("2023/FY"));
        assert_eq!(c.item_source(year, Revenue), None);
    });
}

//! Rules 3 and 4: the price, and the split basis of the date.

use crate::world::{World, assert_is, day};
use artemon_core::domain::{Item::*, Period::*};

/// A filing made before a split is put on the new basis; one made on its day or after is on it already.
#[test]
fn a_filing_is_rebased_by_splits_after_its_day() {
    let items = [(EpsDiluted, 6.0), (SharesOutstanding, 1000.0), (Revenue, 500.0)];
    let before = World::new().filed((2023, FY), "2023-12-31", "2024-02-20", &items).split("2024-02-21", 3.0);
    assert_is(before.ask("eps", "2024-02-20"), 6.0);
    assert_is(before.ask("eps", "2024-02-21"), 2.0);
    assert_is(before.ask("shares_outstanding", "2024-02-21"), 3000.0);
    assert_is(before.ask("revenue", "2024-02-21"), 500.0);
    let on_the_day = World::new().filed((2023, FY), "2023-12-31", "2024-02-21", &items).split("2024-02-21", 3.0);
    assert_is(on_the_day.ask("eps", "2024-02-21"), 6.0);
}

/// Of a corrected filing each item keeps the basis of the filing it comes from.
#[test]
fn each_item_keeps_the_basis_of_its_own_filing() {
    let w = World::new()
        .filed((2023, FY), "2023-12-31", "2024-02-01", &[(EpsDiluted, 6.0), (SharesOutstanding, 1000.0)])
        .split("2024-03-01", 2.0)
        .filed((2023, FY), "2023-12-31", "2024-04-01", &[(EpsDiluted, 2.9)]);
    assert_is(w.ask("eps", "2024-04-01"), 2.9);
    assert_is(w.ask("shares_outstanding", "2024-04-01"), 2000.0);
}

/// Prices and volumes of a day are rebased by splits after it; the price itself is the last close on or before the date.
#[test]
fn prices_are_on_the_basis_of_the_date() {
    let w = World::new().price("2024-02-28", 90.0).price("2024-03-01", 31.0).split("2024-03-01", 3.0).dividend("2024-02-28", 0.9);
    assert_is(w.ask("price", "2024-02-29"), 90.0);
    assert_is(w.ask("price", "2024-03-03"), 31.0);
    w.at("2024-03-01", |c| {
        assert_eq!((c.bars().close(0), c.bars().volume(0), c.bars().close(1)), (30.0, 300.0, 31.0));
        assert!((c.dividends().unwrap().next().unwrap().amount - 0.3).abs() < 1e-12, "dividends too");
    });
    w.at("2024-02-29", |c| assert_eq!(c.bars().close(0), 90.0));
    assert_is(w.ask("change(1d)", "2024-03-01"), 31.0 / 30.0 - 1.0);
}

/// A reverse split has a ratio below one, and splits multiply.
#[test]
fn splits_multiply() {
    let w = World::new().price("2020-01-02", 10.0).split("2021-01-01", 4.0).split("2022-01-01", 0.5).price("2022-01-03", 5.0);
    w.at("2022-01-03", |c| assert_eq!((c.bars().close(0), c.splits_since(day("2021-06-01"))), (5.0, 0.5)));
}

/// Declared dividends show from the day on which they are declared until they go ex.
#[test]
fn declared_dividends_are_upcoming() {
    let w = World::new().price("2024-01-02", 10.0).dividend("2024-05-21", 0.4);
    let declared = |t: &str| w.at(t, |c| c.declared_dividends().map(|d| (d.ex_date, d.amount)).collect::<Vec<_>>());
    assert_eq!(declared("2024-04-30"), []);
    assert_eq!(declared("2024-05-01"), [(day("2024-05-21"), 0.4)]);
    assert_eq!(declared("2024-05-21"), []);
}

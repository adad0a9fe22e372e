//! The levels of an index that follow from its members.

use crate::world::{World, currency, day};
use artemon_core::{
    domain::{Index, IndexLevel, IndexMember, Item, Period, Record},
    index_levels::{index_levels, is_derived},
};

/// A company of 100 shares listed in XFA, alone in an index of XFC, of which an XFA costs 2 and from the second session on 2.2.
fn alone() -> World {
    World::new()
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &[(Item::SharesOutstanding, 100.0), (Item::SharesDiluted, 100.0)])
        .price("2024-01-02", 10.0)
        .price("2024-01-03", 11.0)
        .price("2024-01-04", 11.0)
        .fx("2024-01-01", "XFA", "XFC", 2.0)
        .fx("2024-01-03", "XFA", "XFC", 2.2)
        .row(Record::Index(Index { id: "I".into(), name: "Index".to_owned(), currency: currency("XFC") }))
        .row(Record::IndexMember(IndexMember { index_id: "I".into(), company_id: "C".into(), from: day("2020-01-01"), to: None }))
}

fn levels(w: &World, days: &[&str]) -> Vec<Option<f64>> {
    let days: Vec<_> = days.iter().map(|d| day(d)).collect();
    index_levels(&w.context(), "I", &days).unwrap().into_iter().map(|l| l.map(|l| (l * 1e9).round() / 1e9)).collect()
}

/// 100, then 100 × 1.1 × 2.2 ÷ 2 = 121 in XFC; in XFA, the base currency, 100 ÷ 2 = 50 and 121 ÷ 2.2 = 55.
#[test]
fn a_level_grows_with_the_price_in_the_currency_of_the_index() {
    let w = alone();
    assert!(is_derived(&w.context(), "I"));
    assert_eq!(levels(&w, &["2024-01-02", "2024-01-03", "2024-01-04"]), [Some(50.0), Some(55.0), Some(55.0)]);
    assert_eq!(levels(&w, &["2024-01-01", "2024-01-06"]), [None, Some(55.0)], "none before the first session, the last one afterwards");
    assert!(index_levels(&w.context(), "J", &[]).is_none());
}

/// 1.1 paid on a price of 11 is a tenth: 55 × 1.1 = 60.5.
#[test]
fn dividends_are_returns() {
    let w = alone().dividend("2024-01-04", 1.1);
    assert_eq!(levels(&w, &["2024-01-03", "2024-01-04"]), [Some(55.0), Some(60.5)]);
}

/// Where the dataset has levels they count, as of their days, and nothing is derived.
#[test]
fn given_levels_count() {
    let level = |on: &str, level| Record::IndexLevel(IndexLevel { index_id: "I".into(), date: day(on), level });
    let w = alone().row(level("2024-01-02", 200.0)).row(level("2024-01-04", 220.0));
    assert!(!is_derived(&w.context(), "I"));
    assert_eq!(levels(&w, &["2024-01-02", "2024-01-03", "2024-01-04"]), [Some(100.0), Some(90.909_090_909), Some(100.0)]);
}

//! Blocks, counts and near misses of a screen over six companies.

use crate::world::{Peer, World, day, peers};
use artemon_core::{
    domain::{Item::Revenue, Kind, Period::FY},
    engine::{Context, Section},
    formula::Value,
    screening::{self, Change, Screen, ScreenResult, Turned},
};
use serde_json::{Value as Json, json};

/// Companies A to F at prices of 1 to 6; the revenue of A to D is 100 to 400, that of E and F is not known. F is of another
/// sector.
fn context() -> Context {
    peers(["A", "B", "C", "D", "E", "F"].into_iter().zip([1.0, 2.0, 3.0, 4.0, 5.0, 6.0]).map(|(symbol, price)| Peer {
        symbol,
        sector: if symbol == "F" { "Other" } else { "Sector" },
        kind: Kind::Operating,
        price,
        revenue: (price <= 4.0).then_some(100.0 * price),
    }))
}

fn run(context: &Context, document: Json) -> ScreenResult {
    let screen: Screen = serde_json::from_value(document).unwrap();
    screening::run(&screen, &Section::new(context, day("2024-03-01")), usize::MAX).unwrap()
}

/// The symbols of those that pass, in the screen's order.
fn names(context: &Context, document: Json) -> String {
    let screen: Screen = serde_json::from_value(document).unwrap();
    let places = screening::survivors(&screen, &Section::new(context, day("2024-03-01"))).unwrap();
    places.iter().map(|p| context.snapshot().symbol(u32::try_from(*p).unwrap())).collect()
}

#[test]
fn each_kind_of_block_keeps_its_own() {
    let c = context();
    let of = |need: Json, criteria: Json| names(&c, json!({"blocks": [{"need": need, "criteria": criteria}]}));
    let two = json!([{"formula": "price", "max": 3}, {"formula": "revenue", "min": 200}]);
    assert_eq!(of(json!("all"), two.clone()), "BC");
    assert_eq!(of(json!("any"), two.clone()), "ABCD");
    assert_eq!(of(json!(1), two.clone()), "ABCD");
    assert_eq!(of(json!(2), two.clone()), "BC");
    assert_eq!(of(json!(5), two.clone()), "BC", "more than there are is all");
    assert_eq!(of(json!("all"), json!([])), "ABCDEF", "an empty block keeps everyone");
    assert_eq!(of(json!("any"), json!([{"formula": "price", "max": 3, "negate": true}])), "DEF");
    assert_eq!(of(json!("all"), json!([{"formula": "price", "max": 3, "enabled": false}])), "ABCDEF");
    assert_eq!(of(json!("all"), json!([{"formula": "sector", "one_of": ["Other"]}])), "F");
    assert_eq!(of(json!("all"), json!([{"formula": "sector", "one_of": ["Nothing", "Other"]}])), "F", "one of them is enough");
    assert_eq!(of(json!("all"), json!([{"formula": "price", "equals": 2}])), "B");
    assert_eq!(of(json!("all"), json!([{"formula": "price > 4"}])), "EF");
}

/// Those lost for want of data are counted apart: in an all block by criterion, in any other once a block, and only of
/// those that the block loses.
#[test]
fn the_narrowing_tells_losses_from_want_of_data() {
    let c = context();
    let steps = |need: Json, criteria: Json| -> Vec<(usize, usize)> {
        let found = run(&c, json!({"blocks": [{"need": need, "criteria": criteria}]}));
        found.steps.iter().map(|s| (s.left, s.no_data)).collect()
    };
    let revenue = json!({"formula": "revenue", "min": 250});
    assert_eq!(steps(json!("all"), json!([{"formula": "price", "max": 5}, revenue])), [(6, 0), (5, 0), (2, 1)]);
    // A and B fail both; E and F have no revenue, E by the price alone stays.
    assert_eq!(steps(json!("any"), json!([{"formula": "price", "min": 5, "max": 5}, revenue])), [(6, 0), (3, 1)]);
    assert_eq!(steps(json!(2), json!([{"formula": "price", "min": 3}, revenue])), [(6, 0), (2, 2)]);
}

/// What a criterion costs, and whom it alone keeps out: the nearest by their share of the bound first.
#[test]
fn costs_and_near_misses_are_of_one_criterion() {
    let c = context();
    let found = run(
        &c,
        json!({"blocks": [{"need": "all", "criteria": [
            {"formula": "price", "min": 2, "max": 3},
            {"formula": "revenue", "max": 300},
        ]}]}),
    );
    assert_eq!(found.survivors, 2);
    let counts = |i: usize| {
        let r = &found.criteria[i];
        (r.pass_alone, r.fail_alone, r.undefined, r.back_if_dropped)
    };
    assert_eq!(counts(0), (2, 4, 0, 1));
    assert_eq!(counts(1), (3, 1, 2, 0));
    let misses: Vec<(&str, Option<f64>, Option<f64>)> =
        found.near_misses.iter().map(|m| (c.snapshot().symbol(m.company), m.miss, m.miss_relative)).collect();
    // A is 1 under 2, half of the bound; D fails both, E and F have no revenue.
    assert_eq!(misses, [("A", Some(-1.0), Some(-0.5))]);
    let let_in = found.near_misses[0].loosened.unwrap();
    assert_eq!((let_in.min, let_in.max), (Some(1.0), None));
    // Between bounds that cross nothing is, and one is told.
    let crossed = run(&c, json!({"blocks": [{"need": "all", "criteria": [{"formula": "price", "min": 3, "max": 2}]}]}));
    assert_eq!((crossed.survivors, crossed.criteria[0].warnings.len()), (0, 1));
    let let_in = crossed.near_misses[0].loosened.unwrap();
    assert!(let_in.min.is_some_and(|min| min <= 2.0) || let_in.max.is_some_and(|max| max >= 3.0), "{let_in:?}");
    assert_eq!(found.criteria[1].undefined_why.values().sum::<usize>(), 2);
}

/// A bound below nothing has a size as well, and the miss keeps its sign; of one that is nothing there is no share.
#[test]
fn misses_of_bounds_below_nothing_keep_their_sign() {
    let c = context();
    let of = |criterion: Json| -> Vec<(&'static str, Option<f64>, Option<f64>)> {
        let found = run(&c, json!({"blocks": [{"need": "all", "criteria": [criterion]}]}));
        let symbol = |company| ["A", "B", "C", "D", "E", "F"].into_iter().find(|s| *s == c.snapshot().symbol(company)).unwrap();
        found.near_misses.iter().map(|m| (symbol(m.company), m.miss, m.miss_relative)).collect()
    };
    let under = of(json!({"formula": "0 - price", "min": -4}));
    assert_eq!(under, [("E", Some(-1.0), Some(-0.25)), ("F", Some(-2.0), Some(-0.5))]);
    let over = of(json!({"formula": "0 - price", "max": -2}));
    assert_eq!(over, [("A", Some(1.0), Some(0.5))]);
    let of_nothing = of(json!({"formula": "price - 5", "max": 0}));
    assert_eq!(of_nothing, [("F", Some(1.0), None)]);
}

/// In a block of one of two, dropping one criterion asks the other alone.
#[test]
fn a_criterion_of_an_any_block_costs_nothing_while_others_hold() {
    let c = context();
    let document = json!({"blocks": [{"need": "any", "criteria": [{"formula": "price", "max": 2}, {"formula": "price", "min": 6}]}]});
    let found = run(&c, document.clone());
    assert_eq!(names(&c, document), "ABF");
    assert_eq!(found.criteria.iter().map(|r| r.back_if_dropped).collect::<Vec<_>>(), [0, 0]);
    let one = run(&c, json!({"blocks": [{"need": "any", "criteria": [{"formula": "price", "max": 2}]}]}));
    assert_eq!(one.criteria[0].back_if_dropped, 4, "without criteria a block keeps everyone");
}

/// The distribution is over those that pass all else; the axis holds values and bounds, and every value is in a bar.
#[test]
fn the_histogram_is_of_the_others() {
    let c = context();
    let found =
        run(&c, json!({"blocks": [{"need": "all", "criteria": [{"formula": "price", "max": 10}, {"formula": "revenue", "min": 200}]}]}));
    let prices = found.criteria[0].histogram.clone().unwrap();
    assert_eq!((prices.low, prices.high, prices.counts.iter().sum::<usize>()), (2.0, 10.0, 3));
    // 2, 3 and 4 between 2 and 10 in forty bars: the first, the sixth, the eleventh.
    let filled: Vec<usize> = prices.counts.iter().enumerate().filter(|(_, n)| **n > 0).map(|(i, _)| i).collect();
    assert_eq!((prices.counts.len(), filled), (40, vec![0, 5, 10]));
    let revenue = found.criteria[1].histogram.clone().unwrap();
    assert_eq!((revenue.low, revenue.high, revenue.counts[39]), (100.0, 400.0, 1));
}

/// Undefined comes last both ways, and those that are equal stay in order of their symbols.
#[test]
fn the_order_puts_undefined_last() {
    let c = context();
    let order = |descending: bool| names(&c, json!({"sort": [{"formula": "revenue", "descending": descending}]}));
    assert_eq!(order(false), "ABCDEF");
    assert_eq!(order(true), "DCBAEF");
    let two = names(&c, json!({"sort": [{"formula": "sector", "descending": true}, {"formula": "price", "descending": true}], "limit": 3}));
    assert_eq!(two, "EDC");
}

#[test]
fn bounds_must_suit_what_they_bound() {
    let c = context();
    let error = |criterion: Json| {
        run(&c, json!({"blocks": [{"need": "all", "criteria": [criterion]}]})).criteria[0].error.clone().map(|e| e.message)
    };
    for wrong in [
        json!({"formula": "price"}),
        json!({"formula": "price > 1", "min": 2}),
        json!({"formula": "sector", "max": 3}),
        json!({"formula": "sector"}),
        json!({"formula": "prise", "max": 3}),
    ] {
        assert!(error(wrong.clone()).is_some(), "{wrong}");
    }
    for right in [json!({"formula": "price", "max": 1}), json!({"formula": "price > 1"}), json!({"formula": "sector", "equals": "Other"})] {
        assert_eq!(error(right.clone()), None, "{right}");
    }
}

/// Floors leave out whom they must, and count apart of whom they know nothing.
#[test]
fn floors_narrow_the_universe() {
    let c = context();
    let universe = |u: Json| {
        let found = run(&c, json!({"universe": u}));
        let symbol = |place: usize| c.snapshot().symbol(u32::try_from(place).unwrap()).to_owned();
        (found.universe.places().map(symbol).collect::<String>(), found.universe.refused.undefined_floor)
    };
    assert_eq!(universe(json!({"min_price": 3})), ("CDEF".to_owned(), 0));
    assert_eq!(universe(json!({"sectors": ["Other"]})), ("F".to_owned(), 0));
    assert_eq!(universe(json!({"symbols": ["B", "F"]})), ("BF".to_owned(), 0));
    assert_eq!(universe(json!({"countries": ["XB"]})), (String::new(), 0));
    // Two sessions are fewer than the fifty of the traded value.
    assert_eq!(universe(json!({"min_traded_value": 1})), (String::new(), 6));
}

/// Those that pass are as many as are counted, in the screen's order; a limit keeps the first of it.
#[test]
fn survivors_are_as_many_as_are_counted() {
    let c = context();
    let both = |document: Json| (names(&c, document.clone()), run(&c, document).survivors);
    let blocks = json!([{"criteria": [{"formula": "price", "min": 2}]}, {"criteria": [{"formula": "revenue", "max": 350}]}]);
    assert_eq!(both(json!({ "blocks": blocks })), ("BC".to_owned(), 2));
    let dearest = json!([{"formula": "price", "descending": true}]);
    assert_eq!(both(json!({ "sort": dearest, "limit": 2 })), ("FE".to_owned(), 2));
    assert_eq!(both(json!({ "sort": dearest })), ("FEDCBA".to_owned(), 6));
}

/// As many near misses as are asked for, and how many there are.
#[test]
fn the_nearest_are_told_and_all_are_counted() {
    let c = context();
    let screen: Screen = serde_json::from_value(json!({"blocks": [{"criteria": [{"formula": "price", "max": 2}]}]})).unwrap();
    let nearest = |most: usize| {
        let found = screening::run(&screen, &Section::new(&c, day("2024-03-01")), most).unwrap();
        (found.near_misses.iter().map(|m| c.snapshot().symbol(m.company)).collect::<String>(), found.near_miss_count)
    };
    assert_eq!(nearest(0), (String::new(), 4));
    assert_eq!(nearest(2), ("CD".to_owned(), 4));
    assert_eq!(nearest(9), ("CDEF".to_owned(), 4));
}

/// Of sixty companies at prices of 1 to 60 ten are left by the price that ten have, or more where several have the same; upwards
/// as well as downwards, and never in a block of which any will do.
#[test]
fn a_bound_is_drawn_in_until_ten_are_left() {
    let names: Vec<String> = (1..=60).map(|i| format!("S{i:02}")).collect();
    let peer = |(i, symbol)| {
        let price = f64::from(i);
        Peer { symbol, sector: "Sector", kind: Kind::Operating, price, revenue: Some(if price <= 15.0 { 100.0 } else { 7.0 * price }) }
    };
    let c = peers((1..=60).zip(names.iter().map(String::as_str)).map(peer));
    let section = Section::new(&c, day("2024-03-01"));
    let of = |document: Json| {
        let screen: Screen = serde_json::from_value(document).unwrap();
        let passing = screening::survivors(&screen, &section).unwrap();
        let all = screening::tighter(&screen, &section, &passing).unwrap();
        all.into_iter().map(|t| (t.criterion, t.min, t.max, t.leaves)).collect::<Vec<_>>()
    };
    let both = json!([{"formula": "price", "max": 59}, {"formula": "revenue", "min": 50}]);
    // Revenue: the tenth largest of prices up to 59 is 7 × 50.
    let wanted = vec![(0, None, Some(10.0), 10), (1, Some(350.0), None, 10)];
    assert_eq!(of(json!({"blocks": [{"need": "all", "criteria": both}]})), wanted);
    assert!(of(json!({"blocks": [{"need": "any", "criteria": both}]})).is_empty());
    // Fifteen have the smallest revenue: they stay together.
    let tied = json!([{"formula": "revenue", "max": 500}]);
    assert_eq!(of(json!({"blocks": [{"need": "all", "criteria": tied}]})), [(0, None, Some(100.0), 15)]);
    // Rounded away from those who are left: 1/10 is three digits, 1/9 is not.
    let share = json!([{"formula": "1 / price", "min": 0.01}]);
    assert_eq!(of(json!({"blocks": [{"need": "all", "criteria": share}]})), [(0, Some(0.1), None, 10)]);
}

/// Who came and went between two dates, by which criterion, from what to what; a floor that shuts somebody out is no criterion.
#[test]
fn what_changed_between_two_dates_is_told_by_the_criteria_that_turned() {
    let w = World::new()
        .filed((2023, FY), "2023-12-31", "2024-02-20", &[(Revenue, 100.0)])
        .price("2024-02-29", 10.0)
        .price("2024-03-15", 6.0)
        .price("2024-04-10", 9.0);
    let context = w.context();
    let between = |document: &Json, then: &str, now: &str| {
        let screen: Screen = serde_json::from_value(document.clone()).unwrap();
        let [then, now] = [then, now].map(|t| Section::new(&context, day(t)));
        screening::changes(&screen, &then, &now).unwrap()
    };
    let cheap = json!({"blocks": [{"criteria": [{"formula": "revenue", "min": 50}, {"formula": "price", "max": 8}]}]});
    let turned = |then, now| vec![Turned { criterion: 1, then: Value::Number(then), now: Value::Number(now) }];
    let came = between(&cheap, "2024-02-29", "2024-03-15");
    assert_eq!(came.entered, [Change { company: 0, outside: false, turned: turned(10.0, 6.0) }]);
    assert!(came.left.is_empty() && came.stayed == 0);
    let went = between(&cheap, "2024-03-15", "2024-04-10");
    assert_eq!(went.left, [Change { company: 0, outside: false, turned: turned(6.0, 9.0) }]);
    let kept = between(&json!({"blocks": []}), "2024-02-29", "2024-03-15");
    assert_eq!((kept.entered, kept.left, kept.stayed), (vec![], vec![], 1));
    let floor = between(&json!({"universe": {"min_price": 7}}), "2024-02-29", "2024-03-15");
    assert_eq!(floor.left, [Change { company: 0, outside: true, turned: vec![] }]);
}

//! The limits of a set and of what is assumed of one company: each end is taken, what lies beyond is refused by name.

use artemon_core::valuation::{Assumptions, Override, Overrides};
use serde_json::{Value as Json, json};

fn set(path: &str, value: &Json) -> Result<(), String> {
    let mut all = serde_json::to_value(Assumptions::standard()).unwrap();
    *all.pointer_mut(path).unwrap_or_else(|| panic!("{path} is no assumption")) = value.clone();
    serde_json::from_value::<Assumptions>(all).map_err(|e| e.to_string())?.check()
}

/// Just beyond a limit.
fn beyond(limit: f64, up: bool) -> f64 {
    let step = if limit.fract() == 0.0 && limit.abs() >= 1.0 { 0.5 } else { 0.001 };
    if up { limit + step } else { limit - step }
}

#[track_caller]
fn limits(path: &str, named: &str, least: f64, most: f64) {
    for end in [least, most] {
        assert_eq!(set(path, &json!(end)), Ok(()), "{path} = {end}");
    }
    for end in [beyond(least, false), beyond(most, true)] {
        let said = set(path, &json!(end)).expect_err(&format!("{path} = {end}"));
        assert!(said.starts_with(named), "{path} = {end}: {said}");
    }
}

#[test]
fn every_number_has_its_limits() {
    limits("/least_required_return", "the least required return", 0.0, 0.5);
    limits("/terminal_growth", "terminal growth", -0.1, 0.1);
    limits("/terminal_gap", "the gap below the discount rate", 0.005, 0.2);
    limits("/persistence", "the persistence of excess return", 0.0, 0.99);
    limits("/outlier_cut", "the outlier cut", 1.0, 100.0);
    limits("/margin", "the margin", 0.0, 0.9);
    limits("/wider_when_unsure", "the widening of the margin", 0.0, 0.6);
    limits("/least_quality", "the least quality", 0.0, 100.0);
    limits("/fair_band", "the fair band", 0.0, 0.9);
    limits("/tax_rate", "the tax rate", 0.0, 0.9);
    limits("/sustainable_cap", "the cap of sustainable growth", 0.0, 0.5);
    limits("/usual_inflation", "usual inflation", -0.1, 1.0);
    limits("/leverage_floor", "the leverage floor", 0.0, 0.2);
    limits("/close_within", "\"close\"", 0.0, 1.0);
    limits("/usual_pe", "the usual multiple", 1.0, 100.0);
    limits("/own_growth", "the own growth", -0.5, 0.6);
}

#[test]
fn the_required_return_is_limited_in_each_of_its_forms() {
    let shipped = serde_json::to_value(Assumptions::standard()).unwrap();
    let form = shipped["required_return"].as_object().unwrap().keys().next().unwrap().clone();
    for form in [form.as_str(), "fixed", "over_government"] {
        for (r, taken) in [(0.0, true), (0.5, true), (-0.001, false), (0.501, false)] {
            let got = set("/required_return", &json!({form: r}));
            assert_eq!(got.is_ok(), taken, "{form} {r}: {got:?}");
        }
    }
}

/// The lower of two bounds comes first, and both lie within theirs.
#[test]
fn pairs_are_in_order_and_within_limits() {
    for (path, named, least, most) in [
        ("/growth_bounds", "the bounds of growth", -0.9, 1.0),
        ("/exit_pe", "the bounds of the exit multiple are", 0.1, 200.0),
        ("/exit_pffo", "the bounds of the exit multiple of property", 0.1, 200.0),
        ("/cost_of_debt", "the cost of debt", 0.0, 0.5),
    ] {
        assert_eq!(set(path, &json!([least, most])), Ok(()), "{path}");
        assert_eq!(set(path, &json!([most, most])), Ok(()), "{path}: no width");
        for pair in [[most, least], [least - 0.01, most], [least, most + 0.01]] {
            let said = set(path, &json!(pair)).expect_err(path);
            assert!(said.starts_with(named), "{path} {pair:?}: {said}");
        }
    }
}

#[test]
fn counts_and_years_have_limits() {
    for (path, least, most) in [
        ("/horizon", 1, 30),
        ("/growth_years", 1, 30),
        ("/margin_years", 1, 10),
        ("/range_years", 3, 10),
        ("/draws", 1_000, 100_000),
        ("/quiet_months/0", 1, 60),
        ("/quiet_months/1", 1, 60),
        ("/quiet_months/2", 1, 60),
    ] {
        for (value, taken) in [(least, true), (most, true), (least - 1, false), (most + 1, false)] {
            let got = set(path, &json!(value));
            assert_eq!(got.is_ok(), taken, "{path} = {value}: {got:?}");
        }
    }
}

#[test]
fn weights_are_no_less_than_nothing_and_not_all_nothing() {
    for path in ["/scenario_weights", "/model_weights"] {
        let shipped = serde_json::to_value(Assumptions::standard()).unwrap();
        let n = shipped.pointer(path).unwrap().as_array().unwrap().len();
        let of = |first: f64, rest: f64| json!(std::iter::once(first).chain(vec![rest; n - 1]).collect::<Vec<_>>());
        for (first, rest, taken) in [(1.0, 0.0, true), (100.0, 100.0, true), (0.0, 0.0, false), (-0.1, 1.0, false), (100.1, 1.0, false)] {
            assert_eq!(set(path, &of(first, rest)).is_ok(), taken, "{path}: {first}, {rest}");
        }
    }
}

/// Components of quality: two different anchors, 0 to 100 points, and something left that counts for every kind.
#[test]
fn anchors_of_quality_are_checked() {
    let component = artemon_core::quality::COMPONENTS[0].id;
    let of = |floor: f64, full: f64, points: f64| set("/quality", &json!({component: {"floor": floor, "full": full, "points": points}}));
    assert_eq!(of(0.1, 0.2, 0.0), Ok(()));
    assert_eq!(of(0.2, 0.1, 100.0), Ok(()));
    assert!(of(0.1, 0.1, 5.0).unwrap_err().contains("two different values"));
    assert!(of(0.1, 0.2, 100.5).unwrap_err().contains("counts for 100.5 points"));
    assert!(of(0.1, 0.2, -1.0).is_err());
    assert!(set("/quality", &json!({"no_such": {"floor": 0, "full": 1, "points": 1}})).unwrap_err().contains("no component of quality"));
    let nothing: serde_json::Map<String, Json> =
        artemon_core::quality::COMPONENTS.iter().map(|c| (c.id.to_owned(), json!({"floor": 0, "full": 1, "points": 0}))).collect();
    assert!(
        set("/quality", &Json::Object(nothing))
            .unwrap_err()
            .contains("no component of quality counts for a company of the kind \"operating\"")
    );
}

#[test]
fn what_is_assumed_of_a_company_has_limits_too() {
    type Field = fn(&mut Override, f64);
    let fields: [(&str, Field, f64, f64); 5] = [
        ("the own growth", |o, v| o.own_growth = Some(v), -0.5, 0.6),
        ("the required return", |o, v| o.required_return = Some(v), 0.0, 0.5),
        ("the exit multiple", |o, v| o.exit_multiple = Some(v), 0.1, 200.0),
        ("the margin", |o, v| o.margin = Some(v), 0.0, 0.9),
        ("the soundness", |o, v| o.soundness = Some(v as u8), 1.0, 4.0),
    ];
    for (named, put, least, most) in fields {
        let check = |v: f64| {
            let mut own = Override { reason: "I know them.".to_owned(), ..Override::default() };
            put(&mut own, v);
            own.check()
        };
        assert!(check(least).is_ok() && check(most).is_ok(), "{named}");
        let beyond = if named == "the soundness" { [0.0, 5.0] } else { [least - 0.001, most + 0.001] };
        for value in beyond {
            let said = check(value).expect_err(named);
            assert!(said.contains(named.trim_start_matches("the ")), "{named} = {value}: {said}");
        }
    }
    assert!(Override { reason: "a note".to_owned(), ..Override::default() }.is_empty());
    assert!(!Override { margin: Some(0.1), ..Override::default() }.is_empty());
}

/// One company's change leaves the others'; what changes nothing is not kept, and equal ones have equal fingerprints.
#[test]
fn assumptions_of_one_company_stand_beside_others() {
    let margin = |margin| Override { margin: Some(margin), reason: "I know it.".to_owned(), ..Override::default() };
    let both = Overrides::new([("A".to_owned(), margin(0.4))]).with("B", margin(0.5));
    let known = |of: &Overrides| [of.of("A"), of.of("B")].map(|o| o.and_then(|o| o.margin));
    assert_eq!(known(&both), [Some(0.4), Some(0.5)]);
    assert_eq!(known(&both.with("A", margin(0.2))), [Some(0.2), Some(0.5)]);
    let without = both.with("A", Override::default());
    assert_eq!((known(&without), without.iter().count()), ([None, Some(0.5)], 1));
    assert_eq!(without.fingerprint(), Overrides::new([("B".to_owned(), margin(0.5))]).fingerprint());
    assert_ne!(without.fingerprint(), both.fingerprint());
    assert_ne!(without.fingerprint(), Overrides::new([("B".to_owned(), margin(0.6))]).fingerprint());
}

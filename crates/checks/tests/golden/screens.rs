//! The two screens, with all that is expected of them.

use super::{agrees, context, golden, snapshot};
use artemon_core::{
    engine::Section,
    screening::{self, Screen, ScreenResult},
};
use serde_json::Value as Json;

/// Runs a golden screen and compares all that is expected of it, each list with its length.
fn screen_agrees(number: u32, undefined_floor: usize) {
    let screen: Screen = serde_json::from_value(golden(&format!("screen-{number}.json"))).unwrap();
    let section = Section::new(context(), screen.as_of.unwrap());
    let got = screening::run(&screen, &section, usize::MAX).unwrap();
    let passing = screening::survivors(&screen, &section).unwrap();
    let columns = screening::columns(&screen, &section);
    let want = &golden(&format!("expected-screen-{number}.json"))["result"];
    let list = |key: &str| want[key].as_array().unwrap();
    let symbols = |rows: &[u32]| Json::from(rows.iter().map(|i| snapshot().symbol(*i)).collect::<Vec<_>>());
    let companies = |places: &[usize]| places.iter().map(|p| section.members()[*p]).collect::<Vec<u32>>();
    let universe: Vec<usize> = got.universe.places().collect();
    assert_eq!(symbols(&companies(&universe)), want["universe"]);
    assert_eq!(got.universe.refused.undefined_floor, undefined_floor);
    assert_eq!(symbols(&companies(&passing)), want["survivors"]);
    let steps: Vec<(&str, u64)> = list("steps").iter().map(|s| (s["step"].as_str().unwrap(), s["left"].as_u64().unwrap())).collect();
    assert_eq!(got.steps.iter().map(|s| (s.step.as_str(), s.left as u64)).collect::<Vec<_>>(), steps);
    let errors: Vec<String> = want["errors"].as_object().map(|all| all.keys().cloned().collect()).unwrap_or_default();
    let in_error = got.criteria.iter().enumerate().filter(|(_, c)| c.error.is_some()).map(|(place, _)| place.to_string());
    assert_eq!(in_error.collect::<Vec<_>>(), errors);
    // Nothing is expected of those that are switched off or in error.
    let asked = screen.blocks.iter().flat_map(|b| &b.criteria);
    let counted: Vec<_> = got.criteria.iter().zip(asked).filter(|(c, asked)| asked.enabled && c.error.is_none()).map(|(c, _)| c).collect();
    assert_eq!(counted.len(), list("criteria").len());
    for (c, want) in counted.into_iter().zip(list("criteria")) {
        let counts = [c.pass_alone, c.fail_alone, c.undefined, c.back_if_dropped].map(|n| n as u64);
        let expected = ["pass_alone", "fail_alone", "undefined", "back_if_dropped"].map(|k| want[k].as_u64().unwrap());
        assert_eq!(counts, expected, "{}", c.formula);
    }
    near_misses_agree(&got, list("near_misses"));
    let rows = list("rows");
    assert_eq!((got.survivors, passing.len(), columns.len()), (rows.len(), rows.len(), screen.columns.len()));
    for (formula, column) in &columns {
        let (_, values) = column.as_ref().unwrap_or_else(|e| panic!("{formula} is switched off: {e}"));
        for (place, row) in passing.iter().zip(rows) {
            let value = &values.value(*place);
            assert!(agrees(formula, value, &row[formula]["value"]), "{formula}: {value:?} {}", row[formula]);
        }
    }
}

fn near_misses_agree(got: &ScreenResult, want: &[Json]) {
    assert_eq!((got.near_misses.len(), got.near_miss_count), (want.len(), want.len()));
    for (miss, want) in got.near_misses.iter().zip(want) {
        assert_eq!(snapshot().symbol(miss.company), want["symbol"].as_str().unwrap());
        let same = |got: Option<f64>, want: &Json| match (got, want.as_f64()) {
            (Some(a), Some(b)) => (a - b).abs() < 1e-9,
            (a, b) => a.is_none() && b.is_none(),
        };
        assert!(same(miss.miss, &want["miss"]) && same(miss.miss_relative, &want["miss_relative"]), "{miss:?}, expected {want}");
    }
}

#[test]
fn the_first_screen_agrees() {
    screen_agrees(1, 1);
}

/// Blocks of other needs, a negated criterion, one switched off, floors and a limit.
#[test]
fn the_second_screen_agrees() {
    screen_agrees(2, 0);
}

//! The independent expected values: every measure and model built so far agrees within the stated tolerances.

use artemon_core::{
    domain::Day,
    formula::{Value, compile, evaluate},
    panel::{AsOf, PanelBuilder, Settings, Snapshot},
};
use artemon_formats::data_package;
use serde_json::Value as Json;
use std::{collections::BTreeMap, path::Path, sync::OnceLock};

const DATES: [&str; 3] = ["2023-08-13", "2024-02-20", "2025-06-27"];

fn golden(name: &str) -> Json {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden").join(name);
    serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn snapshot() -> &'static Snapshot {
    static SNAPSHOT: OnceLock<Snapshot> = OnceLock::new();
    SNAPSHOT.get_or_init(|| {
        let package = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
        let mut builder = PanelBuilder::default();
        let take = |r| {
            builder.push(r);
            Ok(())
        };
        let report = data_package::read(&package, data_package::Known::default(), take).unwrap();
        assert_eq!(report.bad_rows, 0, "{:?}", report.bad.first());
        builder.build()
    })
}

fn settings() -> Settings {
    Settings::standard("XFA".parse().unwrap())
}

fn tolerance(formula: &str) -> f64 {
    let loose = ["beta", "volatility", "trend", "steadiness", "slope", "channel", "smoothness", "bollinger", "own_stdev", "own_z"];
    if loose.iter().any(|l| formula.contains(l)) { 1e-8 } else { 1e-9 }
}

fn agrees(formula: &str, got: &Value, expected: &Json) -> bool {
    match (got, expected) {
        (Value::Undefined(_), Json::Null) => true,
        (Value::Number(v), Json::Null) => v.is_infinite(),
        (Value::Number(v), Json::Number(n)) => {
            let want = n.as_f64().unwrap();
            (v - want).abs() <= tolerance(formula) * want.abs().max(1.0)
        }
        (Value::Flag(b), Json::Bool(w)) => b == w,
        (Value::Text(t), Json::String(w)) => **t == **w,
        _ => false,
    }
}

/// Formulas of the golden set that name what is not built yet.
fn not_built(formula: &str) -> bool {
    compile(formula).is_err()
}

#[test]
fn every_formula_built_agrees() {
    let settings = settings();
    let mut missing: BTreeMap<String, usize> = BTreeMap::new();
    let mut wrong = Vec::new();
    let mut checked = 0;
    for date in DATES {
        let t: Day = date.parse().unwrap();
        let view = AsOf { snapshot: snapshot(), settings: &settings, t };
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let row = view.company(snapshot().find(symbol).unwrap());
            for (formula, want) in figures.as_object().unwrap() {
                if formula == "in_universe" {
                    assert_eq!(row.in_universe(), want["value"].as_bool().unwrap(), "{symbol} {date}");
                    continue;
                }
                if ["valuation.", "quality.", "red_flag."].iter().any(|p| formula.starts_with(p)) {
                    continue;
                }
                let Ok(compiled) = compile(formula) else {
                    *missing.entry(formula.clone()).or_default() += 1;
                    continue;
                };
                let got = evaluate(&compiled, &[row]).value(0);
                checked += 1;
                if !agrees(formula, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {formula}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    println!("{checked} checked; not built: {:?}", missing.keys().collect::<Vec<_>>());
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

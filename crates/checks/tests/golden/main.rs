//! The independent expected values: everything agrees within the stated tolerances.
#![allow(clippy::unwrap_used)]

mod backtests;
mod behaviour;
mod formulas;
mod ledger;
mod ranking;
mod screens;
mod statements;
mod today;
mod valuations;
#[path = "../../../core/tests/world/mod.rs"]
mod world;

use artemon_core::{
    domain::{Day, Record},
    engine::{Context, Engine, Settings},
    formula::Value,
    panel::{PanelBuilder, Snapshot},
};
use artemon_formats::{Known, data_package};
use serde_json::Value as Json;
use std::{path::Path, sync::OnceLock};

const DATES: [&str; 3] = ["2023-08-13", "2024-02-20", "2025-06-27"];

fn golden(name: &str) -> Json {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden").join(name);
    serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn context() -> &'static Context {
    static CONTEXT: OnceLock<Context> = OnceLock::new();
    CONTEXT.get_or_init(|| {
        let mut builder = PanelBuilder::default();
        package(&mut |record| builder.push(record));
        Engine::new(builder.build()).context(Settings::standard("XFA".parse().unwrap()).into())
    })
}

/// All rows of the package.
fn package(take: &mut dyn FnMut(Record)) {
    let package = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
    let mut taken = |record| {
        take(record);
        Ok(())
    };
    let report = data_package::read(&package, &mut Known::default(), &mut taken).unwrap();
    assert_eq!(report.bad_rows, 0, "{:?}", report.bad.first());
}

fn snapshot() -> &'static Snapshot {
    context().snapshot()
}

fn day(text: &str) -> Day {
    text.parse().unwrap()
}

fn tolerance(formula: &str) -> f64 {
    if formula == "implied_growth" {
        return 2e-6;
    }
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

/// Whether two documents are equal, numbers within 1e-9.
fn same(got: &Json, want: &Json) -> bool {
    match (got, want) {
        (Json::Array(a), Json::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b)),
        (Json::Object(a), Json::Object(b)) => a.len() == b.len() && a.iter().all(|(k, v)| b.get(k).is_some_and(|w| same(v, w))),
        (Json::Number(a), Json::Number(_)) => agrees("", &Value::Number(a.as_f64().unwrap()), want),
        _ => got == want,
    }
}

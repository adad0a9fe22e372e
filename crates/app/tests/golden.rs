//! The independent expected values: every measure and model built so far agrees within the stated tolerances.
#![allow(clippy::unwrap_used)]

use artemon_core::{
    Why,
    domain::{Day, Kind},
    formula::{Value, compile, evaluate, explain},
    panel::{AsOf, PanelBuilder, Settings, Snapshot},
    quality,
    ranking::{self, Weights},
    screening::{self, Screen, Section},
    valuation::{self, Cell, Inputs, Model, Scenario, Status, Valuation},
};
use artemon_formats::{Known, data_package};
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
        let mut take = |r| {
            builder.push(r);
            Ok(())
        };
        let report = data_package::read(&package, &mut Known::default(), &mut take).unwrap();
        assert_eq!(report.bad_rows, 0, "{:?}", report.bad.first());
        builder.build()
    })
}

fn settings() -> Settings {
    Settings::standard("XFA".parse().unwrap())
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
                if checked % 11 == 0 {
                    assert_eq!(explain(&compiled, &row).value, got, "the explanation of {formula} of {symbol}");
                }
                if !agrees(formula, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {formula}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    println!("{checked} checked; not built: {:?}", missing.keys().collect::<Vec<_>>());
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
    assert!(missing.is_empty(), "formulas that do not compile: {missing:?}");
}

/// The parts of the valuation: cells, models, starting figures, growth and outliers.
#[test]
fn every_part_of_the_valuations_agrees() {
    let settings = settings();
    let mut wrong = Vec::new();
    let mut skipped = std::collections::BTreeSet::new();
    for date in DATES {
        let view = AsOf { snapshot: snapshot(), settings: &settings, t: date.parse().unwrap() };
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let index = snapshot().find(symbol).unwrap();
            let valuation::CompanyValue { found: inputs, valuation, .. } = valuation::value_company(view, index);
            for (key, want) in figures.as_object().unwrap().iter().filter(|(k, _)| k.starts_with("valuation.")) {
                let Some(got) = part(key, &inputs, &valuation, &settings) else {
                    skipped.insert(key.clone());
                    continue;
                };
                if !agrees(key, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {key}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    println!("not built: {skipped:?}");
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// Every component of quality, every red flag, and the ranking of the universe.
#[test]
fn every_quality_flag_and_ranking_agrees() {
    let settings = settings();
    let mut wrong = Vec::new();
    for date in DATES {
        let view = AsOf { snapshot: snapshot(), settings: &settings, t: date.parse().unwrap() };
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let valuation = valuation::value_company(view, snapshot().find(symbol).unwrap()).valuation;
            for (key, want) in figures.as_object().unwrap() {
                let got = match key.split('.').collect::<Vec<_>>()[..] {
                    ["quality", "component", pillar, id] => component(&valuation, pillar, id),
                    ["red_flag", id] => flag(&valuation, id),
                    _ => continue,
                };
                if !agrees(key, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {key}: got {got:?}, expected {want}"));
                }
            }
        }
        let universe: Vec<_> = view.universe().iter().map(|c| c.index).collect();
        let ranked = ranking::rank(view, &universe, Weights::default());
        for (got, want) in ranked.iter().zip(expected["ranking"].as_array().unwrap()) {
            let (symbol, verdict) = (snapshot().symbol(got.company), got.verdict.code());
            let score = got.score.map_or(Value::Undefined(Why::TooLittle), Value::Number);
            if want["symbol"] != *symbol || want["verdict"] != *verdict || !agrees("score", &score, &want["score"]) {
                wrong.push(format!("{date} ranking: got {symbol} {verdict} {score:?}, expected {want}"));
            }
        }
        assert_eq!(ranked.len(), expected["ranking"].as_array().unwrap().len());
    }
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// The corners of the draws are the independent ones; every percentile lies between them, in order, and the chance is the
/// share of draws above the price.
#[test]
fn draws_stay_within_their_corners() {
    let settings = settings();
    let mut checked = 0;
    for date in DATES {
        let view = AsOf { snapshot: snapshot(), settings: &settings, t: date.parse().unwrap() };
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let Some(low) = figures.get("valuation.draw_minimum").and_then(|w| w["value"].as_f64()) else { continue };
            let high = figures["valuation.draw_maximum"]["value"].as_f64().unwrap();
            let c = view.company(snapshot().find(symbol).unwrap());
            if c.kind() == Kind::Fund {
                continue; // a fund is worth what it holds: it is shown no draws
            }
            let inputs = valuation::value_company(view, c.index).found;
            let d = valuation::draws(&c, &inputs, &settings.assumptions).unwrap();
            let near = |a: f64, b: f64| (a - b).abs() <= 1e-9 * b.abs().max(1.0);
            assert!(near(d.corners.0, low) && near(d.corners.1, high), "{date} {symbol}: {:?}, expected {low} and {high}", d.corners);
            assert!(d.percentiles.is_sorted() && low <= d.percentiles[0] && d.percentiles[4] <= high, "{symbol}: {d:?}");
            let (price, chance) = (inputs.price.unwrap(), d.chance_undervalued.unwrap());
            assert!(if price < low {
                chance == 1.0
            } else if price > high {
                chance == 0.0
            } else {
                (0.0..=1.0).contains(&chance)
            });
            assert_eq!(d, valuation::draws(&c, &inputs, &settings.assumptions).unwrap(), "the same draws every time");
            checked += 1;
        }
    }
    assert!(checked > 40, "{checked}");
}

fn component(v: &Valuation, pillar: &str, id: &str) -> Value {
    let same = |m: &&quality::Measured| {
        let component = &quality::COMPONENTS[m.component];
        component.id == id && component.pillar.code() == pillar
    };
    v.quality
        .components
        .iter()
        .find(same)
        .map_or(Value::Undefined(Why::NotMeaningful), |m| m.score.map_or_else(Value::Undefined, Value::Number))
}

fn flag(v: &Valuation, id: &str) -> Value {
    let at = quality::FLAGS.iter().position(|f| f.id == id).unwrap();
    v.quality.flags[at].map_or_else(Value::Undefined, Value::Flag)
}

fn part(key: &str, inputs: &Inputs, v: &Valuation, settings: &Settings) -> Option<Value> {
    let a = &settings.assumptions;
    let number = |n: artemon_core::Num| n.map_or_else(Value::Undefined, Value::Number);
    let by_model = |n: &str| Model::ALL[n.parse::<usize>().unwrap() - 1];
    Some(match key.split('.').skip(1).collect::<Vec<_>>()[..] {
        ["cell", model, scenario] => {
            let same = |c: &&Cell| c.model == by_model(model) && c.scenario.map_or("-", Scenario::code) == scenario;
            number(v.cells.iter().find(same).map_or(Err(Why::NotMeaningful), |c| c.value))
        }
        ["model", model] => number(v.models.iter().find(|m| m.0 == by_model(model)).map(|m| m.1).ok_or(Why::TooLittle)),
        ["growth", scenario] => number(v.growth.iter().find(|g| g.0.code() == scenario).map_or(Err(Why::NotMeaningful), |g| g.1)),
        ["outliers"] => {
            let mut out: Vec<_> = v.cells.iter().filter(|c| c.status == Status::Outlier).map(name).collect();
            out.sort();
            Value::Text(out.join(",").into())
        }
        ["E0"] => number(inputs.earnings),
        ["F0"] => number(inputs.cash_flow),
        ["B0"] => number(inputs.book),
        ["D0"] => number(inputs.dividend),
        ["p"] => Value::Number(inputs.payout()),
        ["X"] => Value::Number(inputs.exit_pe(a)),
        ["tax"] => number(inputs.tax),
        ["w"] => number(inputs.firm_rate(a)),
        _ => return None,
    })
}

fn name(cell: &Cell) -> String {
    format!("{}.{}", cell.model.number(), cell.scenario.map_or("-", Scenario::code))
}

/// The first screen agrees whole; quality, verdict and flags are no columns yet.
#[test]
fn the_first_screen_agrees() {
    let settings = settings();
    let screen: Screen = serde_json::from_value(golden("screen-1.json")).unwrap();
    let view = AsOf { snapshot: snapshot(), settings: &settings, t: screen.as_of.unwrap() };
    let section = Section::new(view);
    let got = screening::run(&screen, &section).unwrap();
    let want = &golden("expected-screen-1.json")["result"];
    let symbols = |rows: &[u32]| Json::from(rows.iter().map(|i| snapshot().symbol(*i)).collect::<Vec<_>>());
    let survivors: Vec<u32> = got.survivors.iter().map(|p| section.members()[*p]).collect();
    assert_eq!(symbols(&got.universe), want["universe"]);
    assert_eq!(got.refused.undefined_floor, 1);
    assert_eq!(symbols(&survivors), want["survivors"]);
    for (step, want) in got.steps.iter().zip(want["steps"].as_array().unwrap()) {
        assert_eq!((step.step.as_str(), step.left as u64), (want["step"].as_str().unwrap(), want["left"].as_u64().unwrap()));
    }
    for (c, want) in got.criteria.iter().zip(want["criteria"].as_array().unwrap()) {
        let counts = [c.pass_alone, c.fail_alone, c.undefined, c.back_if_dropped].map(|n| n as u64);
        assert_eq!(
            counts,
            ["pass_alone", "fail_alone", "undefined", "back_if_dropped"].map(|k| want[k].as_u64().unwrap()),
            "{}",
            c.formula
        );
    }
    for (miss, want) in got.near_misses.iter().zip(want["near_misses"].as_array().unwrap()) {
        assert_eq!(snapshot().symbol(miss.company), want["symbol"].as_str().unwrap());
        assert!((miss.miss.unwrap() - want["miss"].as_f64().unwrap()).abs() < 1e-9);
        assert!((miss.miss_relative.unwrap() - want["miss_relative"].as_f64().unwrap()).abs() < 1e-9);
    }
    for (formula, column) in &got.columns {
        let Ok((_, values)) = column else { continue };
        for (place, row) in got.survivors.iter().zip(want["rows"].as_array().unwrap()) {
            let value = &values.value(*place);
            assert!(agrees(formula, value, &row[formula]["value"]), "{formula}: {value:?} {}", row[formula]);
        }
    }
}

/// The cases without data: numbers, flags, undefined and errors.
#[test]
fn every_formula_case_agrees() {
    let settings = settings();
    let view = AsOf { snapshot: snapshot(), settings: &settings, t: DATES[2].parse().unwrap() };
    let row = view.company(0);
    for case in golden("formula-cases.json").as_array().unwrap() {
        let formula = case["formula"].as_str().unwrap();
        match compile(formula) {
            Err(error) => assert_eq!(case["is"], "error", "{formula}: {error}"),
            Ok(compiled) => {
                let got = evaluate(&compiled, &[row]).value(0);
                assert!(case["is"] != "error" && agrees(formula, &got, &case["expected"]), "{formula}: {got:?}");
            }
        }
    }
}

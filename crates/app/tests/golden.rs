//! The independent expected values: every measure and model built so far agrees within the stated tolerances.
#![allow(clippy::unwrap_used)]

use artemon_core::{
    Why,
    domain::{Day, Kind},
    engine::{Context, Engine, Section, Settings},
    formula::Value,
    measures::compile,
    panel::{PanelBuilder, Snapshot},
    quality,
    ranking::{self, Weights},
    screening::{self, Screen, ScreenResult},
    valuation::{self, Assumptions, Cell, Inputs, Model, Scenario, Status, Valuation},
};
use artemon_formats::{Known, data_package};
use serde_json::Value as Json;
use std::{collections::BTreeMap, path::Path, sync::OnceLock};

const DATES: [&str; 3] = ["2023-08-13", "2024-02-20", "2025-06-27"];

fn golden(name: &str) -> Json {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden").join(name);
    serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn context() -> &'static Context {
    static CONTEXT: OnceLock<Context> = OnceLock::new();
    CONTEXT.get_or_init(|| {
        let package = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
        let mut builder = PanelBuilder::default();
        let mut take = |r| {
            builder.push(r);
            Ok(())
        };
        let report = data_package::read(&package, &mut Known::default(), &mut take).unwrap();
        assert_eq!(report.bad_rows, 0, "{:?}", report.bad.first());
        Engine::new(builder.build()).context(Settings::standard("XFA".parse().unwrap()).into())
    })
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

#[test]
fn every_formula_built_agrees() {
    let mut missing: BTreeMap<String, usize> = BTreeMap::new();
    let mut wrong = Vec::new();
    let mut checked = 0;
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let row = context().as_of(t).company(snapshot().find(symbol).unwrap());
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
                let got = context().evaluate(&compiled, &[row]).value(0);
                checked += 1;
                if checked % 11 == 0 {
                    assert_eq!(context().explain(&compiled, &row).value, got, "the explanation of {formula} of {symbol}");
                }
                if !agrees(formula, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {formula}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    assert!(checked > 18_000, "{checked} checked");
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
    assert!(missing.is_empty(), "formulas that do not compile: {missing:?}");
}

/// The parts of the valuation: cells, models, starting figures, growth and outliers.
#[test]
fn every_part_of_the_valuations_agrees() {
    let mut wrong = Vec::new();
    let mut skipped = std::collections::BTreeSet::new();
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let index = snapshot().find(symbol).unwrap();
            let valuation::CompanyValue { found: inputs, valuation, .. } = context().value_company(t, index);
            for (key, want) in figures.as_object().unwrap().iter().filter(|(k, _)| k.starts_with("valuation.")) {
                if key.starts_with("valuation.draw_") {
                    continue; // see the draws below
                }
                let Some(got) = part(key, &inputs, &valuation) else {
                    skipped.insert(key.clone());
                    continue;
                };
                if !agrees(key, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {key}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    assert!(skipped.is_empty(), "parts that nothing is compared with: {skipped:?}");
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// Every component of quality, every red flag, and the ranking of the universe.
#[test]
fn every_quality_flag_and_ranking_agrees() {
    let mut wrong = Vec::new();
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let valuation = context().value_company(t, snapshot().find(symbol).unwrap()).valuation;
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
        let universe: Vec<_> = context().as_of(t).universe().iter().map(|c| c.index).collect();
        let ranked = ranking::rank(context(), t, &universe, Weights::default());
        let want = expected["ranking"].as_array().unwrap();
        assert_eq!(ranked.len(), want.len());
        for (got, want) in ranked.iter().zip(want) {
            let (symbol, verdict) = (snapshot().symbol(got.company), got.verdict.code());
            let score = got.score.map_or(Value::Undefined(Why::TooLittle), Value::Number);
            if want["symbol"] != *symbol || want["verdict"] != *verdict || !agrees("score", &score, &want["score"]) {
                wrong.push(format!("{date} ranking: got {symbol} {verdict} {score:?}, expected {want}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// The corners of the draws are the independent ones; every percentile lies between them, in order, and the chance is the
/// share of draws above the price.
#[test]
fn draws_stay_within_their_corners() {
    let mut checked = 0;
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let Some(low) = figures.get("valuation.draw_minimum").and_then(|w| w["value"].as_f64()) else { continue };
            let high = figures["valuation.draw_maximum"]["value"].as_f64().unwrap();
            let c = context().as_of(t).company(snapshot().find(symbol).unwrap());
            if c.kind() == Kind::Fund {
                continue; // a fund is worth what it holds: it is shown no draws
            }
            let inputs = context().value_company(t, c.index).found;
            let d = valuation::draws(context().view(t), &c, &inputs, &Assumptions::standard()).unwrap();
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
            assert_eq!(d, valuation::draws(context().view(t), &c, &inputs, &Assumptions::standard()).unwrap(), "the same draws every time");
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

fn part(key: &str, inputs: &Inputs, v: &Valuation) -> Option<Value> {
    let a = &context().settings().assumptions;
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

/// Runs a golden screen and compares all that is expected of it, each list with its length.
fn screen_agrees(number: u32, undefined_floor: usize) {
    let screen: Screen = serde_json::from_value(golden(&format!("screen-{number}.json"))).unwrap();
    let section = Section::new(context(), screen.as_of.unwrap());
    let got = screening::run(&screen, &section).unwrap();
    let want = &golden(&format!("expected-screen-{number}.json"))["result"];
    let list = |key: &str| want[key].as_array().unwrap();
    let symbols = |rows: &[u32]| Json::from(rows.iter().map(|i| snapshot().symbol(*i)).collect::<Vec<_>>());
    let survivors: Vec<u32> = got.survivors.iter().map(|p| section.members()[*p]).collect();
    assert_eq!(symbols(&got.universe), want["universe"]);
    assert_eq!(got.refused.undefined_floor, undefined_floor);
    assert_eq!(symbols(&survivors), want["survivors"]);
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
    assert_eq!((got.survivors.len(), got.columns.len()), (rows.len(), screen.columns.len()));
    for (formula, column) in &got.columns {
        let (_, values) = column.as_ref().unwrap_or_else(|e| panic!("{formula} is switched off: {e}"));
        for (place, row) in got.survivors.iter().zip(rows) {
            let value = &values.value(*place);
            assert!(agrees(formula, value, &row[formula]["value"]), "{formula}: {value:?} {}", row[formula]);
        }
    }
}

fn near_misses_agree(got: &ScreenResult, want: &[Json]) {
    assert_eq!(got.near_misses.len(), want.len());
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

/// The cases without data: numbers, flags, undefined and errors.
#[test]
fn every_formula_case_agrees() {
    let row = context().as_of(day(DATES[2])).company(0);
    for case in golden("formula-cases.json").as_array().unwrap() {
        let formula = case["formula"].as_str().unwrap();
        match compile(formula) {
            Err(error) => assert_eq!(case["is"], "error", "{formula}: {error}"),
            Ok(compiled) => {
                let got = context().evaluate(&compiled, &[row]).value(0);
                assert!(case["is"] != "error" && agrees(formula, &got, &case["expected"]), "{formula}: {got:?}");
            }
        }
    }
}

//! Every formula of the expected values, and those without data.

use super::{DATES, agrees, context, day, golden, snapshot};
use artemon_core::measures::{self, compile};
use std::{
    collections::{BTreeMap, BTreeSet},
    path::Path,
};

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

/// No measure is without an expected value: an independent one, or one worked out by hand.
#[test]
fn every_measure_is_expected_somewhere() {
    let mut said = String::new();
    for date in DATES {
        let expected = golden(&format!("expected-{date}.json"));
        let formulas = expected["results"].as_object().unwrap().values().flat_map(|of| of.as_object().unwrap().keys());
        formulas.for_each(|formula| said += &format!("{formula}\n"));
    }
    said += &golden("candle-cases.json").to_string();
    said += &golden("expected-price-behaviour.json").to_string();
    for by_hand in ["catalogue", "formulas", "price"] {
        let path = Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("../core/tests/by_hand/{by_hand}.rs"));
        said += &std::fs::read_to_string(path).unwrap();
    }
    let words: BTreeSet<&str> = said.split(|c: char| !(c.is_ascii_alphanumeric() || c == '_')).collect();
    let missing: Vec<&str> = measures::all().map(|m| m.id).filter(|id| !words.contains(id)).collect();
    assert!(missing.is_empty(), "without an expected value: {missing:?}");
}

//! The page Today between two days, section by section.

use super::{context, golden, same};
use artemon_core::{
    screening::Screen,
    today::{Asked, report},
};
use serde_json::{Value as Json, json};

/// Every section, line by line: the first that differs is told.
fn today_agrees(number: &str) {
    let asked: Asked = serde_json::from_value(golden(&format!("today-{number}.json"))).unwrap();
    let screens: Vec<(String, Screen)> =
        asked.screens.iter().map(|name| (name.clone(), serde_json::from_value(golden(name)).unwrap())).collect();
    let got = json!(report(context(), &asked, &screens).unwrap());
    let suffix = if number == "1" { String::new() } else { format!("-{number}") };
    let want = &golden(&format!("expected-today{suffix}.json"))["result"];
    let mut wrong = Vec::new();
    for (section, want) in want.as_object().unwrap() {
        differences(section, &got[section], want, &mut wrong);
    }
    assert_eq!(got.as_object().unwrap().len(), want.as_object().unwrap().len());
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

pub(super) fn differences(place: &str, got: &Json, want: &Json, wrong: &mut Vec<String>) {
    match (got, want) {
        _ if same(got, want) => {}
        (Json::Object(a), Json::Object(b)) if a.len() == b.len() => {
            b.iter().for_each(|(key, want)| differences(&format!("{place}.{key}"), &got[key], want, wrong));
        }
        (Json::Array(a), Json::Array(b)) if a.len() == b.len() => {
            a.iter().zip(b).enumerate().for_each(|(i, (got, want))| differences(&format!("{place}[{i}]"), got, want, wrong));
        }
        _ => wrong.push(format!("{place}: got {got}\n  expected {want}")),
    }
}

#[test]
fn a_month_in_2025_agrees() {
    today_agrees("1");
}

#[test]
fn a_month_in_2023_agrees() {
    today_agrees("2");
}

/// In another base currency.
#[test]
fn a_month_in_2024_agrees() {
    today_agrees("3");
}

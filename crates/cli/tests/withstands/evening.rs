//! What people ask for of an evening, one request after another.

use crate::server::Server;
use serde_json::{Value, json};
use std::{
    collections::BTreeMap,
    sync::Mutex,
    time::{Duration, Instant},
};

/// Statuses and times of every sort of request.
pub(crate) type Seen = Mutex<BTreeMap<&'static str, (BTreeMap<u16, usize>, Vec<Duration>)>>;

/// Somebody at a page: the server, and what is sent with each request.
pub(crate) struct Page<'s> {
    pub(crate) server: &'s Server,
    pub(crate) more: String,
}

/// The nth request.
pub(crate) fn ask(page: &Page<'_>, seen: &Seen, symbols: &[String], n: u64) {
    let symbol = &symbols[(n * 7919) as usize % symbols.len()];
    let bound = 8.0 + (n * 31 % 200) as f64 / 10.0;
    let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "pe", "max": bound }, { "formula": "own_rank(pe, 10y)", "max": 0.6 }] }] });
    let list = json!({ "list": { "screen": screen }, "rows": 60 });
    let day = json!({ "since": "2026-06-01" });
    let (what, method, path, body) = match n % 20 {
        0..=5 => ("a bound is dragged", "POST", "/api/screen/rows".to_owned(), list),
        6..=8 => ("a company", "GET", format!("/api/companies/{symbol}"), Value::Null),
        9 => ("its price", "POST", format!("/api/companies/{symbol}/price"), json!({ "bars": "month", "averages": [6] })),
        10 => ("its value", "GET", format!("/api/companies/{symbol}/value"), Value::Null),
        11 => ("search", "GET", format!("/api/companies?q={}", &symbol[..2]), Value::Null),
        12 => {
            let formula = format!("pe / {bound}");
            ("a new formula", "POST", "/api/evaluate".to_owned(), json!({ "formulas": [formula], "symbols": [symbol] }))
        }
        13 => ("Today", "POST", "/api/today".to_owned(), day),
        14 => ("candidates", "POST", "/api/rank".to_owned(), json!({})),
        15 => ("the ledger", "POST", "/api/ledger".to_owned(), json!({})),
        16 => return keep_something(page, seen, n),
        18 => ("a foolish request", "POST", "/api/evaluate".to_owned(), json!({ "formulas": ["pe ("], "symbols": [symbol] })),
        _ => ("about", "GET", "/api/about".to_owned(), Value::Null),
    };
    note(page, seen, what, method, &path, &body);
}

pub(crate) fn note(page: &Page<'_>, seen: &Seen, what: &'static str, method: &str, path: &str, body: &Value) -> String {
    let begun = Instant::now();
    let (status, answer) = page.server.answer_to(method, path, &page.more, body);
    let mut seen = seen.lock().unwrap();
    let of = seen.entry(what).or_default();
    if !(200..300).contains(&status) && !of.0.contains_key(&status) {
        println!("{what}: {status} {answer}");
    }
    *of.0.entry(status).or_default() += 1;
    of.1.push(begun.elapsed());
    answer
}

/// A screen is saved and deleted.
fn keep_something(page: &Page<'_>, seen: &Seen, n: u64) {
    let screen = json!({ "kind": "screen", "name": format!("Screen {n}"), "body": { "blocks": [] } });
    let made = note(page, seen, "a screen is saved", "POST", "/api/documents", &screen);
    let made: Value = serde_json::from_str(&made).unwrap_or_default();
    if let Some(id) = made["id"].as_str() {
        note(page, seen, "a screen is deleted", "DELETE", &format!("/api/documents/{id}"), &Value::Null);
    }
}

/// Prints what was seen of each sort, and names the sorts that were not answered as they should be.
pub(crate) fn told(seen: Seen) -> (usize, Vec<Duration>, Vec<&'static str>) {
    let (mut asked, mut all, mut wrong) = (0, Vec::new(), Vec::new());
    for (what, (statuses, mut times)) in seen.into_inner().unwrap() {
        times.sort_unstable();
        asked += times.len();
        let at = |share: usize| times[(times.len() - 1) * share / 100];
        println!("{what}: {statuses:?}, median {:?}, p99 {:?}, slowest {:?}", at(50), at(99), at(100));
        let wanted = if what == "a foolish request" { 400..500 } else { 200..300 };
        wrong.extend(statuses.keys().any(|s| !wanted.contains(s)).then_some(what));
        all.extend(times);
    }
    all.sort_unstable();
    (asked, all, wrong)
}

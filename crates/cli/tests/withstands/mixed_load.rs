//! What a busy evening asks for, again and again: memory and descriptors stay as they are after the first minutes.
//! Two hours by default: `make endure`.

use crate::server::{Server, number};
use serde_json::{Value, json};
use std::{
    collections::BTreeMap,
    sync::{
        Mutex,
        atomic::{AtomicBool, AtomicU64, Ordering},
    },
    time::{Duration, Instant},
};

/// Requests a second, by as many pages as ask at once.
const RATE: u32 = 20;
const PAGES: u32 = 4;
/// What is kept of answers comes and goes, and may take this much; what is held beyond it and the memory of the first minute is lost.
const KEPT: u64 = 800 << 20;

/// Statuses and times of every sort of request.
type Seen = Mutex<BTreeMap<&'static str, (BTreeMap<u16, usize>, Vec<Duration>)>>;

/// The nth request.
fn ask(server: &Server, seen: &Seen, symbols: &[String], n: u64) {
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
        16 => return keep_something(server, seen, n),
        17 if n % 1200 == 17 => ("a session", "POST", "/api/feed".to_owned(), json!({ "sessions": 1 })),
        17 if n % 1200 == 417 => ("a copy", "POST", "/api/copies".to_owned(), Value::Null),
        17 if n % 1200 == 817 => return leave_an_export(server),
        17 if n % 1200 == 837 => ("a table", "GET", "/api/export?table=actions".to_owned(), Value::Null),
        18 => ("a foolish request", "POST", "/api/evaluate".to_owned(), json!({ "formulas": ["pe ("], "symbols": [symbol] })),
        _ => ("about", "GET", "/api/about".to_owned(), Value::Null),
    };
    note(server, seen, what, method, &path, &body);
}

fn note(server: &Server, seen: &Seen, what: &'static str, method: &str, path: &str, body: &Value) -> String {
    let begun = Instant::now();
    let (status, answer) = server.answer(method, path, body);
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
fn keep_something(server: &Server, seen: &Seen, n: u64) {
    let screen = json!({ "kind": "screen", "name": format!("Screen {n}"), "body": { "blocks": [] } });
    let made = note(server, seen, "a screen is saved", "POST", "/api/documents", &screen);
    let made: Value = serde_json::from_str(&made).unwrap_or_default();
    if let Some(id) = made["id"].as_str() {
        note(server, seen, "a screen is deleted", "DELETE", &format!("/api/documents/{id}"), &Value::Null);
    }
}

/// Somebody downloads and goes away, and leaves a page open that hears of news.
fn leave_an_export(server: &Server) {
    let pending = server.send("GET", "/api/export", &Value::Null);
    let news = server.send("GET", "/api/events", &Value::Null);
    std::thread::sleep(Duration::from_millis(300));
    drop((pending, news));
}

#[test]
#[ignore = "two hours: make endure"]
fn a_mixed_load_leaves_memory_and_descriptors_as_they_are() {
    let (minutes, companies) = (number("MINUTES", 120), number("COMPANIES", 400).to_string());
    let data = tempfile::tempdir().unwrap();
    let server = Server::start(data.path(), &["demo", "--companies", &companies]);
    let symbols = server.ask("POST", "/api/screen/symbols", &json!({ "screen": { "blocks": [] } }));
    let symbols: Vec<String> = symbols.as_array().unwrap().iter().map(|s| s.as_str().unwrap().to_owned()).collect();
    let (seen, done, count) = (Seen::default(), AtomicBool::new(false), AtomicU64::new(0));
    let (begun, mut held) = (Instant::now(), Vec::new());
    std::thread::scope(|scope| {
        for _ in 0..PAGES {
            let (server, seen, symbols, done, count) = (&server, &seen, &symbols, &done, &count);
            scope.spawn(move || {
                let mut next = Instant::now();
                while !done.load(Ordering::Relaxed) {
                    ask(server, seen, symbols, count.fetch_add(1, Ordering::Relaxed));
                    next += Duration::from_secs(1) * PAGES / RATE;
                    std::thread::sleep(next.saturating_duration_since(Instant::now()));
                }
            });
        }
        for minute in 1..=minutes {
            std::thread::sleep((begun + Duration::from_secs(60 * minute)).saturating_duration_since(Instant::now()));
            let (bytes, descriptors) = server.holds();
            println!("minute {minute}: {} MB, {descriptors} descriptors", bytes >> 20);
            held.push((bytes, descriptors));
        }
        done.store(true, Ordering::Relaxed);
    });
    let seen = seen.into_inner().unwrap();
    let (mut asked, mut wrong) = (0, Vec::new());
    for (what, (statuses, mut times)) in seen {
        times.sort_unstable();
        asked += times.len();
        println!("{what}: {statuses:?}, median {:?}, slowest {:?}", times[times.len() / 2], times[times.len() - 1]);
        let wanted = if what == "a foolish request" { 400..500 } else { 200..300 };
        wrong.extend(statuses.keys().any(|s| !wanted.contains(s)).then_some(what));
    }
    println!("{asked} requests in {:?}", begun.elapsed());
    assert!(wrong.is_empty(), "not as they should be: {wrong:?}");
    let most = |held: &[(u64, usize)]| held.iter().fold((0, 0), |most, h| (most.0.max(h.0), most.1.max(h.1)));
    let (first, half) = (most(&held[..1]), held.len() / 2);
    let (early, late) = (most(&held[..half]), most(&held[half..]));
    println!("{} MB in the first minute, {} at most in the first half, {} in the second", first.0 >> 20, early.0 >> 20, late.0 >> 20);
    assert!(late.0 < first.0 + KEPT, "memory grew from {} to {} MB", first.0 >> 20, late.0 >> 20);
    assert!(late.1 <= early.1 + 4, "descriptors grew from {} to {}", early.1, late.1);
}

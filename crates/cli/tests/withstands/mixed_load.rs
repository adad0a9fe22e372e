//! What a busy evening asks for, again and again: memory and descriptors stay as they are after the first minutes.
//! Two hours by default: `make endure`.

use crate::{
    evening::{Page, Seen, ask, note, told},
    server::{Server, number},
};
use serde_json::{Value, json};
use std::{
    sync::atomic::{AtomicBool, AtomicU64, Ordering},
    time::{Duration, Instant},
};

/// Requests a second, by as many pages as ask at once.
const RATE: u32 = 20;
const PAGES: u32 = 4;
/// What is kept of answers comes and goes, and may take this much; what is held beyond it and the memory of the first minute is lost.
const KEPT: u64 = 800 << 20;

/// The nth request, now and then one that only one person at a time makes.
fn now_and_then(page: &Page<'_>, seen: &Seen, symbols: &[String], n: u64) {
    let (what, method, path, body) = match n % 1200 {
        17 => ("a session", "POST", "/api/feed", json!({ "sessions": 1 })),
        417 => ("a copy", "POST", "/api/copies", Value::Null),
        817 => return leave_an_export(page.server),
        837 => ("a table", "GET", "/api/export?table=actions", Value::Null),
        _ => return ask(page, seen, symbols, n),
    };
    note(page, seen, what, method, path, &body);
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
                let page = Page { server, more: String::new() };
                let mut next = Instant::now();
                while !done.load(Ordering::Relaxed) {
                    now_and_then(&page, seen, symbols, count.fetch_add(1, Ordering::Relaxed));
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
    let (asked, _, wrong) = told(seen);
    println!("{asked} requests in {:?}", begun.elapsed());
    assert!(wrong.is_empty(), "not as they should be: {wrong:?}");
    let most = |held: &[(u64, usize)]| held.iter().fold((0, 0), |most, h| (most.0.max(h.0), most.1.max(h.1)));
    let (first, half) = (most(&held[..1]), held.len() / 2);
    let (early, late) = (most(&held[..half]), most(&held[half..]));
    println!("{} MB in the first minute, {} at most in the first half, {} in the second", first.0 >> 20, early.0 >> 20, late.0 >> 20);
    assert!(late.0 < first.0 + KEPT, "memory grew from {} to {} MB", first.0 >> 20, late.0 >> 20);
    assert!(late.1 <= early.1 + 4, "descriptors grew from {} to {}", early.1, late.1);
}

//! A server that is killed while sessions come in: what alerts say, and the messages that say it, are neither lost nor doubled.

use crate::server::{Server, number};
use serde_json::{Value, json};
use std::{collections::BTreeMap, path::Path, time::Duration};

fn start(data: &Path) -> Server {
    Server::start(data, &["demo", "--companies", "20"])
}

fn next(server: &Server) -> String {
    server.get("/api/feed")["next"].as_str().unwrap().to_owned()
}

/// All that alerts said, all messages, and all lines of the journal: how often each.
fn said(server: &Server) -> (BTreeMap<String, usize>, BTreeMap<String, usize>, BTreeMap<String, usize>) {
    let counted = |all: &Value, of: &dyn Fn(&Value) -> String| {
        let mut counts = BTreeMap::new();
        all.as_array().unwrap().iter().for_each(|one| *counts.entry(of(one)).or_default() += 1);
        counts
    };
    let today = server.ask("POST", "/api/today", &json!({ "since": "2026-06-30" }));
    let mails = server.ask("GET", "/api/mail", &Value::Null);
    let firing = |a: &Value| format!("{} {} {}", a["session"], a["alert"], a["symbol"]);
    let ledger = server.ask("POST", "/api/ledger", &json!({}));
    let line = |l: &Value| format!("{} {} {} {}", l["n"], l["date"], l["says"], l["cash"]);
    (
        counted(&today["alerts"]["said"], &firing),
        counted(&mails["mails"], &|m| m["subject"].to_string()),
        counted(&ledger["journal"], &line),
    )
}

/// Everybody followed, an alert that speaks often, a digest with each session; orders of every sort, most of them filled in part for weeks.
fn begun(data: &Path) -> Server {
    let server = start(data);
    let symbols = server.ask("POST", "/api/screen/symbols", &json!({ "screen": { "blocks": [] } }));
    let list = server.ask("POST", "/api/documents", &json!({ "kind": "list", "name": "All", "body": {} }));
    server.ask("POST", &format!("/api/lists/{}/members", list["id"].as_str().unwrap()), &json!({ "symbols": symbols }));
    let what = json!({ "kind": "formula", "formula": "change(1d) > 0.01" });
    server.ask("POST", "/api/documents", &json!({ "kind": "alert", "name": "Rises", "body": { "what": what, "mail": true } }));
    server.ask("PUT", "/api/mail/settings", &json!({ "to": "me@example.org", "digest": { "every": "session" } }));
    let account = json!({ "name": "Main", "currency": "ZOC", "kind": "simulated", "deposit": 1e12 });
    let account = server.ask("POST", "/api/ledger/accounts", &account)["id"].clone();
    for (i, symbol) in symbols.as_array().unwrap().iter().take(4).enumerate() {
        let terms = json!({ "at": "market", "amount": 4e7, "good": "until_cancelled" });
        let mut order = json!({ "account": account, "symbol": symbol, "side": "buy", "sell_at_gain": 0.01 * (i + 1) as f64 });
        order.as_object_mut().unwrap().extend(terms.as_object().unwrap().clone());
        server.ask("POST", "/api/ledger/orders", &order);
    }
    server
}

#[test]
fn kills_neither_lose_nor_double_an_alert_a_message_or_a_fill() {
    let (calm, killed) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    let reference = begun(calm.path());
    let mut server = begun(killed.path());
    let one = json!({ "sessions": 1 });
    // The first is slow: the year to come is made.
    server.ask("POST", "/api/feed", &one);
    for n in 0..number("KILLS", 50) {
        let before = next(&server);
        let pending = server.send("POST", "/api/feed", &one);
        std::thread::sleep(Duration::from_millis(n * 11 % 230 + n * 37 % 29));
        server.kill();
        drop(pending);
        server = start(killed.path());
        if next(&server) == before {
            server.ask("POST", "/api/feed", &one);
        }
    }
    while next(&reference) != next(&server) {
        reference.ask("POST", "/api/feed", &one);
    }
    // What was interrupted is worked out at the start, in the background.
    let want = said(&reference);
    let mut got = said(&server);
    for _ in 0..200 {
        if got == want {
            break;
        }
        std::thread::sleep(Duration::from_millis(50));
        got = said(&server);
    }
    assert_eq!(got, want);
    assert!(want.1.len() > 20 && want.2.len() > 50, "{} messages, {} lines", want.1.len(), want.2.len());
    // Messages of different days may have one subject.
    assert!([&want.0, &want.2].into_iter().all(|said| said.values().all(|n| *n == 1)));
    let files = |data: &Path| {
        std::fs::read_dir(data.join("outbox"))
            .unwrap()
            .filter(|f| f.as_ref().unwrap().path().extension().is_some_and(|e| e == "eml"))
            .count()
    };
    assert_eq!(files(killed.path()), files(calm.path()));
    server.kill();
    reference.kill();
}

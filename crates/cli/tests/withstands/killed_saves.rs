//! A server that is killed while several pages save: what was confirmed is there, once, as it was confirmed.

use crate::server::{Server, number};
use serde_json::{Value, json};
use std::{
    collections::BTreeMap,
    path::Path,
    sync::{
        Mutex,
        atomic::{AtomicBool, Ordering},
    },
    time::Duration,
};

const PAGES: u64 = 3;

fn start(data: &Path) -> Server {
    Server::start(data, &["demo", "--companies", "15"])
}

/// All screens: their names, with the note and the version of each.
fn screens(server: &Server) -> BTreeMap<String, (i64, i64)> {
    let all = server.get("/api/documents?kind=screen");
    let all = all.as_array().unwrap();
    let of = |d: &Value| {
        let whole = server.get(&format!("/api/documents/{}", d["id"].as_str().unwrap()));
        let bound = whole["body"]["blocks"][0]["criteria"][0]["max"].as_f64().unwrap();
        (d["name"].as_str().unwrap().to_owned(), (whole["version"].as_i64().unwrap(), bound as i64))
    };
    let named: BTreeMap<_, _> = all.iter().map(of).collect();
    assert_eq!(named.len(), all.len(), "one of each name");
    named
}

fn screen(name: &str, bound: i64) -> Value {
    let criteria = [json!({ "formula": "pe", "max": bound })];
    json!({ "kind": "screen", "name": name, "body": { "blocks": [{ "need": "all", "criteria": criteria }] } })
}

/// Adds a screen and changes it, again and again; notes what was confirmed: the version, which is also the bound.
fn save(server: &Server, kill: u64, page: u64, confirmed: &Mutex<BTreeMap<String, i64>>, done: &AtomicBool) {
    for n in 0.. {
        let name = format!("{kill} {page} {n}");
        let (status, text) = server.answer("POST", "/api/documents", &screen(&name, 1));
        let made: Value = serde_json::from_str(&text).unwrap_or_default();
        let Some(id) = made["id"].as_str().filter(|_| status == 201) else { return };
        confirmed.lock().unwrap().insert(name.clone(), 1);
        for version in 2..4 {
            let change = screen(&name, version);
            let path = format!("/api/documents/{id}");
            if server.answer_to("PUT", &path, &format!("If-Match: \"{}\"\r\n", version - 1), &change).0 != 200 {
                return;
            }
            confirmed.lock().unwrap().insert(name.clone(), version);
        }
        if done.load(Ordering::Relaxed) {
            return;
        }
    }
}

#[test]
fn what_was_confirmed_is_there_after_a_kill() {
    let data = tempfile::tempdir().unwrap();
    let (kills, mut count) = (number("KILLS", 10), 0);
    let mut server = start(data.path());
    for kill in 0..kills {
        let (confirmed, done) = (Mutex::new(BTreeMap::new()), AtomicBool::new(false));
        std::thread::scope(|scope| {
            for page in 0..PAGES {
                let (server, confirmed, done) = (&server, &confirmed, &done);
                scope.spawn(move || save(server, kill, page, confirmed, done));
            }
            std::thread::sleep(Duration::from_millis(20 + kill * 37 % 160));
            server.kill_now();
            done.store(true, Ordering::Relaxed);
        });
        drop(server);
        server = start(data.path());
        let there = screens(&server);
        let confirmed = confirmed.into_inner().unwrap();
        for (name, version) in &confirmed {
            let (now, bound) = there.get(name).unwrap_or_else(|| panic!("kill {kill}: {name} is lost"));
            // One change more may have landed unconfirmed.
            assert!(now == bound && (*now == *version || *now == version + 1), "kill {kill}: {name} {version} {now} {bound}");
        }
        assert!(there.len() <= confirmed.len() + PAGES as usize, "kill {kill}");
        count += confirmed.len();
        // The next has room: what was looked at is deleted.
        for one in server.get("/api/documents?kind=screen").as_array().unwrap() {
            server.ask("DELETE", &format!("/api/documents/{}", one["id"].as_str().unwrap()), &Value::Null);
        }
    }
    assert!(count as u64 > kills, "{count} confirmed");
    assert_eq!(server.get("/api/about")["damaged"], 0);
}

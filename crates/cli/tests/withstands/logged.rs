//! The log of a server: in one place, a file a day, and nothing in it that is somebody's own.

use crate::server::{Server, run};
use serde_json::{Value, json};
use std::{fs, os::unix::fs::PermissionsExt, time::Duration};

#[test]
fn the_log_says_what_happened_and_nothing_private() {
    let data = tempfile::tempdir().unwrap();
    let folder = data.path().join("log");
    fs::create_dir_all(&folder).unwrap();
    for day in 1..=30 {
        fs::write(folder.join(format!("artemon.2024-01-{day:02}.log")), "long ago\n").unwrap();
    }
    let mut server = Server::start(data.path(), &["demo", "--companies", "150"]);
    let symbols = server.ask("POST", "/api/screen/symbols", &json!({ "screen": { "blocks": [] } }));
    let symbol = symbols[0].as_str().unwrap();
    // Names, notes and searches of one's own; good ones and ones that are refused.
    let screen = |name: &str| json!({ "kind": "screen", "name": name, "body": { "blocks": [] } });
    server.ask("POST", "/api/documents", &screen("Zweitgeheimnis"));
    assert_eq!(server.answer("POST", "/api/documents", &screen("Zweitgeheimnis \u{202e}")).0, 422);
    server.ask("GET", "/api/companies?q=Zweitgeheimnis", &Value::Null);
    let note = json!({ "text": "Zweitgeheimnis" });
    assert_eq!(server.answer_to("PUT", &format!("/api/companies/{symbol}/note"), "If-Match: \"0\"\r\n", &note).0, 200);
    server.answer("GET", "/api/companies/Zweitgeheimnis", &Value::Null);
    server.answer("POST", "/api/evaluate", &json!({ "formulas": ["Zweitgeheimnis ("], "symbols": [symbol] }));
    server.ask("POST", "/api/feed", &json!({ "sessions": 1 }));
    // More downloads than may run: the fifth is told so.
    let stalled: Vec<_> = (0..4).map(|_| server.send("GET", "/api/export?table=prices", &Value::Null)).collect();
    std::thread::sleep(Duration::from_millis(500));
    assert_eq!(server.answer("GET", &format!("/api/export?symbol={symbol}"), &Value::Null).0, 503);
    drop(stalled);
    server.stop();

    let files: Vec<_> = fs::read_dir(&folder).unwrap().map(|f| f.unwrap().path()).collect();
    assert!(files.len() <= 14, "{} files are kept", files.len());
    let today = files.iter().max().unwrap();
    let log = fs::read_to_string(today).unwrap();
    for said in ["serves, ", "the copy of the day was made", "alerts worked out", "GET /api/export: 503", "it was stopped"] {
        assert!(log.contains(said), "{said}: {log}");
    }
    assert!(!log.contains("geheimnis") && !log.contains(symbol), "{log}");
    assert_eq!(fs::metadata(data.path()).unwrap().permissions().mode() & 0o077, 0, "its owner alone reads it");
    let doctor = run(data.path(), &["doctor"]);
    assert!(String::from_utf8_lossy(&doctor.stdout).contains("log"));
}

//! What is too wide, too long or not for this server is refused in a sentence, and the next one is answered.

use crate::{OWN, ask, ask_whole, get, post, server};
use serde_json::{Value, json};

/// A request may be wide, but not so that it keeps the machine busy.
#[tokio::test(flavor = "multi_thread")]
async fn requests_are_as_wide_as_anybody_reads() {
    let server = server().await;
    let ranks = |n: usize| (1..=n).map(|k| format!("own_rank(pe + {k}, 10y)")).collect::<Vec<_>>();
    let screen = |columns: Vec<String>| json!({ "screen": { "blocks": [], "columns": columns } }).to_string();
    let evaluate = |formulas: Vec<String>| json!({ "formulas": formulas, "symbols": ["DRUA"] }).to_string();
    assert_eq!(post(&server, "/api/screen", &screen(ranks(80))).await.0, 200);
    for (path, body, said) in [
        ("/api/screen", screen(vec!["pe".to_owned(); 10_000]), "10000 are too many at once, 100 are possible"),
        ("/api/screen", screen(ranks(81)), "81 different things are compared with their past or with peers; 80 are possible"),
        ("/api/evaluate", evaluate(vec!["pe".to_owned(); 101]), "101 are too many at once"),
        ("/api/evaluate", evaluate(ranks(90)), "90 different things"),
        ("/api/evaluate", evaluate(vec![format!("1{}", "+1".repeat(4_000))]), "longer than"),
        ("/api/rank", json!({ "order": vec![json!({ "by": "name" }); 11] }).to_string(), "11 are too many at once, 10"),
    ] {
        let (status, text) = post(&server, path, &body).await;
        assert!(status == 422 && text.contains(said), "{path}: {status} {text}");
    }
}

/// Texts of one's own may be long, but are no place for files; what is too long is not repeated whole.
#[tokio::test(flavor = "multi_thread")]
async fn texts_have_a_length() {
    let server = server().await;
    let long = "x".repeat(1_500_000);
    let none = json!({ "blocks": [] });
    for (method, path, body) in [
        ("PUT", "/api/companies/DRUA/note", json!({ "text": long })),
        ("PUT", "/api/companies/DRUA/own", json!({ "soundness": 3, "reason": long })),
        ("POST", "/api/documents", json!({ "kind": "screen", "name": long, "body": none })),
        ("POST", "/api/documents", json!({ "kind": "screen", "name": "Mine", "folder": long, "body": none })),
        ("POST", "/api/documents", json!({ "kind": "screen", "name": "Mine", "note": long, "body": none })),
        ("POST", "/api/decisions/new", json!({ "symbol": "DRUA", "choice": "buy", "reasons": { "thesis": long } })),
        ("POST", "/api/decisions/new", json!({ "symbol": "DRUA", "choice": "buy", "reasons": long })),
        ("POST", "/api/ledger/accounts", json!({ "name": long, "currency": "XFA", "kind": "by_hand" })),
        ("PUT", "/api/assumptions", json!({ "name": long })),
        ("POST", "/api/evaluate", json!({ "formulas": [long], "symbols": ["DRUA"] })),
        ("GET", "/api/companies?q=a", Value::Null),
    ] {
        let wanted = if method == "GET" { 200 } else { 422 };
        let (status, text) = ask(&server, method, path, OWN, "If-Match: \"0\"\r\n", &body.to_string()).await;
        let said: Value = serde_json::from_str(&text).unwrap();
        assert_eq!(status, wanted, "{method} {path}: {}", &text[..text.len().min(500)]);
        assert!(said["title"].as_str().is_none_or(|title| title.chars().count() < 1_000), "{method} {path}");
    }
}

/// What a page of another site sends is refused, however it is dressed; what browsers may do with the answers is said.
#[tokio::test(flavor = "multi_thread")]
async fn browsers_are_told_what_they_may_do() {
    let server = server().await;
    for more in ["Sec-Fetch-Site: cross-site\r\n", "Origin: null\r\n", "Origin: http://127.0.0.1:PORT\r\nOrigin: http://evil.example\r\n"] {
        let more = more.replace("PORT", &server.port.to_string());
        assert_eq!(ask(&server, "GET", "/api/about", OWN, &more, "").await.0, 403, "{more}");
    }
    let (_, head, page) = ask_whole(&server, "GET", "/screens", OWN, "Sec-Fetch-Site: cross-site\r\n", "").await;
    let head = head.to_lowercase();
    let nonce = page.split("name=\"csp-nonce\" content=\"").nth(1).and_then(|rest| rest.split('"').next()).unwrap().to_owned();
    assert!(nonce.len() == 32 && head.contains(&format!("'nonce-{nonce}'")) && !head.contains("unsafe"), "{head}");
    let (_, _, again) = ask_whole(&server, "GET", "/", OWN, "", "").await;
    assert!(!again.contains(&nonce), "each page has its own");
    let (_, head, _) = ask_whole(&server, "GET", "/api/about", OWN, "", "").await;
    let head = head.to_lowercase();
    for said in ["cache-control: no-store", "cross-origin-resource-policy: same-origin", "base-uri 'none'", "form-action 'self'"] {
        assert!(head.contains(said), "{said}: {head}");
    }
}

/// Each refusal is a problem document, whoever refuses: the router, an extractor or a use case.
#[tokio::test(flavor = "multi_thread")]
async fn whoever_refuses_says_why() {
    let server = server().await;
    let many = "x".repeat(3 << 20);
    for (method, path, more, body, status) in [
        ("PATCH", "/api/about", "", "", 405),
        ("TRACE", "/api/about", "", "", 405),
        ("GET", "/api/documents?kind=screen&kind=list", "", "", 400),
        ("DELETE", "/api/screen", "", "", 405),
        ("GET", "/api/imports/many/report.csv", "", "", 400),
        ("GET", "/api/export?table=nosuch", "", "", 422),
        ("GET", "/api/export?table=prices&form=xbrl-json", "", "", 422),
        ("POST", "/api/screen", "Content-Type: text/plain\r\n", "{}", 415),
        ("POST", "/api/screen", "", many.as_str(), 413),
        ("POST", "/api/uploads", "", "{}", 400),
        ("POST", "/api/uploads", "Content-Type: multipart/form-data; boundary=x\r\n", "--x\r\nno header", 400),
        ("GET", "/api/nothing", "", "", 404),
    ] {
        let (said, head, text) = ask_whole(&server, method, path, OWN, more, body).await;
        let problem: Value = serde_json::from_str(&text).unwrap_or_default();
        assert_eq!(said, status, "{method} {path}: {text}");
        assert!(head.to_lowercase().contains("content-type: application/problem+json"), "{method} {path}: {head}");
        assert!(problem["title"].as_str().is_some_and(|t| t.ends_with('.')) && problem["status"] == status, "{method} {path}: {text}");
    }
}

/// Names that no file can have are refused by what is wrong with them, and what was refused leaves nothing behind.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_brought_has_limits() {
    let server = server().await;
    let file =
        |name: &str| format!("--x\r\nContent-Disposition: form-data; name=\"files\"; filename=\"{name}\"\r\n\r\nsymbol,date,close\n\r\n");
    let form = |files: &[String]| format!("{}--x--\r\n", files.concat());
    let bring =
        async |body: String| ask(&server, "POST", "/api/uploads", OWN, "Content-Type: multipart/form-data; boundary=x\r\n", &body).await;
    for (files, said) in [
        (vec![file("../outside.csv")], "does not name a file inside the folder"),
        (vec![file(&"n".repeat(300))], "longer than 200 bytes"),
        (vec![file("pay\u{202e}fdp.csv")], "characters that cannot be seen"),
        (vec![file("a.csv"), file("a.csv")], "bring each once"),
        ((0..1_001).map(|i| file(&format!("{i}.csv"))).collect(), "more than 1000 files"),
    ] {
        let (status, text) = bring(form(&files)).await;
        assert!(status == 422 && text.contains(said), "{status} {text}");
    }
    let uploads = server.data.path().join("uploads/local");
    assert_eq!(std::fs::read_dir(&uploads).unwrap().count(), 0, "what was refused is gone");
    for _ in 0..25 {
        assert_eq!(bring(form(&[file("a.csv")])).await.0, 200);
    }
    assert_eq!(std::fs::read_dir(&uploads).unwrap().count(), 20, "the oldest make room");
    let large =
        format!("--x\r\nContent-Disposition: form-data; name=\"files\"; filename=\"a.csv\"\r\n\r\n{}\r\n--x--\r\n", "x".repeat(5 << 20));
    let (status, text) = bring(large).await;
    assert!(status == 422 && text.contains("larger than uploads may be"), "{status} {text}");
    assert_eq!(get(&server, "/api/about").await.0, 200);
}

//! Whoever should not get in tries every route: without a session, from a page of another site, with a token that is not for it, as a
//! member where an owner is needed, and with sessions that have ended or were laid out beforehand.

use super::{Browser, PASSPHRASE, operations, shared, some_path};
use crate::ask_at;
use serde_json::{Value, json};

/// What one does before one is signed in.
const AT_THE_DOOR: [&str; 4] = ["GET /api/session", "POST /api/session", "POST /api/invitation", "POST /api/join"];

/// Changes of what is one's own.
const WRITES: &str = "
DELETE /api/alerts/unseen|PUT /api/mail/settings|POST /api/mail/test|POST /api/mail/again|POST /api/addresses
PUT /api/assumptions|POST /api/assumptions/use|DELETE /api/assumptions/{name}|POST /api/assumptions/restore|POST /api/repairs/match
POST /api/backtests|PUT /api/backtests/{id}|DELETE /api/backtests/{id}|POST /api/backtests/{id}/restore|POST /api/backtests/{id}/cancel
POST /api/backtests/{id}/variants|POST /api/values-record|DELETE /api/values-record|PUT /api/companies/{symbol}/own
POST /api/decisions/new|POST /api/decisions/{id}/reviews|POST /api/documents|PUT /api/documents/{id}|DELETE /api/documents/{id}
POST /api/documents/{id}/restore|POST /api/ledger/accounts|PUT /api/ledger/accounts/{id}|DELETE /api/ledger/accounts/{id}
POST /api/ledger/accounts/{id}/entries|DELETE /api/ledger/entries/{n}|POST /api/ledger/orders|PUT /api/ledger/terms
PUT /api/ledger/orders/{order}|DELETE /api/ledger/orders/{order}|POST /api/ledger/statements|DELETE /api/ledger/statements/{id}
POST /api/lists/{id}/members|DELETE /api/lists/{id}/members|POST /api/lists/{id}/members/restore|POST /api/lists/move
PUT /api/lists/{id}/order|PUT /api/lists/{id}/members/{symbol}|PUT /api/companies/{symbol}/soundness|PUT /api/own-measures
DELETE /api/own-measures/{id}|PUT /api/companies/{symbol}/note|PUT /api/companies/{symbol}/cases|POST /api/screens/{id}/runs
POST /api/today/visit|POST /api/today/seen|PUT /api/today/away|PUT /api/today/layout
POST /api/shared|DELETE /api/shared/{token}|POST /api/shared/{token}/copy";

/// What owners do with data.
const DATA: &str = "
POST /api/feed|PUT /api/feed/source|POST /api/uploads|POST /api/uploads/{id}/preview|PUT /api/concepts|POST /api/uploads/{id}/import
DELETE /api/jobs/{id}|GET /api/imports/{id}/report.csv";

/// What owners do for everybody, and no script does.
const SERVER: &str = "
GET /api/safety|POST /api/copies|GET /api/copies/{name}/file|POST /api/copies/{name}/restore|GET /api/people|GET /api/people/log
POST /api/people/invitations|DELETE /api/people/invitations/{id}|POST /api/people/{id}/way-back|PUT /api/people/{id}/role
DELETE /api/people/{id}|DELETE /api/people/{id}/sessions";

/// What one does for one's own account, and no script does.
const ACCOUNT: &str = "
DELETE /api/session|POST /api/session/confirm|GET /api/account|DELETE /api/account|GET /api/account/everything
PUT /api/account/passphrase|DELETE /api/account/sessions|DELETE /api/account/sessions/{id}|POST /api/account/second-factor/begin
PUT /api/account/second-factor|DELETE /api/account/second-factor|POST /api/account/recovery-codes|GET /api/tokens|POST /api/tokens
DELETE /api/tokens/{id}|GET /api/account/log";

fn is_in(list: &str, operation: &str) -> bool {
    list.split(['|', '\n']).any(|listed| listed == operation)
}

/// What a token must be for; nothing where none will do.
fn scope(operation: &str) -> Option<&'static str> {
    match operation {
        o if is_in(WRITES, o) => Some("write"),
        o if is_in(DATA, o) => Some("data"),
        o if is_in(SERVER, o) || is_in(ACCOUNT, o) => None,
        _ => Some("read"),
    }
}

fn is_of_owners(operation: &str) -> bool {
    is_in(DATA, operation) || is_in(SERVER, operation)
}

fn guarded() -> impl Iterator<Item = String> {
    operations().into_iter().filter(|operation| !AT_THE_DOOR.contains(&operation.as_str()))
}

fn method(operation: &str) -> &str {
    operation.split(' ').next().unwrap()
}

#[test]
fn each_list_names_operations_that_there_are() {
    let all = operations();
    for listed in [WRITES, DATA, SERVER, ACCOUNT].concat().split(['|', '\n']).filter(|listed| !listed.is_empty()) {
        assert!(all.iter().any(|operation| operation == listed), "{listed}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn without_a_session_nothing_is_told() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let nobody = shared.browser();
    let made_up = shared.browser();
    let other = "Zm9yZ2VkIHNlc3Npb24xMg".to_owned();
    made_up.cookies.lock().unwrap().insert("artemon".to_owned(), other);
    for operation in guarded() {
        for browser in [&nobody, &made_up] {
            let (status, head, said) = browser.send(method(&operation), &some_path(&operation), "", "").await;
            assert!(status == 401 && said.contains("artemon:not-signed-in"), "{operation}: {status} {said}");
            let given = |line: &str| line.starts_with("set-cookie: artemon=") && !line.starts_with("set-cookie: artemon=;");
            assert!(!head.to_lowercase().lines().any(given), "{operation}: {head}");
        }
        let token = "Authorization: Bearer artemon_0000\r\n";
        let (status, _, said) = nobody.send(method(&operation), &some_path(&operation), token, "").await;
        assert_eq!(status, 401, "{operation}: {said}");
    }
    let (status, said) = anna.get("/api/about").await;
    assert_eq!(status, 200, "{said}");
}

/// Whatever a page of another site has the browser send, with the person's cookies: simple forms too, which need no permission.
#[tokio::test(flavor = "multi_thread")]
async fn pages_of_other_sites_can_have_nothing_done() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let (cookies, port) = (anna.cookies(), shared.port);
    let own = format!("127.0.0.1:{port}");
    let form = "Content-Type: application/x-www-form-urlencoded\r\n";
    for operation in operations() {
        let (method, path) = (method(&operation), some_path(&operation));
        let mut tries = vec![
            (own.clone(), "Origin: https://other.example\r\n".to_owned()),
            (own.clone(), "Origin: null\r\n".to_owned()),
            (own.clone(), format!("Origin: http://{own}.other.example\r\n")),
            (own.clone(), "Sec-Fetch-Site: cross-site\r\n".to_owned()),
            (own.clone(), "Sec-Fetch-Site: same-site\r\n".to_owned()),
            (own.clone(), format!("Origin: http://{own}\r\nSec-Fetch-Site: cross-site\r\n")),
            (format!("other.example:{port}"), String::new()),
            (format!("other.example:{port}"), format!("Origin: http://other.example:{port}\r\n")),
        ];
        if method != "GET" {
            tries.push((own.clone(), String::new()));
            tries.push((own.clone(), "Sec-Fetch-Site: none\r\n".to_owned()));
            tries.push((own.clone(), form.to_owned()));
            tries.push((own.clone(), "Content-Type: text/plain\r\n".to_owned()));
        }
        for (host, more) in tries {
            let (status, _, said) = ask_at(port, method, &path, &host, &format!("{cookies}{more}"), "a=b").await;
            assert!(status == 403 && said.contains("artemon:foreign-host"), "{operation} {more}: {status} {said}");
        }
    }
    let (status, _) = anna.get("/api/account").await;
    assert_eq!(status, 200, "she is still there");
}

async fn token(of: &Browser, scopes: &[&str]) -> String {
    let (status, made) = of.does("POST /api/tokens", "/api/tokens", json!({ "name": "script", "scopes": scopes, "days": 1 })).await;
    assert_eq!(status, 200, "{made}");
    format!("Authorization: Bearer {}\r\n", made["token"].as_str().unwrap())
}

/// What a script may with a token, whose whole scope is known here and not there.
#[tokio::test(flavor = "multi_thread")]
async fn a_token_does_what_it_is_for_and_nothing_else() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let host = format!("127.0.0.1:{}", shared.port);
    for (of, is_owner) in [(&anna, true), (&bert, false)] {
        for granted in ["read", "write", "data"] {
            let bearer = token(of, &[granted]).await;
            for operation in guarded() {
                let (status, _, said) = ask_at(shared.port, method(&operation), &some_path(&operation), &host, &bearer, "").await;
                let allowed = scope(&operation) == Some(granted) && (is_owner || !is_of_owners(&operation));
                if allowed {
                    assert!(![401, 403].contains(&status) && status < 500, "{operation} with {granted}: {status} {said}");
                } else {
                    assert!(status == 403 && said.contains("artemon:not-allowed"), "{operation} with {granted}: {status} {said}");
                }
            }
        }
    }
    // It counts until it is ended, and tells nothing of itself but what it was made for.
    let bearer = token(&anna, &["read"]).await;
    let asks = async || ask_at(shared.port, "GET", "/api/about", &host, &bearer, "").await.0;
    assert_eq!(asks().await, 200);
    let (_, all) = anna.does("GET /api/tokens", "/api/tokens", Value::Null).await;
    assert!(all[0]["used_at"].is_string() && !all.to_string().contains("artemon_"), "{all}");
    let path = format!("/api/tokens/{}", all[0]["id"].as_str().unwrap());
    assert_eq!(bert.does("DELETE /api/tokens/{id}", &path, Value::Null).await.0, 404, "another's token");
    assert_eq!(asks().await, 200);
    assert_eq!(anna.does("DELETE /api/tokens/{id}", &path, Value::Null).await.0, 204);
    assert_eq!(asks().await, 401);
}

#[tokio::test(flavor = "multi_thread")]
async fn members_do_nothing_that_owners_do() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let (_, people) = anna.get("/api/people").await;
    for operation in guarded().filter(|operation| is_of_owners(operation)) {
        let (status, _, said) = bert.send(method(&operation), &some_path(&operation), "", "").await;
        assert!(status == 403 && said.contains("This is for owners"), "{operation}: {status} {said}");
    }
    // Until he is one.
    let id = people["persons"][1]["id"].as_str().unwrap();
    let role = async |role: &str| anna.does("PUT /api/people/{id}/role", &format!("/api/people/{id}/role"), json!({ "role": role })).await;
    assert_eq!(role("owner").await.0, 200);
    assert_eq!(bert.get("/api/people").await.0, 200);
    assert_eq!(role("member").await.0, 200);
    assert_eq!(bert.get("/api/people").await.0, 403);
    let own = people["persons"][0]["id"].as_str().unwrap();
    let (status, said) = anna.does("PUT /api/people/{id}/role", &format!("/api/people/{own}/role"), json!({ "role": "member" })).await;
    assert!(status == 422 && said["title"].as_str().unwrap().contains("Make another person an owner first"), "{said}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_that_was_laid_out_beforehand_is_not_taken_up() {
    let shared = shared().await;
    drop(shared.anna().await);
    let browser = shared.browser();
    let fixed = "Zm9yZ2VkIHNlc3Npb24xMg".to_owned();
    browser.cookies.lock().unwrap().insert("artemon".to_owned(), fixed.clone());
    assert_eq!(browser.signs_in("Anna", PASSPHRASE).await.0, 200);
    let given = browser.cookie("artemon").unwrap();
    assert_ne!(given, fixed);
    let attacker = shared.browser();
    attacker.cookies.lock().unwrap().insert("artemon".to_owned(), fixed);
    assert_eq!(attacker.get("/api/about").await.0, 401);
    // Nor does one who signs in again keep the session from before.
    assert_eq!(browser.signs_in("Anna", PASSPHRASE).await.0, 200);
    let old = shared.browser();
    old.cookies.lock().unwrap().insert("artemon".to_owned(), given);
    assert_eq!(old.get("/api/about").await.0, 401);
    assert_eq!(browser.get("/api/about").await.0, 200);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_that_has_ended_cannot_be_replayed() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let elsewhere = shared.browser();
    assert_eq!(elsewhere.signs_in("anna", PASSPHRASE).await.0, 200);
    let with = |cookie: Option<String>| {
        let browser = shared.browser();
        browser.cookies.lock().unwrap().insert("artemon".to_owned(), cookie.unwrap());
        browser
    };
    // Signed out here.
    let replayed = with(elsewhere.cookie("artemon"));
    assert_eq!(replayed.get("/api/about").await.0, 200);
    assert_eq!(elsewhere.does("DELETE /api/session", "/api/session", Value::Null).await.0, 204);
    assert_eq!(elsewhere.cookie("artemon"), None);
    assert_eq!(replayed.get("/api/about").await.0, 401);
    // Signed out from elsewhere: of one, and of all others.
    for path in ["/api/account/sessions/{id}", "/api/account/sessions"] {
        assert_eq!(elsewhere.signs_in("anna", PASSPHRASE).await.0, 200);
        let (_, account) = anna.does("GET /api/account", "/api/account", Value::Null).await;
        let other = account["sessions"].as_array().unwrap().iter().find(|s| s["this"] == false).unwrap();
        let place = path.replace("{id}", other["id"].as_str().unwrap());
        assert_eq!(anna.does(&format!("DELETE {path}"), &place, Value::Null).await.0, 204);
        assert_eq!(elsewhere.get("/api/about").await.0, 401);
        assert_eq!(anna.get("/api/about").await.0, 200);
    }
    // Another person's is not theirs to end, whatever they know of it.
    let bert = shared.invited(&anna, "Bert", "owner").await;
    let (_, account) = anna.get("/api/account").await;
    let place = format!("/api/account/sessions/{}", account["sessions"][0]["id"].as_str().unwrap());
    assert_eq!(bert.does("DELETE /api/account/sessions/{id}", &place, Value::Null).await.0, 404);
    assert_eq!((anna.get("/api/about").await.0, bert.get("/api/about").await.0), (200, 200));
    // Another passphrase, and a passphrase that is typed again, give another session.
    assert_eq!(elsewhere.signs_in("anna", PASSPHRASE).await.0, 200);
    let before = with(anna.cookie("artemon"));
    let other = "seven quiet harbours at dusk";
    let change = json!({ "now": PASSPHRASE, "new": other });
    assert_eq!(anna.does("PUT /api/account/passphrase", "/api/account/passphrase", change).await.0, 204);
    assert_eq!((before.get("/api/about").await.0, elsewhere.get("/api/about").await.0), (401, 401));
    assert_eq!(anna.get("/api/about").await.0, 200);
    let before = with(anna.cookie("artemon"));
    assert_eq!(anna.does("POST /api/session/confirm", "/api/session/confirm", json!({ "passphrase": other })).await.0, 204);
    assert_eq!((before.get("/api/about").await.0, anna.get("/api/about").await.0), (401, 200));
    assert_eq!(elsewhere.signs_in("anna", PASSPHRASE).await.0, 401, "the old one is none any more");
}

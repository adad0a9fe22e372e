//! What one person may keep and ask for, so that there is room for the others.

use super::{Browser, PASSPHRASE, Shared, shared};
use serde_json::{Value, json};

async fn keep(of: &Browser, kind: &str, name: &str) -> (u16, Value) {
    let body = if kind == "screen" { json!({ "blocks": [] }) } else { json!({}) };
    of.does("POST /api/documents", "/api/documents", json!({ "kind": kind, "name": name, "body": body })).await
}

async fn two() -> (Shared, Browser, Browser) {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    (shared, anna, bert)
}

#[tokio::test(flavor = "multi_thread")]
async fn what_one_keeps_takes_no_more_than_its_room() {
    let (shared, anna, bert) = two().await;
    let (_, made) = keep(&bert, "screen", "His").await;
    // Older versions count: 199 MB of them leave room, 201 MB do not. A letter of two bytes counts as two.
    let grown = |megabytes: u32| {
        let text = format!("replace(hex(zeroblob({} * 262144)), '0', 'é')", megabytes);
        shared.changed(&format!(
            "DELETE FROM document_versions WHERE version = 99;
             INSERT INTO document_versions (document_id, version, body, note, saved_at)
               VALUES ({}, 99, {text}, '', '2026-01-01T00:00:00Z')",
            made["id"].to_string().replace('"', "'")
        ));
    };
    let save = async |n: i32| {
        let path = format!("/api/documents/{}", made["id"].as_str().unwrap());
        let body = json!({ "kind": "screen", "name": "His", "body": { "blocks": [] }, "note": format!("{n}") });
        bert.send("PUT", &path, "If-Match: \"1\"\r\n", &body.to_string()).await
    };
    grown(199);
    assert_eq!(keep(&bert, "screen", "Another").await.0, 201);
    grown(201);
    let (status, _, said) = save(1).await;
    assert!(status == 422 && said.contains("takes as much room as one person may take"), "{said}");
    assert_eq!(keep(&anna, "screen", "Hers").await.0, 201, "others have theirs");
    grown(1);
    assert_eq!(save(2).await.0, 200, "and there is room again");
}

#[tokio::test(flavor = "multi_thread")]
async fn of_a_kind_one_keeps_two_thousand() {
    let (shared, anna, bert) = two().await;
    keep(&bert, "list", "The first").await;
    shared.changed(
        "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1999)
         INSERT INTO documents (id, person_id, kind, folder, name, version, created_at)
           SELECT 'made ' || i, person_id, kind, '', 'List ' || i, 1, created_at FROM n, documents;
         INSERT INTO document_versions (document_id, version, body, note, saved_at)
           SELECT id, 1, '{}', '', created_at FROM documents WHERE id LIKE 'made %'",
    );
    let (status, said) = keep(&bert, "list", "One more").await;
    assert!(status == 422 && said["title"].as_str().unwrap().starts_with("You have 2000 of these"), "{said}");
    assert_eq!((keep(&bert, "screen", "His").await.0, keep(&anna, "list", "Hers").await.0), (201, 201));
}

#[tokio::test(flavor = "multi_thread")]
async fn twenty_backtests_of_one_person_wait_at_most() {
    let (shared, anna, bert) = two().await;
    let ask = async |of: &Browser| {
        let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "pe", "max": 15 }] }] });
        let asked = json!({ "settings": { "screen": screen, "from": "2020-01-31", "to": "2021-01-31", "top": 3, "base": "XFA" } });
        of.does("POST /api/backtests", "/api/backtests", asked).await
    };
    assert!((200..300).contains(&ask(&bert).await.0));
    // Far more than are done meanwhile.
    shared.changed(
        "CREATE TEMP TABLE more AS SELECT * FROM backtests;
         WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 400)
         INSERT INTO more SELECT more.* FROM more, n;
         UPDATE more SET id = id || rowid, state = 'waiting';
         INSERT INTO backtests SELECT * FROM more",
    );
    let (status, said) = ask(&bert).await;
    assert!(status == 503 && said["title"].as_str().unwrap().contains("20 of your backtests wait"), "{said}");
    assert!((200..300).contains(&ask(&anna).await.0), "others have their turns");
}

/// A browser may call itself anything; what is kept and shown of it is short and one line.
#[tokio::test(flavor = "multi_thread")]
async fn a_browser_is_kept_by_a_short_name() {
    let shared = shared().await;
    shared.anna().await;
    let browser = Browser { from: format!("User-Agent: Odd\tBrowser {}\r\n", "x".repeat(5_000)), ..shared.browser() };
    assert_eq!(browser.signs_in("anna", PASSPHRASE).await.0, 200);
    let (_, account) = browser.get("/api/account").await;
    let named: Vec<&str> = account["sessions"].as_array().unwrap().iter().map(|s| s["browser"].as_str().unwrap()).collect();
    assert!(named.iter().any(|name| name.starts_with("OddBrowser xxx") && name.chars().count() == 200), "{named:?}");
}

/// A name with a colon would be two to an authenticator.
#[tokio::test(flavor = "multi_thread")]
async fn a_name_of_any_letters_has_a_second_factor() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let odd = shared.invited(&anna, "Anna: of the harbour, 港 & sons?", "member").await;
    let (status, begun) = odd.does("POST /api/account/second-factor/begin", "/api/account/second-factor/begin", Value::Null).await;
    let address = begun["address"].as_str().unwrap_or_default();
    assert!(status == 200 && address.starts_with("otpauth://totp/Artemon:Anna%20%20of%20the%20harbour"), "{begun}");
}

//! What the audit log tells, and to whom.

use super::{Browser, PASSPHRASE, ending::second_factor, shared, signing_in::code};
use serde_json::{Value, json};

/// What stands in a person's log, the newest first: what was done, and about what.
async fn log(of: &Browser, path: &str) -> Vec<(String, String)> {
    let (status, log) = of.get(path).await;
    assert_eq!(status, 200, "{log}");
    let text = |e: &Value, name: &str| e[name].as_str().unwrap_or_default().to_owned();
    log["entries"].as_array().unwrap().iter().map(|e| (text(e, "what"), text(e, "about"))).collect()
}

async fn own(of: &Browser) -> Vec<(String, String)> {
    log(of, "/api/account/log").await
}

fn told(log: &[(String, String)], what: &str) -> bool {
    log.iter().any(|(said, _)| said == what)
}

#[tokio::test(flavor = "multi_thread")]
async fn each_way_in_and_each_that_was_refused_is_in_the_log() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let (secret, codes) = second_factor(&anna).await;
    let elsewhere = shared.browser();
    let try_in = async |passphrase: &str, code: &str| {
        elsewhere.ask("POST", "/api/session", json!({ "name": "anna", "passphrase": passphrase, "code": code })).await.0
    };
    assert_eq!(try_in("not hers at all", "").await, 401);
    assert!(told(&own(&anna).await, "a sign-in was refused: passphrase"));
    assert_eq!(try_in(PASSPHRASE, "000000").await, 401);
    assert!(told(&own(&anna).await, "a sign-in was refused: code"));
    assert_eq!(try_in(PASSPHRASE, codes[0].as_str().unwrap()).await, 200);
    let after = own(&anna).await;
    assert_eq!((after[0].0.as_str(), after[1].0.as_str()), ("signed in", "used a recovery code"));
    assert_eq!(try_in(PASSPHRASE, &code(&secret, 1)).await, 200);
    assert_eq!(own(&anna).await.iter().filter(|(what, _)| what == "used a recovery code").count(), 1);
    let confirm = json!({ "passphrase": "not hers at all" });
    assert_eq!(anna.does("POST /api/session/confirm", "/api/session/confirm", confirm).await.0, 422);
    assert!(told(&own(&anna).await, "typed a wrong passphrase"));
    // A name that there is none of is nobody's own, and the owner's to see, without the name: it may be a passphrase in the wrong field.
    assert_eq!(shared.browser().signs_in("my secret passphrase", PASSPHRASE).await.0, 401);
    assert!(!told(&own(&anna).await, "a sign-in was refused: name"));
    let (_, whole) = anna.get("/api/people/log").await;
    assert!(whole.to_string().contains("a sign-in was refused: name") && !whole.to_string().contains("my secret"), "{whole}");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_owners_do_with_others_is_in_the_log_and_a_member_sees_their_own() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let (_, people) = anna.get("/api/people").await;
    let path = format!("/api/people/{}", people["persons"][1]["id"].as_str().unwrap());
    assert_eq!(anna.does("DELETE /api/people/{id}/sessions", &format!("{path}/sessions"), Value::Null).await.0, 204);
    assert_eq!(anna.does("PUT /api/people/{id}/role", &format!("{path}/role"), json!({ "role": "owner" })).await.0, 200);
    assert_eq!(anna.does("PUT /api/people/{id}/role", &format!("{path}/role"), json!({ "role": "member" })).await.0, 200);
    assert_eq!(anna.does("POST /api/people/{id}/way-back", &format!("{path}/way-back"), json!({})).await.0, 200);
    let whole = log(&anna, "/api/people/log").await;
    for what in ["signed out everywhere", "made an owner of", "made a member of", "made a link back in"] {
        assert!(whole.iter().any(|(said, about)| said == what && about == "Bert"), "{what}: {whole:?}");
    }
    assert_eq!(bert.signs_in("bert", PASSPHRASE).await.0, 200);
    let his = own(&bert).await;
    assert!(told(&his, "joined") && told(&his, "signed in") && !told(&his, "made an owner of"), "{his:?}");
    // A page at a time, without a gap.
    let (_, first) = anna.get("/api/people/log").await;
    let ids = |page: &Value| page["entries"].as_array().unwrap().iter().map(|e| e["n"].as_i64().unwrap()).collect::<Vec<_>>();
    let all = ids(&first);
    assert!(all.windows(2).all(|pair| pair[0] > pair[1]), "the newest first: {all:?}");
    let (_, rest) = anna.get(&format!("/api/people/log?before={}", all[1])).await;
    assert_eq!(ids(&rest), all[2..]);
}

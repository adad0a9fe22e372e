//! What ends, and when: links, tokens, addresses, sessions, codes, and how much of each there may be.

use super::{Browser, PASSPHRASE, Shared, shared, signing_in::code, token_of};
use serde_json::{Value, json};

const LONG_AGO: &str = "'2020-01-01T00:00:00Z'";

async fn invitation(by: &Browser, token: &str) -> u16 {
    by.does("POST /api/invitation", "/api/invitation", json!({ "token": token })).await.0
}

async fn join(by: &Browser, token: &str, name: &str, passphrase: &str) -> (u16, Value) {
    by.does("POST /api/join", "/api/join", json!({ "token": token, "name": name, "passphrase": passphrase })).await
}

async fn invite(anna: &Browser) -> String {
    let (status, made) = anna.does("POST /api/people/invitations", "/api/people/invitations", json!({ "role": "member" })).await;
    assert_eq!(status, 200, "{made}");
    token_of(&made)
}

async fn way_back(anna: &Browser, n: usize, way: Value) -> (String, Value) {
    let (_, people) = anna.get("/api/people").await;
    let path = format!("/api/people/{}/way-back", people["persons"][n]["id"].as_str().unwrap());
    let (status, made) = anna.does("POST /api/people/{id}/way-back", &path, way).await;
    assert_eq!(status, 200, "{made}");
    (token_of(&made), made)
}

async fn token(by: &Browser, name: &str, days: i64) -> (u16, Value) {
    by.does("POST /api/tokens", "/api/tokens", json!({ "name": name, "scopes": ["read"], "days": days })).await
}

/// What a script with a token is answered.
async fn script(shared: &Shared, token: &Value) -> u16 {
    let bearer = format!("Authorization: Bearer {}\r\n", token.as_str().unwrap());
    shared.browser().send("GET", "/api/about", &bearer, "").await.0
}

#[tokio::test(flavor = "multi_thread")]
async fn an_invitation_counts_for_a_week_and_a_way_back_for_a_day() {
    let shared = shared().await;
    let anna = shared.anna().await;
    shared.invited(&anna, "Bert", "member").await;
    let invited = invite(&anna).await;
    let (back, made) = way_back(&anna, 1, json!({})).await;
    let (_, people) = anna.get("/api/people").await;
    let of = |way_back: bool| people["invitations"].as_array().unwrap().iter().find(|i| i["way_back"] == way_back).unwrap();
    let lasts = |i: &Value| {
        let time = |name: &str| chrono::DateTime::parse_from_rfc3339(i[name].as_str().unwrap()).unwrap();
        (time("ends_at") - time("made_at")).num_hours()
    };
    assert_eq!((lasts(of(false)), lasts(of(true)), &of(true)["ends_at"]), (7 * 24, 24, &made["ends_at"]));
    shared.changed(&format!("UPDATE invitations SET ends_at = {LONG_AGO}"));
    let other = shared.browser();
    for token in [&invited, &back] {
        assert_eq!((invitation(&other, token).await, join(&other, token, "Carla", PASSPHRASE).await.0), (404, 404));
    }
    assert_eq!(anna.get("/api/people").await.1["invitations"], json!([]), "none is open any more");
    assert_eq!(shared.browser().signs_in("bert", PASSPHRASE).await.0, 200, "nothing of his has changed");
}

#[tokio::test(flavor = "multi_thread")]
async fn one_way_back_is_open_at_a_time_and_none_when_it_is_not_needed() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let ((first, _), (second, _)) = (way_back(&anna, 1, json!({})).await, way_back(&anna, 1, json!({})).await);
    let other = shared.browser();
    assert_eq!((invitation(&other, &first).await, invitation(&other, &second).await), (404, 200), "the newer one counts");
    // He remembers, and chooses another passphrase himself.
    let change = json!({ "now": PASSPHRASE, "new": "seven quiet harbours at dusk" });
    assert_eq!(bert.does("PUT /api/account/passphrase", "/api/account/passphrase", change).await.0, 204);
    assert_eq!(invitation(&other, &second).await, 404, "whoever has the link is too late");
    // Another passphrase is held to the same rules as the first.
    for (now, new, said) in [
        ("not his at all", "ninety grey herons in May", "not your passphrase"),
        ("seven quiet harbours at dusk", "password1234", "tried first"),
        ("seven quiet harbours at dusk", "short", "fewer than 12"),
    ] {
        let change = json!({ "now": now, "new": new });
        let (status, refused) = bert.does("PUT /api/account/passphrase", "/api/account/passphrase", change).await;
        assert!(status == 422 && refused["title"].as_str().unwrap().contains(said), "{refused}");
    }
}

/// Whoever comes back by a link is asked like a stranger everywhere: no browser that was known before is known any more.
#[tokio::test(flavor = "multi_thread")]
async fn after_a_way_back_no_browser_is_known() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let device = bert.cookie("artemon-device").unwrap();
    assert_eq!(bert.does("DELETE /api/session", "/api/session", Value::Null).await.0, 204);
    assert_eq!(bert.signs_in("bert", PASSPHRASE).await.0, 200);
    assert_eq!(bert.cookie("artemon-device").as_ref(), Some(&device), "a browser that is known stays the same one");
    let (back, _) = way_back(&anna, 1, json!({})).await;
    let other = "seven quiet harbours at dusk";
    assert_eq!(join(&shared.browser(), &back, "", other).await.0, 200);
    assert_eq!(bert.signs_in("bert", other).await.0, 200);
    assert_ne!(bert.cookie("artemon-device").unwrap(), device);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_token_counts_as_long_as_was_said_and_there_are_few() {
    let shared = shared().await;
    let anna = shared.anna().await;
    for (days, said) in [(0, "from 1 to 366 days"), (367, "from 1 to 366 days"), (-1, "from 1 to 366 days")] {
        let (status, refused) = token(&anna, "script", days).await;
        assert!(status == 422 && refused["title"].as_str().unwrap().contains(said), "{days}: {refused}");
    }
    let (_, made) = token(&anna, "script", 1).await;
    assert_eq!((&made["entry"]["ended"], &made["entry"]["used_at"]), (&json!(false), &Value::Null), "{made}");
    assert_eq!(script(&shared, &made["token"]).await, 200);
    let listed = async || anna.does("GET /api/tokens", "/api/tokens", Value::Null).await.1[0].clone();
    assert!(listed().await["used_at"].is_string(), "that it was used is shown");
    shared.changed(&format!("UPDATE access_tokens SET ends_at = {LONG_AGO}"));
    assert_eq!((script(&shared, &made["token"]).await, &listed().await["ended"]), (401, &json!(true)));
    for n in 1..50 {
        assert_eq!(token(&anna, &format!("script {n}"), 1).await.0, 200);
    }
    let (status, refused) = token(&anna, "one more", 1).await;
    assert!(status == 422 && refused["title"].as_str().unwrap().starts_with("You have 50 tokens"), "{refused}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_private_address_ends() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let (status, made) = anna.does("POST /api/addresses", "/api/addresses", json!({ "purpose": "calendar" })).await;
    assert_eq!(status, 200, "{made}");
    let path = made["address"].as_str().unwrap().split_once("/feeds").unwrap().1;
    let read = async || shared.browser().send("GET", &format!("/feeds{path}"), "", "").await.0;
    assert_eq!(read().await, 200);
    shared.changed(&format!("UPDATE addresses SET ends_at = {LONG_AGO}"));
    assert_eq!(read().await, 404);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_goes_on_while_somebody_is_there() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let elsewhere = shared.browser();
    assert_eq!(elsewhere.signs_in("anna", PASSPHRASE).await.0, 200);
    let sessions = async |of: &Browser| of.get("/api/account").await.1["sessions"].clone();
    assert_eq!(sessions(&anna).await.as_array().unwrap().iter().filter(|s| s["this"] == true).count(), 1);
    let ago = |minutes: u32| format!("UPDATE sessions SET seen_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-{minutes} minutes')");
    shared.changed(&ago(119));
    assert_eq!(anna.get("/api/about").await.0, 200);
    // She has been seen now; the other browser not for another minute.
    shared.changed(&format!("{} WHERE seen_at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-5 minutes')", ago(121)));
    assert_eq!((anna.get("/api/about").await.0, elsewhere.get("/api/about").await.0), (200, 401));
    assert_eq!(sessions(&anna).await.as_array().unwrap().len(), 1, "what has ended is not listed");
    shared.changed("UPDATE sessions SET made_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-25 hours')");
    assert_eq!(anna.get("/api/about").await.0, 401, "after a day in any case");
}

/// Turns the second factor on; gives its secret and the recovery codes.
pub(super) async fn second_factor(of: &Browser) -> (String, Value) {
    let (_, begun) = of.does("POST /api/account/second-factor/begin", "/api/account/second-factor/begin", Value::Null).await;
    let secret = begun["secret"].as_str().unwrap().to_owned();
    let on = json!({ "secret": secret, "code": code(&secret, 0) });
    let (status, told) = of.does("PUT /api/account/second-factor", "/api/account/second-factor", on).await;
    assert_eq!(status, 200, "{told}");
    (secret, told["codes"].clone())
}

#[tokio::test(flavor = "multi_thread")]
async fn new_recovery_codes_take_the_place_of_the_old_ones() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let anew = async || anna.does("POST /api/account/recovery-codes", "/api/account/recovery-codes", Value::Null).await;
    let (status, refused) = anew().await;
    assert!(status == 422 && refused["title"] == "Turn the second factor on first.", "{refused}");
    let (_, old) = second_factor(&anna).await;
    let (status, new) = anew().await;
    assert!(status == 200 && new["codes"].as_array().unwrap().len() == 10, "{new}");
    let with = async |code: &Value| {
        let body = json!({ "name": "anna", "passphrase": PASSPHRASE, "code": code });
        shared.browser().ask("POST", "/api/session", body).await.0
    };
    assert_eq!((with(&old[0]).await, with(&new["codes"][0]).await), (401, 200));
    assert_eq!(anna.get("/api/account").await.1["recovery_codes"], 9);
}

#[tokio::test(flavor = "multi_thread")]
async fn codes_are_few_also_with_the_right_passphrase() {
    let shared = shared().await;
    let anna = shared.anna().await;
    second_factor(&anna).await;
    let thief = shared.browser();
    let guess = async |n: u32| {
        let body = json!({ "name": "anna", "passphrase": PASSPHRASE, "code": format!("{n:06}") });
        thief.ask("POST", "/api/session", body).await.0
    };
    let mut tried = 0;
    while guess(tried).await == 401 {
        tried += 1;
        assert!(tried <= 5, "five codes from one place, then one in half a minute");
    }
    assert_eq!(guess(0).await, 429);
}

/// A browser that is known of one person is a stranger's for all other names.
#[tokio::test(flavor = "multi_thread")]
async fn ones_own_browser_is_no_way_to_try_other_names() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let mut tried = 0;
    while bert.signs_in(&format!("somebody {tried}"), PASSPHRASE).await.0 == 401 {
        tried += 1;
        assert!(tried <= 30, "thirty from one address, whatever the name");
    }
}

/// Links are tried as seldom as passphrases.
#[tokio::test(flavor = "multi_thread")]
async fn invitations_cannot_be_guessed_at() {
    let shared = shared().await;
    shared.anna().await;
    let stranger = shared.browser();
    for joining in [false, true] {
        let mut tried = 0;
        loop {
            let token = format!("{tried:064x}");
            let status = if joining { join(&stranger, &token, "x", PASSPHRASE).await.0 } else { invitation(&stranger, &token).await };
            if status == 429 {
                break;
            }
            tried += 1;
            assert!(status == 404 && tried <= 30, "{status}");
        }
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_hundred_invitations_are_open_at_most() {
    let shared = shared().await;
    let anna = shared.anna().await;
    for _ in 0..100 {
        invite(&anna).await;
    }
    let (status, refused) = anna.does("POST /api/people/invitations", "/api/people/invitations", json!({ "role": "member" })).await;
    assert!(status == 422 && refused["title"].as_str().unwrap().starts_with("100 invitations are open"), "{refused}");
}

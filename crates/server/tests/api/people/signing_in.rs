//! Signing in as people do it: invitations, passphrases, the second factor, what cannot be undone.

use super::{PASSPHRASE, shared, with_options};
use artemon_app::Options;
use serde_json::{Value, json};
use std::time::{SystemTime, UNIX_EPOCH};

#[tokio::test(flavor = "multi_thread")]
async fn an_invitation_is_taken_up_once() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let (status, made) =
        anna.does("POST /api/people/invitations", "/api/people/invitations", json!({ "role": "member", "note": "for Bert" })).await;
    assert_eq!(status, 200, "{made}");
    let link = made["link"].as_str().unwrap();
    assert!(link.starts_with(&format!("http://127.0.0.1:{}/join#", shared.port)), "{link}");
    let token = link.rsplit('#').next().unwrap();
    let bert = shared.browser();
    let (status, told) = bert.does("POST /api/invitation", "/api/invitation", json!({ "token": token })).await;
    assert!(status == 200 && told["note"] == "for Bert" && told["role"] == "member", "{told}");
    let join = async |name: &str, passphrase: &str| {
        bert.does("POST /api/join", "/api/join", json!({ "token": token, "name": name, "passphrase": passphrase })).await
    };
    for (name, passphrase, said) in [
        ("", PASSPHRASE, "between 1 and 40 characters"),
        ("ANNA", PASSPHRASE, "somebody else has it"),
        ("../anna", PASSPHRASE, "lead elsewhere"),
        ("Bert", "too short", "fewer than 12"),
        ("Bert", "password1234", "tried first"),
        ("Bert Lindqvist", "bert lindqvist", "guess"),
    ] {
        let (status, refused) = join(name, passphrase).await;
        let title = refused["title"].as_str().unwrap();
        assert!(status == 422 && (title.contains(said) || said == "guess"), "{name}, {passphrase}: {status} {title}");
    }
    let (status, joined) = join("Bert", PASSPHRASE).await;
    assert!(status == 200 && joined["role"] == "member", "{joined}");
    assert_eq!(bert.get("/api/account").await.1["name"], "Bert");
    let again = shared.browser();
    let (status, _) = again.does("POST /api/join", "/api/join", json!({ "token": token, "name": "Carla", "passphrase": PASSPHRASE })).await;
    assert_eq!(status, 404, "it was used");
    // One that was withdrawn leads nowhere either.
    let (_, made) = anna.does("POST /api/people/invitations", "/api/people/invitations", json!({ "role": "owner" })).await;
    let (_, people) = anna.does("GET /api/people", "/api/people", Value::Null).await;
    let path = format!("/api/people/invitations/{}", people["invitations"][0]["id"].as_str().unwrap());
    assert_eq!(anna.does("DELETE /api/people/invitations/{id}", &path, Value::Null).await.0, 204);
    let token = json!({ "token": made["link"].as_str().unwrap().rsplit('#').next() });
    assert_eq!(again.does("POST /api/invitation", "/api/invitation", token).await.0, 404);
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_has_lost_the_passphrase_comes_back_with_all_that_is_theirs() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let screen = json!({ "kind": "screen", "name": "His", "body": { "blocks": [] } });
    assert_eq!(bert.does("POST /api/documents", "/api/documents", screen).await.0, 201);
    let (_, people) = anna.get("/api/people").await;
    let path = format!("/api/people/{}/way-back", people["persons"][1]["id"].as_str().unwrap());
    let (status, made) = anna.does("POST /api/people/{id}/way-back", &path, json!({})).await;
    assert_eq!(status, 200, "{made}");
    let token = made["link"].as_str().unwrap().rsplit('#').next().unwrap();
    let back = shared.browser();
    let (_, told) = back.does("POST /api/invitation", "/api/invitation", json!({ "token": token })).await;
    assert!(told["way_back"] == true && told["note"] == "Bert", "{told}");
    let other = "seven quiet harbours at dusk";
    let join = json!({ "token": token, "name": "", "passphrase": other });
    assert_eq!(back.does("POST /api/join", "/api/join", join).await.0, 200);
    assert_eq!(back.get("/api/documents?kind=screen").await.1[0]["name"], "His");
    assert_eq!(bert.get("/api/about").await.0, 401, "whoever was signed in is not any more");
    assert_eq!(shared.browser().signs_in("bert", PASSPHRASE).await.0, 401);
    let (_, log) = back.does("GET /api/account/log", "/api/account/log", Value::Null).await;
    assert!(log.to_string().contains("came back"), "{log}");
}

/// The code that an authenticator shows, after RFC 6238 with HMAC-SHA-1, worked out by a program of its own.
pub(super) fn code(secret: &str, ahead: u64) -> String {
    let now = SystemTime::now().duration_since(UNIX_EPOCH).unwrap().as_secs() + 30 * ahead;
    let program = "import base64,hashlib,hmac,struct,sys\n\
                   k=base64.b32decode(sys.argv[1]);d=hmac.new(k,struct.pack('>Q',int(sys.argv[2])//30),hashlib.sha1).digest()\n\
                   o=d[-1]&15;print('%06d'%((struct.unpack('>I',d[o:o+4])[0]&0x7fffffff)%1000000))";
    let ran = std::process::Command::new("python3").args(["-c", program, secret, &now.to_string()]).output().unwrap();
    String::from_utf8(ran.stdout).unwrap().trim().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_factor_is_asked_for_and_each_code_counts_once() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let begin = "POST /api/account/second-factor/begin";
    let (status, begun) = anna.does(begin, "/api/account/second-factor/begin", Value::Null).await;
    assert!(status == 200 && begun["address"].as_str().unwrap().starts_with("otpauth://totp/Artemon:Anna?"), "{begun}");
    let secret = begun["secret"].as_str().unwrap();
    let turn_on = async |code: &str| {
        let on = json!({ "secret": secret, "code": code });
        anna.does("PUT /api/account/second-factor", "/api/account/second-factor", on).await
    };
    let (status, said) = turn_on("000000").await;
    assert!(status == 422 && said["title"].as_str().unwrap().contains("not the code"), "{said}");
    let first = code(secret, 0);
    let (status, told) = turn_on(&first).await;
    assert_eq!(status, 200, "{told}");
    let codes: Vec<&str> = told["codes"].as_array().unwrap().iter().map(|c| c.as_str().unwrap()).collect();
    let sign_in = async |code: &str| {
        let browser = shared.browser();
        let (status, _, said) =
            browser.ask("POST", "/api/session", json!({ "name": "anna", "passphrase": PASSPHRASE, "code": code })).await;
        (status, said["type"].as_str().unwrap_or_default().replace("artemon:", ""))
    };
    assert_eq!(sign_in("").await, (401, "code-needed".to_owned()));
    assert_eq!(sign_in(&first).await, (401, "wrong-credentials".to_owned()), "it was used to turn it on");
    let next = code(secret, 1);
    assert_eq!(sign_in(&format!(" {} {} ", &next[..3], &next[3..])).await.0, 200);
    assert_eq!(sign_in(&next).await, (401, "wrong-credentials".to_owned()), "once");
    assert_eq!(sign_in(&codes[0].to_lowercase()).await.0, 200);
    assert_eq!(sign_in(codes[0]).await, (401, "wrong-credentials".to_owned()), "once, too");
    let (_, account) = anna.does("GET /api/account", "/api/account", Value::Null).await;
    assert!(account["second_factor"] == true && account["recovery_codes"] == 9, "{account}");
    // With the wrong passphrase nobody learns that there is a second factor.
    let (status, said) = shared.browser().signs_in("anna", "not hers at all, or is it").await;
    assert!(status == 401 && said["type"] == "artemon:wrong-credentials", "{said}");
    assert_eq!(anna.does("DELETE /api/account/second-factor", "/api/account/second-factor", Value::Null).await.0, 204);
    assert_eq!(sign_in("").await.0, 200, "none is asked for any more");
}

#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_undone_asks_for_the_passphrase_again() {
    let shared = shared().await;
    let anna = shared.anna().await;
    // As if she had signed in eleven minutes ago.
    shared.changed("UPDATE sessions SET confirmed_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-11 minutes')");
    for (operation, body) in [
        ("POST /api/tokens", json!({ "name": "script", "scopes": ["read"], "days": 1 })),
        ("POST /api/people/invitations", json!({ "role": "owner" })),
        ("POST /api/people/{id}/way-back", json!({})),
        ("DELETE /api/people/{id}/sessions", Value::Null),
        ("DELETE /api/account/sessions", Value::Null),
        ("DELETE /api/account/sessions/{id}", Value::Null),
        ("PUT /api/people/{id}/role", json!({ "role": "owner" })),
        ("DELETE /api/people/{id}", json!({})),
        ("DELETE /api/account", json!({})),
        ("POST /api/account/second-factor/begin", Value::Null),
        ("DELETE /api/account/second-factor", Value::Null),
        ("POST /api/account/recovery-codes", Value::Null),
        ("POST /api/copies/{name}/restore", Value::Null),
    ] {
        let (status, said) = anna.does(operation, &super::some_path(operation), body).await;
        assert!(status == 403 && said["type"] == "artemon:confirm-first", "{operation}: {status} {said}");
    }
    let confirm =
        async |passphrase: &str| anna.does("POST /api/session/confirm", "/api/session/confirm", json!({ "passphrase": passphrase })).await;
    let (status, said) = confirm("not hers at all").await;
    assert!(status == 422 && said["title"] == "This is not your passphrase.", "{said}");
    assert_eq!(confirm(PASSPHRASE).await.0, 204);
    let new = json!({ "name": "script", "scopes": ["read"], "days": 1 });
    assert_eq!(anna.does("POST /api/tokens", "/api/tokens", new).await.0, 200);
    let tries = async || {
        let mut refused = 0;
        while confirm("not hers at all").await.0 == 422 {
            refused += 1;
        }
        refused
    };
    assert!(tries().await <= 5, "guesses of somebody at her browser are few");
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_guesses_keeps_only_themselves_out() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let attacker = shared.browser();
    let mut tried = 0;
    let said = loop {
        let (status, said) = attacker.signs_in("anna", &format!("guess number {tried} of many")).await;
        if status == 429 {
            break said;
        }
        assert_eq!(status, 401);
        tried += 1;
    };
    assert!(tried <= 10 && said["wait"].as_u64().is_some_and(|wait| wait <= 20), "{tried} {said}");
    let (_, head, _) = attacker.ask("POST", "/api/session", json!({ "name": "anna", "passphrase": PASSPHRASE })).await;
    assert!(head.to_lowercase().contains("retry-after: "), "{head}");
    // Also with what is right, from where it was tried too often.
    assert_eq!(attacker.signs_in("anna", PASSPHRASE).await.0, 429);
    // Her own browser is known, though it comes from the same address.
    assert_eq!(anna.does("DELETE /api/session", "/api/session", Value::Null).await.0, 204);
    assert_eq!(anna.signs_in("anna", PASSPHRASE).await.0, 200);
    let (_, log) = anna.get("/api/account/log").await;
    assert!(log.to_string().contains("a sign-in was refused: passphrase"), "she sees that somebody tried: {log}");
    // The address is slowed down whatever name is tried.
    let mut n = 0;
    while attacker.signs_in(&format!("nobody {n}"), PASSPHRASE).await.0 == 401 {
        n += 1;
    }
    assert!(n <= 30, "{n}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_factor_can_be_asked_of_everybody() {
    let shared = with_options(|options| Options { second_factor: true, ..options }).await;
    let anna = shared.anna().await;
    let (_, there) = anna.does("GET /api/session", "/api/session", Value::Null).await;
    assert_eq!(there["who"]["second_factor_first"], true, "{there}");
    for operation in ["GET /api/about", "POST /api/documents", "GET /api/people", "POST /api/copies"] {
        let (status, said) = anna.does(operation, &super::some_path(operation), json!({})).await;
        assert!(status == 403 && said["type"] == "artemon:second-factor-first", "{operation}: {status} {said}");
    }
    // A token from before, or made meanwhile, is no way around it.
    let new = json!({ "name": "script", "scopes": ["read"], "days": 1 });
    let (_, made) = anna.does("POST /api/tokens", "/api/tokens", new).await;
    let bearer = format!("Authorization: Bearer {}\r\n", made["token"].as_str().unwrap());
    assert_eq!(shared.browser().send("GET", "/api/about", &bearer, "").await.0, 403);
    let (_, begun) = anna.does("POST /api/account/second-factor/begin", "/api/account/second-factor/begin", Value::Null).await;
    let secret = begun["secret"].as_str().unwrap();
    let on = json!({ "secret": secret, "code": code(secret, 0) });
    assert_eq!(anna.does("PUT /api/account/second-factor", "/api/account/second-factor", on).await.0, 200);
    assert_eq!(anna.get("/api/about").await.0, 200);
    let (status, said) = anna.does("DELETE /api/account/second-factor", "/api/account/second-factor", Value::Null).await;
    assert!(status == 204 && anna.get("/api/about").await.0 == 403, "{said}");
}

/// Whoever has a second factor and gets another passphrase still needs it, unless that is lost, too.
#[tokio::test(flavor = "multi_thread")]
async fn a_way_back_does_not_lead_around_the_second_factor() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let (_, begun) = bert.does("POST /api/account/second-factor/begin", "/api/account/second-factor/begin", Value::Null).await;
    let secret = begun["secret"].as_str().unwrap();
    let on = json!({ "secret": secret, "code": code(secret, 0) });
    assert_eq!(bert.does("PUT /api/account/second-factor", "/api/account/second-factor", on).await.0, 200);
    let (_, people) = anna.get("/api/people").await;
    let path = format!("/api/people/{}/way-back", people["persons"][1]["id"].as_str().unwrap());
    for (lost, other, signed_in) in [(false, "seven quiet harbours at dusk", false), (true, "ninety grey herons in May", true)] {
        let (_, made) = anna.does("POST /api/people/{id}/way-back", &path, json!({ "second_factor_lost": lost })).await;
        let token = made["link"].as_str().unwrap().rsplit('#').next().unwrap();
        let back = shared.browser();
        let join = json!({ "token": token, "name": "", "passphrase": other });
        let (status, said) = back.does("POST /api/join", "/api/join", join).await;
        assert_eq!((status == 200, back.get("/api/about").await.0 == 200), (signed_in, signed_in), "{status} {said}");
        let (status, said) = back.signs_in("bert", other).await;
        assert!(signed_in == (status == 200) && (signed_in || said["type"] == "artemon:code-needed"), "{status} {said}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn an_owner_can_sign_somebody_out() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let (_, people) = anna.get("/api/people").await;
    let path = format!("/api/people/{}/sessions", people["persons"][1]["id"].as_str().unwrap());
    assert_eq!(anna.does("DELETE /api/people/{id}/sessions", &path, Value::Null).await.0, 204);
    assert_eq!((bert.get("/api/about").await.0, anna.get("/api/about").await.0), (401, 200));
    assert_eq!(bert.signs_in("bert", PASSPHRASE).await.0, 200, "he may come back");
}

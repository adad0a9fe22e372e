//! Somebody leaves: what is theirs goes with them, or to somebody else; and everything of one's own can be taken along.

use super::{Browser, shared};
use serde_json::{Value, json};
use std::io::{Cursor, Read};
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::TcpStream,
};

async fn works(browser: &Browser, screen: &str) {
    let file = json!({ "kind": "screen", "name": screen, "body": { "blocks": [] } });
    assert_eq!(browser.does("POST /api/documents", "/api/documents", file).await.0, 201);
    let note = format!("{{\"text\":\"{screen} says so.\"}}");
    assert_eq!(browser.send("PUT", "/api/companies/DRUA/note", "If-Match: \"0\"\r\n", &note).await.0, 200);
    let account = json!({ "name": "Hand", "currency": "XFA", "kind": "by_hand" });
    let (status, made) = browser.does("POST /api/ledger/accounts", "/api/ledger/accounts", account).await;
    assert!((200..300).contains(&status), "{made}");
    let path = format!("/api/ledger/accounts/{}/entries", made["id"].as_str().unwrap());
    let deposit = json!({ "do": "deposit", "amount": 1000 });
    let (status, said) = browser.does("POST /api/ledger/accounts/{id}/entries", &path, deposit).await;
    assert!((200..300).contains(&status), "{said}");
    let decision = json!({ "symbol": "DRUA", "choice": "not_now", "reasons": { "thesis": "not yet", "confidence": 0.7 } });
    let (status, said) = browser.does("POST /api/decisions/new", "/api/decisions/new", decision).await;
    assert!((200..300).contains(&status), "{said}");
}

/// Everything that a browser's person takes along.
async fn everything(of: &Browser) -> zip::ZipArchive<Cursor<Vec<u8>>> {
    let mut stream = TcpStream::connect(("127.0.0.1", of.port)).await.unwrap();
    let asked = format!("GET /api/account/everything HTTP/1.0\r\nHost: {}\r\n{}\r\n", of.host, of.cookies());
    stream.write_all(asked.as_bytes()).await.unwrap();
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).await.unwrap();
    let start = answer.windows(4).position(|w| w == b"PK\x03\x04").expect("a zip");
    zip::ZipArchive::new(Cursor::new(answer.split_off(start))).unwrap()
}

fn names(zip: &mut zip::ZipArchive<Cursor<Vec<u8>>>) -> Vec<String> {
    (0..zip.len()).map(|i| zip.by_index(i).unwrap().name().unwrap().into_owned()).collect()
}

async fn ids(anna: &Browser) -> Vec<String> {
    let (_, people) = anna.get("/api/people").await;
    people["persons"].as_array().unwrap().iter().map(|p| p["id"].as_str().unwrap().to_owned()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn what_others_can_work_with_is_handed_over_and_the_rest_is_gone() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let carla = shared.invited(&anna, "Carla", "member").await;
    works(&anna, "Quiet").await;
    works(&bert, "Quiet").await;
    works(&carla, "Loud").await;
    let ids = ids(&anna).await;
    let remove = async |id: &str, to: Option<&str>| {
        anna.does("DELETE /api/people/{id}", &format!("/api/people/{id}"), json!({ "hand_over_to": to })).await
    };
    assert_eq!(remove("nobody", None).await.0, 404);
    assert_eq!(remove(&ids[1], Some("nobody")).await.0, 404);
    assert_eq!(remove(&ids[1], Some(&ids[1])).await.0, 404, "not to oneself");
    let (status, said) = remove(&ids[0], None).await;
    assert!(status == 422 && said["title"].as_str().unwrap().contains("another person an owner"), "{said}");
    assert_eq!(anna.get("/api/documents?kind=screen").await.1.as_array().unwrap().len(), 1, "nothing was changed");
    assert_eq!(remove(&ids[1], Some(&ids[0])).await.0, 200);
    assert_eq!(remove(&ids[2], Some(&ids[0])).await.0, 200);
    for gone in [&bert, &carla] {
        assert_eq!(gone.get("/api/about").await.0, 401);
    }
    let names = async |path: &str| {
        let (_, all) = anna.get(path).await;
        all.as_array().unwrap().iter().map(|d| d["name"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
    };
    assert_eq!(names("/api/documents?kind=screen").await, ["Loud", "Quiet"]);
    assert_eq!(names("/api/documents?kind=screen&deleted=true").await, ["Quiet"], "his of the same name waits");
    assert!(anna.get("/api/companies/DRUA/note").await.1.to_string().contains("Quiet says so."), "hers stays hers");
    let (_, log) = anna.get("/api/people/log").await;
    assert!(log.to_string().contains("Carla; what others can work with went to Anna"), "{log}");
    let left = shared.home.folder().join("people.sqlite");
    let program = "import sqlite3,sys\nc=sqlite3.connect(sys.argv[1])\n\
                   tables=[r[0] for r in c.execute(\"SELECT name FROM sqlite_master WHERE type='table'\")]\n\
                   for t in tables:\n cols=[r[1] for r in c.execute(f'PRAGMA table_info({t})')]\n\
                   \x20if 'person_id' in cols and t!='audit':\n  n=c.execute(f'SELECT count(*) FROM {t} WHERE person_id=?',(sys.argv[2],)).fetchone()[0]\n\
                   \x20 if n: print(t,n)\n";
    let ran = std::process::Command::new("python3").args(["-c", program]).arg(left).arg(&ids[1]).output().unwrap();
    assert_eq!(String::from_utf8_lossy(&ran.stdout), "", "{}", String::from_utf8_lossy(&ran.stderr));
}

/// The only owner who leaves after another was made one; the person of the machine stays, with nothing.
#[tokio::test(flavor = "multi_thread")]
async fn the_first_owner_can_leave() {
    let shared = shared().await;
    let anna = shared.anna().await;
    works(&anna, "Quiet").await;
    let bert = shared.invited(&anna, "Bert", "owner").await;
    let (status, said) = anna.does("DELETE /api/account", "/api/account", json!({})).await;
    assert!(status == 200 && said["name"] == "Anna", "{said}");
    assert_eq!(anna.get("/api/about").await.0, 401);
    assert_eq!(ids(&bert).await.len(), 1);
    assert_eq!(bert.get("/api/documents?kind=screen").await.1, json!([]));
}

#[tokio::test(flavor = "multi_thread")]
async fn everything_can_be_taken_along() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    works(&anna, "Quiet").await;
    works(&bert, "Secret of Bert").await;
    let mut zip = everything(&anna).await;
    let names = names(&mut zip);
    for name in ["README.txt", "documents/screen/Quiet.json", "ledger/journal.csv", "ledger/ledger.xlsx", "rows/decisions.jsonl"] {
        assert!(names.iter().any(|n| n == name), "{name}: {names:?}");
    }
    let mut all = String::new();
    for name in names.iter().filter(|name| !name.ends_with(".xlsx")) {
        zip.by_name(name).unwrap().read_to_string(&mut all).unwrap();
    }
    assert!(all.contains("Quiet says so.") && all.contains("not yet"), "what is hers is there");
    assert!(!all.contains("Secret of Bert") && !all.contains("$argon2id$"), "and nothing else");
    // A document in it is one that can be brought back.
    let mut screen = String::new();
    zip.by_name("documents/screen/Quiet.json").unwrap().read_to_string(&mut screen).unwrap();
    let file: Value = serde_json::from_str(&screen).unwrap();
    assert_eq!(bert.does("POST /api/documents", "/api/documents", file).await.0, 201);
}

/// Names are those of one's documents as far as a file can have them, each once, and none leads out of the folder.
#[tokio::test(flavor = "multi_thread")]
async fn files_of_everything_have_names_of_their_own() {
    let shared = shared().await;
    let anna = shared.anna().await;
    for name in ["Growth: cheap", "Growth_ cheap", "GROWTH_ CHEAP", "50 % <below>", "...", "Größe"] {
        let file = json!({ "kind": "screen", "name": name, "body": { "blocks": [] } });
        assert_eq!(anna.does("POST /api/documents", "/api/documents", file).await.0, 201, "{name}");
    }
    let mut zip = everything(&anna).await;
    let mut all = names(&mut zip);
    assert!(all.iter().all(|name| !name.contains("..") && !name.starts_with('/') && !name.contains([':', '<', '\\'])), "{all:?}");
    let whole = all.len();
    all.iter_mut().for_each(|name| *name = name.to_lowercase());
    all.sort();
    all.dedup();
    assert_eq!(all.len(), whole, "also where case does not count");
    let screens: Vec<&String> = all.iter().filter(|name| name.starts_with("documents/screen/")).collect();
    assert!(screens.len() == 6 && screens.iter().any(|name| name.ends_with("/größe.json")), "{screens:?}");
    assert!(!all.iter().any(|name| name.starts_with("ledger/")), "there is none where there is no account");
}

/// Whoever takes over sees it at once, and shares nothing thereby; a backtest of whoever has left is given up.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_handed_over_is_there_at_once_and_shared_by_nobody() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let carla = shared.invited(&anna, "Carla", "member").await;
    let list = json!({ "kind": "list", "name": "Watch", "body": {} });
    let (_, list) = bert.does("POST /api/documents", "/api/documents", list).await;
    let asked = json!({ "kind": "document", "id": list["id"] });
    let (_, made) = bert.does("POST /api/shared", "/api/shared", asked).await;
    let link = format!("/api/shared/{}", made["token"].as_str().unwrap());
    assert_eq!(carla.get(&link).await.0, 200);
    assert_eq!(anna.get("/api/lists").await.1, json!([]), "she has none, and that is remembered");
    let ids = ids(&anna).await;
    let path = format!("/api/people/{}", ids[1]);
    assert_eq!(anna.does("DELETE /api/people/{id}", &path, json!({ "hand_over_to": ids[0] })).await.0, 200);
    assert_eq!(anna.get("/api/lists").await.1[0]["name"], "Watch");
    assert_eq!((carla.get(&link).await.0, anna.get("/api/shared").await.1), (404, json!([])));
}

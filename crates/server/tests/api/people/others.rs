//! What is another's: somebody who knows the id of everything that Anna has asks for all of it, in every way that there is.

use super::{Browser, shared};
use crate::routes::{Asked, Asking, Made, rows, send, wait_for};
use serde_json::{Value, json};
use std::time::Duration;
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::TcpStream,
};

fn with(browser: &Browser) -> String {
    format!("Origin: {}\r\n{}", browser.origin, browser.cookies())
}

/// Rows whose address names something by the id that it got when it was made.
fn names_something(path: &str) -> bool {
    path.contains("/{")
}

/// Anna does all that there is to do, and after each step somebody else does the same with what is hers: an owner like her, who may do
/// whatever an owner may. No answer says where on the machine anything lies.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_one_persons_is_nobody_elses() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "owner").await;
    let folder = shared.data.path().display().to_string();
    let (hers, his) = (with(&anna), with(&bert));
    let (hers, his) = (Asking(shared.port, &hers), Asking(shared.port, &his));
    let (mut made, mut tried) = (Made::default(), 0);
    let kept = |operation: &str| !operation.contains("/api/copies/{name}");
    for (operation, path, body, refused) in rows().into_iter().filter(|row| kept(row.0)) {
        let asked = Asked(path.to_owned(), body);
        if names_something(path) {
            let (status, _, said) = send(&his, operation, &asked, &made).await;
            assert!([404, 422].contains(&status), "{operation}, hers: {status} {said}");
            assert!(!said.to_string().contains(&folder), "{operation}: {said}");
            tried += 1;
        }
        if !path.is_empty() {
            let (status, _, answer) = send(&hers, operation, &asked, &made).await;
            assert!((200..300).contains(&status), "{operation}: {status} {answer}");
            assert!(!answer.to_string().contains(&folder), "{operation} says where the data is: {answer}");
            made.note(operation, &answer);
            if operation == "POST /api/backtests" {
                wait_for(&hers, &made).await;
            }
        }
        if let Some((path, body)) = refused {
            let (_, _, said) = send(&hers, operation, &Asked(path.to_owned(), body), &made).await;
            assert!(!said.to_string().contains(&folder), "{operation} says where the data is: {said}");
        }
    }
    assert!(tried >= 20, "{tried} were tried");
    // What is listed is each one's own.
    for (operation, path, body) in [
        ("GET /api/documents", "/api/documents?kind=list", Value::Null),
        ("GET /api/lists", "/api/lists", Value::Null),
        ("GET /api/own-measures", "/api/own-measures", Value::Null),
        ("GET /api/jobs", "/api/jobs", Value::Null),
        ("GET /api/ledger/statements", "/api/ledger/statements", Value::Null),
    ] {
        let (status, _, his_own) = send(&his, operation, &Asked(path.to_owned(), body.clone()), &made).await;
        assert!(status == 200 && his_own.as_array().is_some_and(Vec::is_empty), "{operation}: {his_own}");
    }
    let (_, his_own) = bert.get("/api/backtests").await;
    assert!(!his_own.to_string().contains(&made.backtest), "{his_own}");
}

/// What the stream of changes tells: until `ends`, or for so long.
async fn heard(browser: &Browser, long: Duration) -> (String, bool) {
    let mut stream = TcpStream::connect(("127.0.0.1", browser.port)).await.unwrap();
    let request = format!("GET /api/events HTTP/1.1\r\nHost: {}\r\n{}\r\n", browser.host, with(browser));
    stream.write_all(request.as_bytes()).await.unwrap();
    let mut said = Vec::new();
    let ended = tokio::time::timeout(long, async {
        let mut piece = [0; 4096];
        loop {
            match stream.read(&mut piece).await {
                Ok(n) if n > 0 => said.extend_from_slice(&piece[..n]),
                _ => return,
            }
            if said.ends_with(b"0\r\n\r\n") {
                return;
            }
        }
    });
    let ended = ended.await.is_ok();
    (String::from_utf8_lossy(&said).into_owned(), ended)
}

#[tokio::test(flavor = "multi_thread")]
async fn the_stream_of_changes_tells_each_their_own_and_ends_with_the_session() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "owner").await;
    let brings = async {
        tokio::time::sleep(Duration::from_millis(300)).await;
        let file = "--x\r\nContent-Disposition: form-data; name=\"files\"; filename=\"day.csv\"\r\n\r\n\
                    Ticker;Datum;Close;Vol\r\nDRUA;1.7.2025;114,50;1000\r\n\r\n--x--\r\n";
        let form = "Content-Type: multipart/form-data; boundary=x\r\n";
        let (status, _, said) = anna.send("POST", "/api/uploads", form, file).await;
        assert_eq!(status, 200, "{said}");
        let upload: Value = serde_json::from_str(&said).unwrap();
        let start = json!({ "mappings": [{ "file": "day.csv", "mapping": upload["files"][0]["mapping"] }] });
        let path = format!("/api/uploads/{}/import", upload["id"].as_str().unwrap());
        assert_eq!(anna.ask("POST", &path, start).await.0, 200);
    };
    let long = Duration::from_secs(8);
    let ((), hers, his) = tokio::join!(brings, heard(&anna, long), heard(&bert, long));
    assert!(hers.0.contains("event: jobs") && hers.0.contains("day.csv"), "{}", hers.0);
    assert!(his.0.contains("event: jobs") && !his.0.contains("day.csv"), "{}", his.0);
    let leaves = async {
        tokio::time::sleep(Duration::from_millis(300)).await;
        assert_eq!(bert.ask("DELETE", "/api/session", Value::Null).await.0, 204);
    };
    let ((), (_, ended)) = tokio::join!(leaves, heard(&bert, Duration::from_secs(30)));
    assert!(ended, "it goes on after the session");
}

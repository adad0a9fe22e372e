//! A running server: other verbs read beside it, a second one is refused, and it ends when told to, whoever hangs on.

use crate::server::{Server, run, said};
use serde_json::Value;
use std::{
    net::TcpStream,
    time::{Duration, Instant},
};

/// As the README has it: the demo runs, and the terminal asks the same folder; what is saved in the browser counts there too.
#[test]
fn reading_verbs_work_beside_a_running_server() {
    let data = tempfile::tempdir().unwrap();
    let mut server = Server::start(data.path(), &["demo", "--companies", "30"]);
    for args in [
        &["rank"][..],
        &["screen", "net-current-assets"],
        &["evaluate", "--formula", "pe", "quality"],
        &["measures"],
        &["export", data.path().join("out").to_str().unwrap()],
    ] {
        let output = run(data.path(), args);
        assert!(output.status.success(), "{args:?}: {}", said(&output));
    }
    let second = run(data.path(), &["serve", "--listen", "127.0.0.1:0"]);
    assert!(!second.status.success() && said(&second).contains("is in use by another Artemon"), "{}", said(&second));
    let import = run(data.path(), &["import", data.path().join("out").to_str().unwrap()]);
    assert!(said(&import).contains("is in use by another Artemon"));
    assert_eq!(server.get("/api/about")["name"], "The Meridian Reach");
    assert!(server.stop() < Duration::from_secs(3));
}

/// Four downloads that nobody reads: others are answered at once, and the program ends all the same.
#[test]
fn it_ends_although_downloads_are_stalled() {
    let data = tempfile::tempdir().unwrap();
    let mut server = Server::start(data.path(), &["demo", "--companies", "150"]);
    let stalled: Vec<TcpStream> = (0..4).map(|_| server.send("GET", "/api/export?table=prices", &Value::Null)).collect();
    std::thread::sleep(Duration::from_millis(500));
    let started = Instant::now();
    server.get("/api/about");
    server.get("/api/companies?q=a");
    assert!(started.elapsed() < Duration::from_secs(2), "{:?}", started.elapsed());
    let ended = server.stop();
    assert!(ended < Duration::from_secs(8), "{ended:?}");
    drop(stalled);
}

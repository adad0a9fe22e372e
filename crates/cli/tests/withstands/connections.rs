//! Clients that say nothing, say it slowly, or are many.

use crate::server::Server;
use serde_json::Value;
use std::{
    io::{Read, Write},
    net::TcpStream,
    time::{Duration, Instant},
};

fn small(data: &std::path::Path) -> Server {
    Server::start(data, &["demo", "--companies", "30"])
}

/// With 128 descriptors and 300 connections that say nothing, whoever asks is answered at once, again and again.
#[test]
fn idle_connections_keep_nobody_out() {
    let data = tempfile::tempdir().unwrap();
    let server = Server::with_descriptors(data.path(), &["demo", "--companies", "30"], 128);
    let idle: Vec<TcpStream> = (0..300).map(|_| server.connect()).collect();
    for _ in 0..5 {
        let started = Instant::now();
        assert_eq!(server.answer("GET", "/api/about", &Value::Null).0, 200);
        assert!(started.elapsed() < Duration::from_secs(2), "{:?}", started.elapsed());
    }
    // What is being answered is not idle: the stream of events goes on.
    let mut events = server.send("GET", "/api/events", &Value::Null);
    let mut head = [0u8; 64];
    assert!(events.read(&mut head).unwrap() > 0);
    let more: Vec<TcpStream> = (0..200).map(|_| server.connect()).collect();
    assert_eq!(server.answer("GET", "/api/about", &Value::Null).0, 200);
    events.set_read_timeout(Some(Duration::from_millis(300))).unwrap();
    let mut piece = [0u8; 4096];
    loop {
        match events.read(&mut piece) {
            Ok(0) => panic!("the stream of events was ended"),
            Ok(_) => {}
            Err(_) => break,
        }
    }
    drop((idle, more));
}

/// Two thousand connections, each with a request half sent: it answers, and little memory is held for them.
#[test]
fn two_thousand_connections_cost_little() {
    let data = tempfile::tempdir().unwrap();
    let server = small(data.path());
    server.get("/api/about");
    let (before, _) = server.holds();
    rlimit::increase_nofile_limit(4_096).unwrap();
    let slow: Vec<TcpStream> = (0..2_000)
        .map(|_| {
            let mut stream = server.connect();
            write!(stream, "GET /api/about HTTP/1.1\r\nHost: {}\r\nX-Padding: {}", server.address, "x".repeat(2_000)).unwrap();
            stream
        })
        .collect();
    let started = Instant::now();
    assert_eq!(server.answer("GET", "/api/about", &Value::Null).0, 200);
    assert!(started.elapsed() < Duration::from_secs(2), "{:?}", started.elapsed());
    let (after, descriptors) = server.holds();
    assert!(descriptors > 1_500, "{descriptors} descriptors: the connections are there");
    assert!(after < before + (300 << 20), "{} MB more", (after - before) >> 20);
    drop(slow);
    for _ in 0..100 {
        if server.holds().1 < 200 {
            return;
        }
        std::thread::sleep(Duration::from_millis(50));
    }
    panic!("{} descriptors are still held", server.holds().1);
}

/// A hundred who ask for everything at once and go away: it is answering others the whole time and holds no more afterwards.
#[test]
fn abandoned_work_is_given_up() {
    let data = tempfile::tempdir().unwrap();
    let server = Server::start(data.path(), &["demo", "--companies", "400"]);
    let columns: Vec<String> = (1..=60).map(|k| format!("own_rank(pe + {k}, 10y)")).collect();
    let screen = serde_json::json!({ "list": { "screen": { "blocks": [], "columns": columns } }, "rows": 200 });
    let asked: Vec<TcpStream> = (0..100).map(|_| server.send("POST", "/api/screen/rows", &screen)).collect();
    std::thread::sleep(Duration::from_millis(200));
    drop(asked);
    let started = Instant::now();
    assert_eq!(server.answer("GET", "/api/companies?q=a", &Value::Null).0, 200);
    assert!(started.elapsed() < Duration::from_secs(5), "{:?}", started.elapsed());
}

//! A hundred people at once on one server, each signed in, each doing what one does of an evening: `make endure`.

use crate::{
    evening::{Page, Seen, ask, told},
    server::{Server, number},
};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const NAME: &str = "artemon.example";
const PASSPHRASE: &str = "lantern orbit gravel seventeen";
/// Between two requests of a person, in milliseconds.
const THINKING: u64 = 4_000;

/// What the nth person's browser sends with each request: from an address of its own, as the proxy says.
fn headers(n: u64, cookies: &str) -> String {
    format!("Origin: https://{NAME}\r\nX-Forwarded-For: 203.0.{}.{}\r\n{cookies}", n / 250, n % 250)
}

/// Somebody takes a link up; gives what is sent with each of their requests.
fn joins(server: &Server, n: u64, path: &str) -> String {
    let join = json!({ "token": path.rsplit('#').next(), "name": format!("Person {n}"), "passphrase": PASSPHRASE });
    let (status, head, said) = server.whole_answer("POST", "/api/join", &headers(n, ""), &join);
    assert_eq!(status, 200, "{said}");
    let given = head.lines().filter_map(|header| header.strip_prefix("set-cookie: ")?.split(';').next());
    headers(n, &format!("Cookie: {}\r\n", given.collect::<Vec<_>>().join("; ")))
}

#[test]
#[ignore = "ten minutes: make endure"]
fn a_hundred_people_at_once_are_all_answered() {
    let (minutes, companies) = (number("SHARED_MINUTES", 10), number("COMPANIES", 400).to_string());
    let people = number("PEOPLE", 100);
    let data = tempfile::tempdir().unwrap();
    let (server, path) = Server::shared(data.path(), &["demo", "--companies", &companies], NAME);
    let owner = joins(&server, 0, &path);
    let mut pages = vec![owner.clone()];
    for n in 1..people {
        let invite = json!({ "role": "member", "note": format!("Person {n}") });
        let (status, text) = server.answer_to("POST", "/api/people/invitations", &owner, &invite);
        assert_eq!(status, 200, "{text}");
        let made: Value = serde_json::from_str(&text).unwrap();
        pages.push(joins(&server, n, made["link"].as_str().unwrap()));
    }
    // One in ten computes with assumptions of their own, so that not everything is the same for all.
    for (n, page) in pages.iter().enumerate().step_by(10) {
        let set = json!({ "name": "Mine", "required_return": { "fixed": 0.08 + n as f64 / 2_000.0 } });
        let (status, said) = server.answer_to("PUT", "/api/assumptions", page, &set);
        assert_eq!(status, 200, "{said}");
    }
    let (_, symbols) = server.answer_to("POST", "/api/screen/symbols", &owner, &json!({ "screen": { "blocks": [] } }));
    let symbols: Vec<String> = serde_json::from_str(&symbols).unwrap();
    let (seen, begun) = (Seen::default(), Instant::now());
    let end = begun + Duration::from_secs(60 * minutes);
    std::thread::scope(|scope| {
        for (n, more) in (0u64..).zip(pages) {
            let (page, seen, symbols) = (Page { server: &server, more }, &seen, &symbols);
            scope.spawn(move || {
                // They come one after another, and each asks something else.
                std::thread::sleep(Duration::from_millis(n * THINKING / people));
                let mut next = n * 131;
                while Instant::now() < end {
                    ask(&page, seen, symbols, next);
                    next += 1;
                    std::thread::sleep(Duration::from_millis(THINKING / 2 + next * 7919 % THINKING));
                }
            });
        }
    });
    let (bytes, descriptors) = server.holds();
    let (asked, times, wrong) = told(seen);
    let at = |share: usize| times[(times.len() - 1) * share / 100];
    println!("{people} people, {asked} requests in {:?}: median {:?}, p95 {:?}, p99 {:?}", begun.elapsed(), at(50), at(95), at(99));
    println!("{} MB, {descriptors} descriptors", bytes >> 20);
    assert!(wrong.is_empty(), "not as they should be: {wrong:?}");
    assert!(at(99) < Duration::from_secs(2), "one in a hundred waits {:?}", at(99));
}

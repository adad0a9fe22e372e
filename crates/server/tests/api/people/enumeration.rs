//! Nothing tells whether a name exists: neither what is answered nor how long it takes.

use super::{PASSPHRASE, behind_a_proxy};
use serde_json::json;
use std::time::Instant;

/// Attempts with each name, each from an address of its own.
const ATTEMPTS: usize = 120;

#[tokio::test(flavor = "multi_thread")]
async fn an_answer_is_the_same_whether_or_not_there_is_such_a_name() {
    let shared = behind_a_proxy().await;
    drop(shared.anna_in(shared.browser_at("192.0.2.1")).await);
    let told = async |name: &str| {
        let body = json!({ "name": name, "passphrase": "not hers, nor anybody's" });
        let (status, head, said) = shared.browser_at("203.0.113.9").ask("POST", "/api/session", body).await;
        let head: Vec<String> = head.lines().filter(|line| !line.to_lowercase().starts_with("date:")).map(str::to_owned).collect();
        (status, head, said)
    };
    assert_eq!(told("anna").await, told("berta").await);
    assert_eq!(told("anna").await, told("' OR 1=1 --").await);
}

/// Times of a known and of an unknown name, in turn so that whatever else the machine does meets both; held against one another by
/// the Mann–Whitney test: were they told apart in one of a hundred such tests, |z| would be 2.58.
#[tokio::test(flavor = "multi_thread")]
async fn an_answer_takes_as_long_whether_or_not_there_is_such_a_name() {
    let shared = behind_a_proxy().await;
    drop(shared.anna_in(shared.browser_at("192.0.2.1")).await);
    let mut times = [Vec::new(), Vec::new()];
    for n in 0..ATTEMPTS {
        // Each as often first as second: what the one leaves to be done meets the other.
        let mut names = [(0, "anna"), (1, "berta")];
        names.rotate_left(n % 2);
        for (of, name) in names {
            let (browser, begun) = (shared.browser_at(&format!("203.0.{of}.{n}")), Instant::now());
            let (status, _) = browser.signs_in(name, &format!("{PASSPHRASE} {n}")).await;
            times[of].push(begun.elapsed().as_micros());
            assert_eq!(status, 401);
        }
    }
    let z = mann_whitney(&times[0], &times[1]);
    let middle = |of: &Vec<u128>| {
        let mut sorted = of.clone();
        sorted.sort_unstable();
        sorted[sorted.len() / 2]
    };
    let (known, unknown) = (middle(&times[0]), middle(&times[1]));
    println!("known {known} µs, unknown {unknown} µs, z = {z:.2}");
    assert!(z.abs() < 3.5, "known {known} µs, unknown {unknown} µs, z = {z:.2}");
    assert!(known.abs_diff(unknown) * 20 < known, "known {known} µs, unknown {unknown} µs");
}

/// How far the ranks of one sample lie from those of the other, in standard deviations (normal approximation, no correction for ties).
fn mann_whitney(one: &[u128], other: &[u128]) -> f64 {
    let above = |x: &u128| {
        other
            .iter()
            .map(|y| {
                if x > y {
                    1.0
                } else if x == y {
                    0.5
                } else {
                    0.0
                }
            })
            .sum::<f64>()
    };
    let (n, m) = (one.len() as f64, other.len() as f64);
    let u: f64 = one.iter().map(above).sum();
    (u - n * m / 2.0) / (n * m * (n + m + 1.0) / 12.0).sqrt()
}

#[test]
fn the_test_tells_apart_what_differs() {
    let (one, other): (Vec<u128>, Vec<u128>) = ((0..120).map(|n| 1_000 + n).collect(), (0..120).map(|n| 1_040 + n).collect());
    assert!(mann_whitney(&one, &other) < -4.0 && mann_whitney(&one, &one).abs() < 0.01);
}

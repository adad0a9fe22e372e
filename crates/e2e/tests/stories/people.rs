//! What the server takes for an answer, alone and with a hundred people at once: `make speed`.

use crate::speed::{SCREEN, many, say};
use artemon_e2e::Program;
use http::{Request, StatusCode};
use http_body_util::BodyExt;
use hyper_util::{
    client::legacy::{Client, connect::HttpConnector},
    rt::TokioExecutor,
};
use serde_json::{Value, json};
use std::time::{Duration, Instant};

const PEOPLE: usize = 100;
/// A change every quarter of a second each.
const BETWEEN: Duration = Duration::from_millis(250);
const FOR: Duration = Duration::from_secs(20);

type Http = Client<HttpConnector, String>;

/// How long an answer takes and how large it is; none when it failed.
async fn asked(http: &Http, address: &str, path: &str, body: &Value) -> Option<(Duration, usize)> {
    let request = Request::post(format!("{address}{path}"))
        .header("content-type", "application/json")
        .header("origin", address)
        .body(body.to_string())
        .expect("a request");
    let start = Instant::now();
    let answer = http.request(request).await.ok()?;
    let status = answer.status();
    let size = answer.into_body().collect().await.ok()?.to_bytes().len();
    (status == StatusCode::OK).then(|| (start.elapsed(), size))
}

/// The screen with its first bound moved a little, each time to where it has not been.
fn moved(step: usize) -> Value {
    let mut screen: Value = serde_json::from_str(SCREEN).expect("a screen");
    #[allow(clippy::cast_precision_loss)] // steps are few
    let bound = 80.0 - (step % 70_000) as f64 * 0.001;
    screen["blocks"][0]["criteria"][0]["max"] = json!(bound);
    screen
}

fn percentile(sorted: &[Duration], of_thousand: usize) -> f64 {
    sorted[(sorted.len() - 1) * of_thousand / 1000].as_secs_f64() * 1e3
}

/// One after another.
async fn alone(http: &Http, address: &str, what: &str, path: &str, body: impl Fn(usize) -> Value) {
    let (mut times, mut size) = (Vec::new(), 0);
    for i in 0..200 {
        let (time, bytes) = asked(http, address, path, &body(i)).await.expect("an answer");
        times.push(time);
        size = bytes;
    }
    times.sort_unstable();
    say(what, &format!("p50 {:>6.2} ms   p95 {:>6.2} ms   {size} bytes", percentile(&times, 500), percentile(&times, 950)));
}

/// Everybody moves a bound four times a second.
async fn together(program: &Program) {
    let before = program.memory();
    let people = (0..PEOPLE).map(|person| {
        let address = program.address.clone();
        tokio::spawn(async move {
            // A connection each, as everybody's browser has.
            let http: Http = Client::builder(TokioExecutor::new()).build_http();
            #[allow(clippy::cast_possible_truncation)] // a hundred people
            tokio::time::sleep(BETWEEN * person as u32 / PEOPLE as u32).await;
            let (start, mut clock) = (Instant::now(), tokio::time::interval(BETWEEN));
            clock.set_missed_tick_behavior(tokio::time::MissedTickBehavior::Delay);
            let mut answers = Vec::new();
            while start.elapsed() < FOR {
                clock.tick().await;
                let body = json!({ "screen": moved(1000 + person * 100 + answers.len()) });
                answers.push(asked(&http, &address, "/api/screen", &body).await.map(|(time, _)| time));
            }
            answers
        })
    });
    let mut answers = Vec::new();
    for person in people.collect::<Vec<_>>() {
        answers.extend(person.await.expect("a person"));
    }
    let mut times: Vec<Duration> = answers.iter().flatten().copied().collect();
    times.sort_unstable();
    let grown = (program.memory() - before) / 1e6;
    say(
        "100 people, a bound moved four times a second each",
        &format!(
            "p50 {:>4.0} ms   p99 {:>4.0} ms   {} requests, {} failed   memory {grown:+.0} MB",
            percentile(&times, 500),
            percentile(&times, 990),
            answers.len(),
            answers.len() - times.len()
        ),
    );
}

#[test]
#[ignore = "measures; run by `make speed`"]
fn speed_of_the_server() {
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    runtime.block_on(async {
        let program = Program::demo(many()).await;
        let http: Http = Client::builder(TokioExecutor::new()).build_http();
        let address = &program.address;
        // The first answers fill what is kept.
        asked(&http, address, "/api/screen", &json!({ "screen": moved(0) })).await.expect("an answer");
        alone(&http, address, "counts of a moved bound", "/api/screen", |i| json!({ "screen": moved(i) })).await;
        let rows = |i| json!({ "list": { "screen": moved(i) }, "rows": 40 });
        alone(&http, address, "forty rows of a moved bound", "/api/screen/rows", rows).await;
        alone(&http, address, "a ranking at another margin", "/api/rank", |i| {
            #[allow(clippy::cast_precision_loss)] // steps are few
            let margin = 0.1 + i as f64 * 0.001;
            json!({ "margin": margin, "rows": 40 })
        })
        .await;
        together(&program).await;
    });
}

//! Who may ask, how refusals look, and what lives over HTTP: sets, screens, files brought in.

use crate::{OWN, ask, get, post, server};
use std::path::Path;

#[tokio::test(flavor = "multi_thread")]
async fn foreign_hosts_and_origins_are_refused() {
    let server = server().await;
    assert_eq!(ask(&server, "GET", "/api/about", OWN, "", "").await.0, 200);
    assert_eq!(ask(&server, "GET", "/api/about", "evil.example", "", "").await.0, 403);
    assert_eq!(ask(&server, "GET", "/api/about", "127.0.0.1:1", "", "").await.0, 403);
    assert_eq!(ask(&server, "POST", "/api/rank", OWN, "Origin: http://evil.example\r\n", "{}").await.0, 403);
}

#[tokio::test(flavor = "multi_thread")]
async fn refusals_are_problem_documents() {
    let server = server().await;
    let cases = [
        ("GET", "/api/companies/NOSUCH", ""),
        ("GET", "/api/companies/DRUA?as_of=yesterday", ""),
        ("GET", "/api/companies/DRUA?as_of=1999-01-01", ""),
        ("GET", "/api/nothing", ""),
        ("POST", "/api/evaluate", r#"{"formulas": ["pe +"]}"#),
        ("POST", "/api/rank", r#"{"margin": 25}"#),
        ("POST", "/api/screen", r#"{"screen": {"blocks": [{"need": "most"}]}}"#),
        ("POST", "/api/screen", "{"),
    ];
    let mut said = Vec::new();
    for (method, path, body) in cases {
        let (status, text) = ask(&server, method, path, OWN, "", body).await;
        said.push(format!("{method} {path} {body}\n{status} {text}"));
    }
    insta::assert_snapshot!(said.join("\n\n"));
}

/// What cannot be assumed is refused in words, and nothing is kept of it.
#[tokio::test(flavor = "multi_thread")]
async fn refused_assumptions_change_nothing() {
    let server = server().await;
    let before = get(&server, "/api/assumptions").await;
    let cases = [
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "required_return": {"fixed": 9}}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "exit_pe": [20, 8]}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "margin_years": 0}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "quality": {"charm": {"floor": 0, "full": 1, "points": 5}}}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "quality": {"roe": {"floor": 0.1, "full": 0.1, "points": 5}}}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Mine", "mood": "good"}"#),
        ("PUT", "/api/assumptions", r#"{"name": "Standard"}"#),
        ("POST", "/api/assumptions/use", r#"{"name": "Nobody's"}"#),
        ("POST", "/api/assumptions/restore", r#"{"name": "Nobody's"}"#),
        ("GET", "/api/assumptions/Mine/1", ""),
        ("DELETE", "/api/assumptions/Standard", ""),
        ("PUT", "/api/companies/DRUA/own", r#"{"soundness": 1, "reason": " "}"#),
        ("PUT", "/api/companies/DRUA/own", r#"{"required_return": 1.5}"#),
        ("POST", "/api/companies/DRUA/value", r#"{"steps": {"model": "property_cash_flow", "scenario": "past"}}"#),
        ("POST", "/api/rank", r#"{"universe": {"index": "NOSUCH"}}"#),
        ("POST", "/api/rank", r#"{"against": "Nobody's"}"#),
        ("POST", "/api/rank/xlsx", r#"{"margin": -1}"#),
    ];
    let mut said = Vec::new();
    for (method, path, body) in cases {
        let (status, text) = ask(&server, method, path, OWN, "", body).await;
        said.push(format!("{method} {path} {body}\n{status} {text}"));
    }
    insta::assert_snapshot!(said.join("\n\n"));
    assert_eq!(get(&server, "/api/assumptions").await, before);
}

/// A set is saved, used, looked back at, deleted and brought back; rankings and values name it.
#[tokio::test(flavor = "multi_thread")]
async fn a_set_lives_over_http() {
    let server = server().await;
    let json = |(status, text): (u16, String)| -> serde_json::Value {
        assert_eq!(status, 200, "{text}");
        serde_json::from_str(&text).unwrap()
    };
    let put = async |body: &str| json(ask(&server, "PUT", "/api/assumptions", OWN, "", body).await);
    put(r#"{"name": "Mine", "required_return": {"over_aaa": 0.05}}"#).await;
    let sets =
        put(r#"{"name": "Mine", "required_return": {"fixed": 0.12}, "quality": {"roe": {"floor": 0.1, "full": 0.3, "points": 20}}}"#).await;
    assert_eq!((&sets[1]["in_use"], sets[1]["versions"].as_array().unwrap().len()), (&true.into(), 2));
    let first = json(get(&server, "/api/assumptions/Mine/1").await);
    assert_eq!((&first["required_return"], &first["version"]), (&serde_json::json!({"over_aaa": 0.05}), &1.into()));
    let ranked = json(post(&server, "/api/rank", r#"{"against": "Standard", "sensitivity": true}"#).await);
    let row = |symbol: &str| ranked["rows"].as_array().unwrap().iter().find(|r| r["symbol"] == symbol).unwrap().clone();
    assert_eq!(ranked["assumptions"], "Mine, version 2");
    assert!(row("DRUA")["intrinsic_value"]["value"].as_f64() < row("DRUA")["other"]["intrinsic_value"]["value"].as_f64());
    let valued = json(get(&server, "/api/companies/DRUA/value").await);
    let roe = &valued["quality"]["pillars"][1]["components"][0];
    assert_eq!((&valued["assumptions"], &roe["anchors"]["points"]), (&"Mine, version 2".into(), &20.0.into()));
    let components = json(get(&server, "/api/quality/components").await);
    assert!(components.as_array().unwrap().iter().any(|c| c["id"] == "roe" && c["anchors"]["points"] == 7.0), "{components}");

    json(ask(&server, "DELETE", "/api/assumptions/Mine", OWN, "", "").await);
    assert_eq!(json(get(&server, "/api/companies/DRUA/value").await)["assumptions"], "Standard");
    let back = json(post(&server, "/api/assumptions/restore", r#"{"name": "Mine"}"#).await);
    assert_eq!((&back[1]["assumptions"]["name"], &back[1]["in_use"]), (&"Mine".into(), &false.into()));
    let (status, book) = post(&server, "/api/rank/xlsx", "{}").await;
    assert!(status == 200 && book.starts_with("PK"), "a workbook is a zip");
}

/// The answers to a screen carry everything that the page shows.
#[tokio::test(flavor = "multi_thread")]
async fn a_screen_is_answered_whole() {
    let server = server().await;
    let screen = std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/screen-1.json")).unwrap();
    let (status, text) = ask(&server, "POST", "/api/screen", OWN, "", &format!("{{\"screen\": {screen}}}")).await;
    assert_eq!(status, 200, "{text}");
    let answer: serde_json::Value = serde_json::from_str(&text).unwrap();
    assert_eq!(answer["survivors"], 4);
    assert_eq!(answer["criteria"][5]["histogram"]["counts"].as_array().unwrap().len(), 40);
    assert!(answer["columns"].as_array().unwrap().iter().all(|c| c["error"].is_null()), "{}", answer["columns"]);
    // Its companies come by page.
    let (status, text) =
        ask(&server, "POST", "/api/screen/rows", OWN, "", &format!("{{\"list\": {{\"screen\": {screen}}}, \"rows\": 3}}")).await;
    let page: serde_json::Value = serde_json::from_str(&text).unwrap();
    assert_eq!((status, &page["survivors"], page["rows"].as_array().map(Vec::len)), (200, &4.into(), Some(3)));
    assert_eq!(page["rows"][0]["symbol"], "OLIC");
    assert!(page["rows"][0]["values"][5].as_f64().unwrap() > 60.0, "the quality: {}", page["rows"][0]);
}

/// What comes over HTTP of the golden screens is what is expected of them, in every count and in order.
#[tokio::test(flavor = "multi_thread")]
async fn the_golden_screens_agree_over_http() {
    let server = server().await;
    let golden = |name: String| std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden").join(name)).unwrap();
    for number in [1, 2] {
        let screen = golden(format!("screen-{number}.json"));
        let want: serde_json::Value = serde_json::from_str(&golden(format!("expected-screen-{number}.json"))).unwrap();
        let want = &want["result"];
        let (_, text) = ask(&server, "POST", "/api/screen", OWN, "", &format!("{{\"screen\": {screen}}}")).await;
        let answer: serde_json::Value = serde_json::from_str(&text).unwrap();
        let (_, text) = ask(&server, "POST", "/api/screen/symbols", OWN, "", &format!("{{\"screen\": {screen}}}")).await;
        assert_eq!(serde_json::from_str::<serde_json::Value>(&text).unwrap(), want["survivors"], "screen {number}");
        let counts = |of: &serde_json::Value| ["pass_alone", "fail_alone", "undefined", "back_if_dropped"].map(|key| of[key].as_u64());
        // Nothing is expected of those that are switched off or in error.
        let asked: serde_json::Value = serde_json::from_str(&screen).unwrap();
        let enabled = asked["blocks"].as_array().unwrap().iter().flat_map(|b| b["criteria"].as_array().unwrap());
        let got = answer["criteria"].as_array().unwrap().iter().zip(enabled);
        let got: Vec<_> = got.filter(|(c, asked)| c["error"].is_null() && asked["enabled"] != false).map(|(c, _)| counts(c)).collect();
        assert_eq!(got, want["criteria"].as_array().unwrap().iter().map(counts).collect::<Vec<_>>(), "screen {number}");
        let left = |of: &serde_json::Value| of["steps"].as_array().unwrap().iter().map(|s| s["left"].as_u64()).collect::<Vec<_>>();
        assert_eq!(left(&answer), left(want), "screen {number}");
        assert_eq!(answer["near_miss_count"].as_u64(), want["near_misses"].as_array().map(|all| all.len() as u64), "screen {number}");
    }
}

/// Files come in as a form, wait, are imported as a job, and can be taken out again.
#[tokio::test(flavor = "multi_thread")]
async fn a_csv_file_is_brought_mapped_and_imported() {
    let server = server().await;
    let csv = "Ticker;Datum;Close;Vol\r\nDRUA;1.7.2025;114,50;1000\r\nDRUA;2.7.2025;115,25;1100\r\n";
    let form = format!("--x\r\nContent-Disposition: form-data; name=\"files\"; filename=\"day.csv\"\r\n\r\n{csv}\r\n--x--\r\n");
    let (status, text) = ask(&server, "POST", "/api/uploads", OWN, "Content-Type: multipart/form-data; boundary=x\r\n", &form).await;
    assert_eq!(status, 200, "{text}");
    let upload: serde_json::Value = serde_json::from_str(&text).unwrap();
    let (id, file) = (upload["id"].as_str().unwrap(), &upload["files"][0]);
    let mapping = &file["mapping"];
    assert_eq!((&mapping["dates"], &mapping["decimal"], &file["remembered"]), (&"day_month_year".into(), &"comma".into(), &false.into()));
    assert_eq!(file["rows"][0]["cells"], serde_json::json!(["DRUA", "2025-07-01", "", "", "", "114.50", "1000"]));

    let wrong = serde_json::json!({"file": "day.csv", "mapping": {"table": "prices", "columns": []}});
    let (_, previewed) = post(&server, &format!("/api/uploads/{id}/preview"), &wrong.to_string()).await;
    assert!(previewed.contains("nothing is mapped to \\\"symbol\\\""), "{previewed}");

    let start = serde_json::json!({"mappings": [{"file": "day.csv", "mapping": mapping}]}).to_string();
    let (status, job) = post(&server, &format!("/api/uploads/{id}/import"), &start).await;
    assert_eq!(status, 200, "{job}");
    let jobs = loop {
        let (_, jobs) = get(&server, "/api/jobs").await;
        if !jobs.contains("\"running\"") {
            break jobs;
        }
    };
    assert!(jobs.contains("\"done\""), "{jobs}");
    let (_, price) = post(&server, "/api/evaluate", r#"{"formulas": ["price"], "symbols": ["DRUA"]}"#).await;
    assert!(price.contains("115.25") && price.contains("2025-07-02"), "the new day is known at once: {price}");
    let (_, out) = get(&server, "/api/export?table=prices&symbol=DRUA").await;
    assert!(out.contains("DRUA,2025-07-02,,,,115.25,1100\n"), "{out}");
    let (status, gone) = post(&server, &format!("/api/uploads/{id}/import"), &start).await;
    assert!(status == 422 && gone.contains("choose them again"), "{gone}");
}

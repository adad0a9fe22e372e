//! Sharing: read by a link, copied, and taken back.

use super::{Browser, shared};
use serde_json::{Value, json};

async fn document(of: &Browser, kind: &str, name: &str, body: Value) -> String {
    let file = json!({ "kind": kind, "name": name, "note": format!("about {name}"), "body": body });
    let (status, made) = of.does("POST /api/documents", "/api/documents", file).await;
    assert_eq!(status, 201, "{made}");
    made["id"].as_str().unwrap().to_owned()
}

async fn share(of: &Browser, kind: &str, id: &str) -> (u16, Value) {
    of.does("POST /api/shared", "/api/shared", json!({ "kind": kind, "id": id })).await
}

async fn read(by: &Browser, token: &str) -> (u16, Value) {
    by.does("GET /api/shared/{token}", &format!("/api/shared/{token}"), Value::Null).await
}

async fn copy(by: &Browser, token: &str) -> (u16, Value) {
    by.does("POST /api/shared/{token}/copy", &format!("/api/shared/{token}/copy"), Value::Null).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_screen_is_read_with_its_owners_eyes_and_copied_with_its_measures() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let measure = json!({ "id": "thrift", "label": "Thrift", "note": "", "formula": "eps / price" });
    assert_eq!(anna.does("PUT /api/own-measures", "/api/own-measures", measure).await.0, 200);
    let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "thrift", "min": 0.02 }] }], "columns": ["thrift", "own_rank(pe, 10y)"] });
    let id = document(&anna, "screen", "Thrifty", screen).await;
    let (status, made) = share(&anna, "document", &id).await;
    assert!(status == 200 && made["what"] == "screen" && made["name"] == "Thrifty", "{made}");
    let token = made["token"].as_str().unwrap();
    assert!(made["link"].as_str().unwrap().ends_with(&format!("/shared/{token}")) && token.len() == 64, "{made}");
    let (_, again) = share(&anna, "document", &id).await;
    assert_eq!(again["token"], token, "what is shared keeps its link");
    let (status, told) = read(&bert, token).await;
    assert!(status == 200 && told["by"] == "Anna" && told["mine"] == false && told["note"] == "about Thrifty", "{told}");
    assert!(told["lines"][0].as_str().unwrap().starts_with("Thrift at least 0.02"), "her measure is understood: {told}");
    let (of, first) = (&told["screen"], &told["screen"]["rows"][0]);
    assert!(of["universe"].as_u64().unwrap() > of["survivors"].as_u64().unwrap() && of["survivors"].as_u64().unwrap() > 0, "{of}");
    assert_eq!((&of["columns"][0]["label"], first["values"][0].as_f64().unwrap() >= 0.02), (&json!("Thrift"), true), "{of}");
    let ranged = |row: &Value| row["ranges"][1].as_array().is_some_and(|range| range.len() == 7);
    assert!(of["rows"].as_array().unwrap().iter().any(ranged), "a rank is drawn in its range: {of}");
    let (status, taken) = copy(&bert, token).await;
    assert!(status == 200 && taken["name"] == "Thrifty" && taken["measures"] == json!(["thrift"]), "{taken}");
    let (_, again) = copy(&bert, token).await;
    assert!(again["name"] == "Thrifty (Anna)" && again["measures"] == json!([]), "{again}");
    // His is his: hers can change or go.
    let delete = format!("/api/documents/{id}");
    assert_eq!(anna.does("DELETE /api/documents/{id}", &delete, Value::Null).await.0, 200);
    assert_eq!(read(&bert, token).await.0, 404);
    let path = format!("/api/documents/{}", taken["id"].as_str().unwrap());
    assert_eq!(bert.does("GET /api/documents/{id}", &path, Value::Null).await.1["name"], "Thrifty");
    assert_eq!(bert.get("/api/own-measures").await.1[0]["id"], "thrift");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_measure_of_the_same_name_is_not_overwritten() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    for (who, formula) in [(&anna, "eps / price"), (&bert, "sales / price")] {
        let measure = json!({ "id": "thrift", "label": "Thrift", "note": "", "formula": formula });
        let (status, said) = who.does("PUT /api/own-measures", "/api/own-measures", measure).await;
        assert!(status == 200 || formula.starts_with("sales"), "{said}");
    }
    let measure = json!({ "id": "thrift", "label": "Thrift", "note": "", "formula": "price / eps" });
    assert_eq!(bert.does("PUT /api/own-measures", "/api/own-measures", measure).await.0, 200);
    let id = document(&anna, "column_set", "Hers", json!(["thrift"])).await;
    let (_, made) = share(&anna, "document", &id).await;
    let (status, said) = copy(&bert, made["token"].as_str().unwrap()).await;
    assert!(status == 422 && said["title"].as_str().unwrap().contains("yours of that name is another"), "{said}");
    assert_eq!(bert.get("/api/documents?kind=column_set").await.1, json!([]), "nothing came");
}

#[tokio::test(flavor = "multi_thread")]
async fn each_kind_can_be_shared_and_what_is_taken_back_is_gone_at_once() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let case = json!({ "likely": { "years": [{
        "revenue_growth": 0.05, "operating_margin": 0.1, "tax_rate": 0.25, "reinvestment": 0.3, "share_change": 0
    }], "exit_multiple": 12 } });
    let (status, _, said) = anna.send("PUT", "/api/companies/DRUA/cases", "If-Match: \"0\"\r\n", &case.to_string()).await;
    assert_eq!(status, 200, "{said}");
    let (_, cases) = anna.get("/api/documents?kind=case").await;
    let list = document(&anna, "list", "Watch", json!({})).await;
    let members = json!({ "symbols": ["DRUA", "TORD"] });
    assert_eq!(anna.does("POST /api/lists/{id}/members", &format!("/api/lists/{list}/members"), members).await.0, 200);
    let judged = json!({ "soundness": 1, "reason": "I know them" });
    anna.does("PUT /api/companies/{symbol}/soundness", "/api/companies/DRUA/soundness", judged).await;
    let set = document(&anna, "assumption_set", "Careful", json!({ "required_return": { "fixed": 0.11 } })).await;
    let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "pe", "max": 15 }] }] });
    let asked = json!({ "settings": { "screen": screen, "from": "2020-01-31", "to": "2022-01-31", "top": 3, "base": "XFA" } });
    let (status, backtest) = anna.does("POST /api/backtests", "/api/backtests", asked).await;
    assert!((200..300).contains(&status), "{backtest}");
    for (kind, id, what, said) in [
        ("document", cases[0]["id"].as_str().unwrap(), "case", "Likely: revenue growth 5"),
        ("document", &list, "list", "TORD"),
        ("document", &set, "assumption set", "required return: fixed 0.11"),
        ("backtest", backtest["id"].as_str().unwrap(), "backtest", "top"),
    ] {
        let (status, made) = share(&anna, kind, id).await;
        assert!(status == 200 && made["what"] == what, "{what}: {made}");
        let token = made["token"].as_str().unwrap();
        let (status, told) = read(&bert, token).await;
        assert!(status == 200 && told["by"] == "Anna", "{what}: {told}");
        assert!(told.to_string().contains(said), "{what}: {told}");
        assert!(!told.to_string().contains("I know them"), "what she thinks of a company is hers: {told}");
        let path = format!("/api/shared/{token}");
        assert_eq!(bert.does("DELETE /api/shared/{token}", &path, Value::Null).await.0, 404, "he cannot take back what is hers");
        let (status, taken) = copy(&bert, token).await;
        assert_eq!(status, 200, "{what}: {taken}");
        assert_eq!(anna.does("DELETE /api/shared/{token}", &path, Value::Null).await.0, 204);
        assert_eq!((read(&bert, token).await.0, copy(&bert, token).await.0), (404, 404), "{what}");
    }
    // What is one's own alone, and what is another's.
    let (_, _, _) = anna.send("PUT", "/api/companies/DRUA/note", "If-Match: \"0\"\r\n", "{\"text\":\"Sound.\"}").await;
    let (_, notes) = anna.get("/api/documents?kind=note").await;
    assert_eq!(share(&anna, "document", notes[0]["id"].as_str().unwrap()).await.0, 404);
    assert_eq!(share(&bert, "document", &list).await.0, 404);
    assert_eq!(anna.get("/api/shared").await.1, json!([]));
    let (_, log) = anna.get("/api/account/log").await;
    assert!(log.to_string().contains("\"shared\"") && log.to_string().contains("took back"), "{log}");
}

/// A list of the name Watch.
async fn watched(of: &Browser, symbols: Value) -> String {
    let id = document(of, "list", "Watch", json!({ "columns": ["pe"] })).await;
    let path = format!("/api/lists/{id}/members");
    assert_eq!(of.does("POST /api/lists/{id}/members", &path, json!({ "symbols": symbols })).await.0, 200);
    id
}

/// A screen that looks among a list brings the companies of the list, once, and nothing of what is said of them there.
#[tokio::test(flavor = "multi_thread")]
async fn the_list_that_a_screen_looks_among_comes_with_the_copy() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    let hers = watched(&anna, json!(["DRUA", "TORD"])).await;
    let said = json!({ "note": "the harbour master told me" });
    let path = format!("/api/lists/{hers}/members/DRUA");
    assert_eq!(anna.does("PUT /api/lists/{id}/members/{symbol}", &path, said).await.0, 204);
    let screen = json!({ "universe": { "list": "Watch" }, "columns": ["pe"] });
    let id = document(&anna, "screen", "Of mine", screen.clone()).await;
    let token = share(&anna, "document", &id).await.1["token"].as_str().unwrap().to_owned();
    let (_, told) = read(&bert, &token).await;
    assert!(told["screen"]["survivors"] == 2 && !told.to_string().contains("harbour master"), "{told}");

    // His own of that name has others on it: hers comes under another name, and his screen looks among that one.
    watched(&bert, json!(["TORD"])).await;
    let (status, taken) = copy(&bert, &token).await;
    assert!(status == 200 && taken["list"] == "Watch (Anna)", "{taken}");
    let copied = format!("/api/documents/{}", taken["id"].as_str().unwrap());
    assert_eq!(bert.get(&copied).await.1["body"]["universe"]["list"], "Watch (Anna)");
    let (_, lists) = bert.get("/api/documents?kind=list").await;
    let came = lists.as_array().unwrap().iter().find(|l| l["name"] == "Watch (Anna)").unwrap();
    let (_, came) = bert.get(&format!("/api/documents/{}", came["id"].as_str().unwrap())).await;
    assert!(came["body"]["members"].as_array().unwrap().len() == 2 && !came.to_string().contains("harbour master"), "{came}");
    let (_, again) = copy(&bert, &token).await;
    assert!(again["list"].is_null() && again["name"] == "Of mine (Anna)", "what he has of hers serves again: {again}");

    // A backtest of such a screen as well.
    let asked = json!({ "settings": { "screen": screen, "from": "2020-01-31", "to": "2022-01-31", "top": 3, "base": "XFA" } });
    let (status, backtest) = anna.does("POST /api/backtests", "/api/backtests", asked).await;
    assert!((200..300).contains(&status), "{backtest}");
    let token = share(&anna, "backtest", backtest["id"].as_str().unwrap()).await.1["token"].as_str().unwrap().to_owned();
    let (status, taken) = copy(&bert, &token).await;
    assert_eq!((status, &taken["list"]), (200, &Value::Null), "{taken}");
    let his = bert.get(&format!("/api/backtests/{}", taken["id"].as_str().unwrap())).await.1;
    assert_eq!(his["settings"]["screen"]["universe"]["list"], "Watch (Anna)", "{his}");
}

/// A measure may use others of one's own, and these others: all come, those first that others need.
#[tokio::test(flavor = "multi_thread")]
async fn measures_come_with_all_that_they_use() {
    let shared = shared().await;
    let anna = shared.anna().await;
    let bert = shared.invited(&anna, "Bert", "member").await;
    for (id, formula) in [("thrift", "eps / price"), ("double_thrift", "thrift * 2"), ("steady_thrift", "double_thrift + thrift")] {
        let measure = json!({ "id": id, "label": id, "note": "", "formula": formula });
        assert_eq!(anna.does("PUT /api/own-measures", "/api/own-measures", measure).await.0, 200, "{id}");
    }
    let id = document(&anna, "column_set", "Hers", json!(["pe", "steady_thrift"])).await;
    let (_, made) = share(&anna, "document", &id).await;
    let token = made["token"].as_str().unwrap();
    let (status, taken) = copy(&bert, token).await;
    let mut came: Vec<&str> = taken["measures"].as_array().unwrap().iter().map(|m| m.as_str().unwrap()).collect();
    assert_eq!(came.first(), Some(&"thrift"), "the one that the others use is there before them: {came:?}");
    came.sort_unstable();
    assert_eq!((status, came), (200, vec!["double_thrift", "steady_thrift", "thrift"]));
    let (_, log) = bert.get("/api/account/log").await;
    assert!(log.to_string().contains("took a copy of") && log.to_string().contains("the column set Hers of Anna"), "{log}");
    // A share of a thing that is deleted leads nowhere, and again when it is restored.
    assert_eq!(anna.does("DELETE /api/documents/{id}", &format!("/api/documents/{id}"), Value::Null).await.0, 200);
    assert_eq!((read(&bert, token).await.0, copy(&bert, token).await.0), (404, 404));
    assert_eq!(anna.does("POST /api/documents/{id}/restore", &format!("/api/documents/{id}/restore"), Value::Null).await.0, 200);
    assert_eq!(read(&bert, token).await.0, 200);
}

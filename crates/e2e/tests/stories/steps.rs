//! What several stories do.

use artemon_e2e::Browser;
use serde_json::Value;

pub const BUTTON: &str = "button";

pub async fn press(browser: &Browser, button: &str) {
    browser.with_text(BUTTON, button).await.click().await.unwrap();
}

/// What a request of the page itself is answered.
pub async fn asked(browser: &Browser, method: &str, path: &str, body: &str) -> Value {
    let script = format!(
        "const done = arguments[arguments.length - 1];
         fetch('{path}', {{ method: '{method}', headers: {{ 'Content-Type': 'application/json' }}, {} }})
           .then((r) => r.text()).then((said) => done(said ? JSON.parse(said) : null), (e) => done(String(e)));",
        if body.is_empty() { String::new() } else { format!("body: JSON.stringify({body})") }
    );
    browser.ask(&script).await
}

pub async fn count(browser: &Browser, css: &str) -> usize {
    browser.all(css).await.len()
}

pub async fn until_count(browser: &Browser, css: &str, wanted: impl Fn(usize) -> bool) {
    browser.until(css, async || wanted(count(browser, css).await).then_some(())).await;
}

/// A backtest that is done, and the record of the values: its address.
pub async fn backtest(browser: &Browser) -> String {
    let proposed = asked(browser, "POST", "/api/backtests/proposed", "{ screen: 'quality-first' }").await;
    let made = asked(browser, "POST", "/api/backtests", &format!("{{ settings: {proposed} }}")).await;
    asked(browser, "POST", "/api/values-record", "").await;
    let running = async || asked(browser, "GET", "/api/backtests/running", "").await;
    let known = async || asked(browser, "GET", "/api/values-record", "").await["is_current"].as_bool();
    browser
        .until("what runs to end", async || (running().await == serde_json::json!([]) && known().await == Some(true)).then_some(()))
        .await;
    format!("/backtests/{}", made["id"].as_str().unwrap())
}

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
           .then((r) => r.status === 204 ? null : r.json()).then(done);",
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

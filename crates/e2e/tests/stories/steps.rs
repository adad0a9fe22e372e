//! What several stories do.

use artemon_e2e::Browser;
use serde_json::Value;
use std::path::Path;

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

/// The rules that a theme can break.
const OF_COLOUR: &str = "{ type: 'rule', values: ['color-contrast', 'link-in-text-block'] }";
const ALL_RULES: &str = "['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']";

/// What axe-core finds wrong with the page by some rules, in a line each.
async fn found_by(browser: &Browser, axe: &str, rules: &str) -> Vec<String> {
    let run = format!(
        "const done = arguments[arguments.length - 1];
        axe.run(document, {{ runOnly: {rules}, resultTypes: ['violations'] }})
            .then((r) => done(r.violations.map((v) => `${{v.id}}: ${{v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}}`)))"
    );
    let Value::Array(found) = browser.ask(&format!("{axe};\n{run}")).await else { panic!("axe answers with a list") };
    found.iter().map(Value::to_string).collect()
}

/// What axe-core finds wrong with the page in both themes, in a line each.
pub async fn violations(browser: &Browser) -> Vec<String> {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules/axe-core/axe.min.js");
    let axe = std::fs::read_to_string(file).expect("axe-core is installed with the front end");
    let mut wrong = Vec::new();
    for (theme, rules) in [("light", ALL_RULES), ("dark", OF_COLOUR)] {
        browser.prefer(theme).await;
        browser.find(&format!("html[data-{theme}]")).await;
        wrong.extend(found_by(browser, &axe, rules).await.into_iter().map(|v| format!("{theme}: {v}")));
    }
    wrong
}

pub const PASSPHRASE: &str = "lantern orbit gravel seventeen";

/// Types into the field of a label.
pub async fn type_in(browser: &Browser, label: &str, text: &str) {
    let field = browser
        .until(label, async || {
            for label_of in browser.all("label").await {
                let said = label_of.text().await.unwrap_or_default();
                if said.trim_end_matches(['*', '\u{2009}', ' ', '\u{a0}']).trim() == label {
                    let id = label_of.attr("for").await.ok()??;
                    return browser.all(&format!("[id='{id}']")).await.into_iter().next();
                }
            }
            None
        })
        .await;
    browser.retype(&field, text).await;
}

/// Takes an invitation up.
pub async fn joins(browser: &Browser, link: &str, name: &str) {
    browser.goto(link).await;
    type_in(browser, "Name", name).await;
    type_in(browser, "Passphrase", "password1234").await;
    press(browser, "Come in").await;
    browser.text_until("[role=alert]", |said| said.contains("tried first")).await;
    type_in(browser, "Passphrase", PASSPHRASE).await;
    press(browser, "Come in").await;
    browser.with_text("header button", name).await;
}

//! What a person waits for, measured in the browser with many companies: `make speed`.

use artemon_e2e::{Browser, story_among};
use serde_json::Value;
use std::time::Duration;

/// Twelve criteria, two of them ranks in the own history, that leave some thousand of ten thousand companies.
pub(crate) const SCREEN: &str = r#"{"name":"Twelve","blocks":[{"need":"all","criteria":[
    {"formula":"own_rank(pe, 10y)","max":80},{"formula":"own_rank(operating_margin, 10y)","min":10},
    {"formula":"eps_growth(5)","min":0},{"formula":"net_margin","min":0.02},{"formula":"debt_to_equity","max":3},
    {"formula":"current_ratio","min":0.8},{"formula":"from_low_52w","max":3},{"formula":"roe","min":0.02},
    {"formula":"interest_cover","min":1},{"formula":"fcf_yield","min":-0.1},{"formula":"eps_positive_years(5)","min":3},
    {"formula":"pe","max":40}]}],
    "columns":["price","pe","own_rank(pe, 10y)","net_margin","roe","margin_of_safety"],
    "sort":[{"formula":"margin_of_safety","descending":true}]}"#;

const HANDLE: &str = "[data-testid=criterion] [role=slider]";
const TABLE: &str = "[role=grid]";
const SHOWN: &str = "[role=grid], [data-testid=survivors]";

pub(crate) fn say(what: &str, figures: &str) {
    println!("{what:<58} {figures}");
}

/// Companies among which it is measured.
pub(crate) fn many() -> usize {
    std::env::var("COMPANIES").ok().and_then(|n| n.parse().ok()).unwrap_or(10_000)
}

/// The median and the 95th percentile, and the longest task meanwhile.
fn percentiles(mut all: Vec<f64>, longest: f64) -> String {
    all.sort_by(f64::total_cmp);
    let at = |p: usize| all[(all.len() - 1) * p / 100];
    format!("p50 {:>5.0} ms   p95 {:>5.0} ms   longest task {longest:>4.0} ms", at(50), at(95))
}

async fn longest_task(browser: &Browser) -> f64 {
    browser.measure("Math.max(0, ...speed.long)").await
}

/// Milliseconds that an act takes until what it changes is drawn, again and again.
async fn settled(browser: &Browser, act: impl Fn(usize) -> String, css: &str) -> String {
    browser.measure("speed.long.length = 0").await;
    let mut all = Vec::new();
    for i in 0..40 {
        let script = format!("const done = arguments[0]; speed.settled(() => {}, {css:?}).then(done)", act(i));
        all.push(browser.ask(&script).await.as_f64().unwrap());
    }
    percentiles(all, longest_task(browser).await)
}

async fn scrolled(browser: &Browser) -> String {
    let answer: Value = browser.ask(&format!("speed.scroll({TABLE:?}, 60).then(arguments[0])")).await;
    let longest = longest_task(browser).await;
    format!(
        "{:>5.0} frames a second   {} frames with rows to come   longest task {longest:>4.0} ms",
        answer["frames"].as_f64().unwrap(),
        answer["coming"]
    )
}

async fn loaded(browser: &Browser, address: &str) -> f64 {
    browser.goto(address).await;
    browser.until("the first row", async || Some(browser.measure("speed.ready").await).filter(|t| t.is_finite() && *t > 0.0)).await
}

#[test]
#[ignore = "measures; run by `make speed`"]
fn speed() {
    story_among(many(), async |browser, address| {
        browser.before_each_page(include_str!("speed.js")).await;
        let compact: String = SCREEN.lines().map(str::trim).collect();
        let query: String = url::form_urlencoded::byte_serialize(compact.as_bytes()).collect();
        let screens = format!("{address}/screens?screen={query}");
        browser.goto(&screens).await;
        browser.find("[data-testid=survivor] .cell.n").await;
        browser.empty_cache().await;
        say("first load, empty cache: usable after", &format!("{:>5.0} ms", loaded(&browser, &screens).await));
        say("first load, cached: usable after", &format!("{:>5.0} ms", loaded(&browser, &screens).await));
        println!("{}", browser.text("[data-testid=survivors]").await);

        let key = |i: usize| format!("speed.key({HANDLE:?}, {:?})", if i % 8 < 4 { "ArrowLeft" } else { "ArrowRight" });
        say("a bound moved by key: new table drawn after", &settled(&browser, key, SHOWN).await);
        browser.measure("speed.start()").await;
        let steps: Vec<f64> = (0..120).map(|i| if i < 60 { -2.0 } else { 2.0 }).collect();
        let handle = browser.find(HANDLE).await;
        browser.drag_through(&handle, &steps, Duration::from_millis(16)).await;
        let (frames, longest) = (browser.measure("speed.stop()").await, longest_task(&browser).await);
        say("a bound dragged", &format!("{frames:>5.0} frames a second   longest task {longest:>4.0} ms"));
        say("screens: scrolling", &scrolled(&browser).await);

        browser.goto(&screens).await;
        browser.find("[data-testid=survivor] a").await;
        let open = "const done = arguments[0]; speed.until(() => document.querySelector('[data-testid=survivor] a').click(), 'aside svg').then(done)";
        say("a company opened, for the first time", &format!("{:>5.0} ms", browser.ask(open).await.as_f64().unwrap()));
        let mut again = Vec::new();
        for i in 1..9 {
            browser.goto(&screens).await;
            browser.until("rows", async || (browser.all("[data-testid=survivor] a").await.len() > 10).then_some(())).await;
            let nth = open.replace(
                "document.querySelector('[data-testid=survivor] a')",
                &format!("document.querySelectorAll('[data-testid=survivor] a')[{i}]"),
            );
            again.push(browser.ask(&nth).await.as_f64().unwrap());
        }
        say("a company opened", &percentiles(again, longest_task(&browser).await));

        browser.goto(&format!("{address}/candidates")).await;
        browser.find("[data-testid=candidate] .cell.n").await;
        let slide =
            |i: usize| format!("speed.key(\"[aria-labelledby=margin-label]\", {:?})", if i % 8 < 4 { "ArrowLeft" } else { "ArrowRight" });
        say("the margin moved: new ranking drawn after", &settled(&browser, slide, "[role=grid], [data-testid^=count-]").await);
        say("candidates: scrolling", &scrolled(&browser).await);
        browser.goto(&format!("{address}/companies")).await;
        browser.find("[data-testid=company-row] .cell.n").await;
        say("companies: scrolling", &scrolled(&browser).await);
    });
}

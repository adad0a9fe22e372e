//! A screen is kept, changed, compared with what it was, taken back; who entered and left is told; another tab is not overwritten.

use crate::from_start_to_candidates::add_criterion;
use artemon_e2e::{Browser, story};

const BUTTON: &str = "button";
const CRITERION: &str = "[data-testid=criterion]";

async fn press(browser: &Browser, button: &str) {
    browser.with_text(BUTTON, button).await.click().await.unwrap();
}

/// Something of the menu of what can be done with the screen.
async fn more(browser: &Browser, item: &str) {
    press(browser, "More ▾").await;
    browser.with_text("[role=menuitem]", item).await.click().await.unwrap();
}

async fn criteria(browser: &Browser, wanted: usize) {
    browser.until("the criteria", async || (browser.all(CRITERION).await.len() == wanted).then_some(())).await;
}

/// What a request of the page itself is answered.
async fn fetched(browser: &Browser, path: &str, method: &str, version: usize, body: &str) -> serde_json::Value {
    let asked = format!(
        "const done = arguments[arguments.length - 1];
         fetch('{path}', {{ method: '{method}', body: {body}, headers: {{ 'Content-Type': 'application/json', 'If-Match': '\"{version}\"' }} }})
           .then((r) => r.json()).then(done);"
    );
    browser.ask(&asked).await
}

#[test]
fn a_screen_is_kept_with_its_versions_and_told_what_changed() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/screens")).await;
        press(&browser, "New").await;
        add_criterion(&browser, "from_low_52w").await;
        let name = browser.find("input[aria-label='Name of the screen']").await;
        browser.retype(&name, "Near the low").await;
        press(&browser, "Save…").await;
        let folder = browser.find("[role=dialog] input[list]").await;
        browser.retype(&folder, "Evening / first").await;
        press(&browser, "Save").await;
        browser.with_text(BUTTON, "Saved").await;

        // It is found by its id, and the next version is another.
        let id = browser.until("the id in the address", async || doc_in(&browser).await).await;
        browser.goto(&format!("{address}/screens?doc={id}")).await;
        criteria(&browser, 1).await;
        add_criterion(&browser, "net_margin").await;
        press(&browser, "Save changes").await;
        browser.with_text(BUTTON, "Saved").await;
        more(&browser, "Versions…").await;
        let said = browser.text_until("ul[aria-label='What changed']", |t| t.contains("Added")).await;
        assert!(said.contains("Net margin at least"), "{said}");
        press(&browser, "Go back to version 1").await;
        criteria(&browser, 1).await;
        press(&browser, "Save changes").await;
        browser.with_text(BUTTON, "Saved").await;

        // Another tab saves a version in between: nothing of it is overwritten, and one is told.
        let kept = fetched(&browser, &format!("/api/documents/{id}/file"), "GET", 0, "undefined").await;
        let (path, file) = (format!("/api/documents/{id}"), format!("JSON.stringify({kept})"));
        assert_eq!(fetched(&browser, &path, "PUT", 3, &file).await["version"], 4);
        add_criterion(&browser, "pe").await;
        press(&browser, "Save changes").await;
        let told = browser.text_until("[role=alert]", |t| t.contains("Near the low")).await;
        assert!(told.contains("version 4"), "{told}");
        assert_eq!(fetched(&browser, &path, "GET", 0, "undefined").await["version"], 4);
        let refused = browser.console_errors().await;
        assert!(refused.iter().all(|e| e.contains("412")), "{refused:?}");

        // The feed goes on: the screen as it is kept says who came and went since it was looked at.
        fetched(&browser, "/api/feed", "POST", 0, "JSON.stringify({ sessions: 40 })").await;
        browser.goto(&format!("{address}/screens?doc={id}")).await;
        let title = browser.text_until("[data-testid=survivors]", |t| t.contains("since 30 Jun 2026")).await;
        assert!(title.contains("entered") && title.contains("left"), "{title}");
        let why = browser.text_until("[data-testid=changed]", |t| !t.is_empty()).await;
        assert!(why.contains("From 52-week low") && why.contains("was"), "{why}");
        press(&browser, "The same day in other years").await;
        browser.find("table[aria-label='The same day in other years']").await;

        // Deleted, it can be brought back at once.
        press(&browser, "Screens").await;
        browser.text_until("[aria-label='Screens']", |t| t.contains("Evening › first") && t.contains("Near the low")).await;
        browser.find("[aria-label^='What can be done with Near the low']").await.click().await.unwrap();
        browser.with_text("[role=menuitem]", "Delete").await.click().await.unwrap();
        browser.text_until("[aria-label='Screens']", |t| t.contains("None of your own yet")).await;
        press(&browser, "Undo").await;
        browser.text_until("[aria-label='Screens']", |t| t.contains("Near the low")).await;
    });
}

async fn doc_in(browser: &Browser) -> Option<String> {
    let found = browser.ask("arguments[arguments.length - 1](new URL(location.href).searchParams.get('doc'))").await;
    found.as_str().map(str::to_owned)
}

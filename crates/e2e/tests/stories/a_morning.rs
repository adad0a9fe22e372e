//! The quarter of an hour before work: what happened, whom one follows, what one wants to be told of.

use crate::steps::{BUTTON, asked, count, press, until_count};
use artemon_e2e::{Browser, story, story_without_data};

const LINE: &str = "[data-line]";
const MEMBER: &str = "[data-testid=member]";

/// The symbols of the first so many companies.
async fn symbols(browser: &Browser, many: usize) -> Vec<String> {
    let all = asked(browser, "POST", "/api/screen/symbols", "{ screen: { blocks: [] } }").await;
    all.as_array().unwrap().iter().take(many).map(|s| s.as_str().unwrap().to_owned()).collect()
}

async fn list(browser: &Browser, name: &str, symbols: &[String]) -> String {
    let made = asked(browser, "POST", "/api/documents", &format!("{{ kind: 'list', name: '{name}', body: {{}} }}")).await;
    let id = made["id"].as_str().unwrap().to_owned();
    asked(browser, "POST", &format!("/api/lists/{id}/members"), &format!("{{ symbols: {} }}", serde_json::json!(symbols))).await;
    id
}

/// Open, read, mark three by key, put one away, make a list of those marked, set an alert, let a session come: the alert is there, in the
/// page that was open, and the digest in the outbox.
#[test]
fn a_morning() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/")).await;
        browser.find("section[aria-label='Insiders bought'] [data-line]").await;
        // Three lines marked, one put away, by the keys alone.
        let lines = count(&browser, LINE).await;
        for _ in 0..3 {
            browser.press("jx").await;
        }
        until_count(&browser, "footer[aria-label='Marked companies'] [role=button]", |n| n >= 3).await;
        browser.press("jp").await;
        until_count(&browser, LINE, |n| n <= lines).await;
        browser.with_text(BUTTON, "Undo").await;
        browser.with_text(BUTTON, "1 put away").await;
        // What followed earlier purchases of such a company is told with them.
        browser.text_until("section[aria-label='Insiders bought']", |t| t.contains("against all companies")).await;
        // What is marked goes onto a list that is made for it.
        press(&browser, "Add to a list").await;
        let name = browser.find("[role=dialog] input").await;
        browser.retype(&name, "Watch").await;
        press(&browser, "Make “Watch”").await;
        browser.until("the dialog to close", async || browser.all("[role=dialog]").await.is_empty().then_some(())).await;
        assert_eq!(asked(&browser, "GET", "/api/lists", "").await[0]["symbols"].as_array().unwrap().len(), 3);

        // An alert, with what it would have said; a digest with each session.
        browser.goto(&format!("{address}/today/alerts")).await;
        press(&browser, "New alert").await;
        browser.text_until("[role=dialog]", |t| t.contains("it would have told you")).await;
        press(&browser, "Cancel").await;
        let everyone = symbols(&browser, 60).await;
        list(&browser, "Everyone", &everyone).await;
        let rises = "{ kind: 'alert', name: 'Rises', body: { what: { kind: 'formula', formula: 'change(1d) > 0' }, mail: true } }";
        asked(&browser, "POST", "/api/documents", rises).await;
        asked(&browser, "PUT", "/api/mail/settings", "{ to: 'me@example.org', digest: { every: 'session', at: '07:00', screens: [] } }")
            .await;
        browser.goto(&format!("{address}/today")).await;
        browser.find(LINE).await;
        assert!(browser.all("section[aria-label='Alerts']").await.is_empty());
        // The session comes while the page is open.
        asked(&browser, "POST", "/api/feed", "{ sessions: 1 }").await;
        let told = browser.text_until("section[aria-label='Alerts']", |t| t.contains("Rises")).await;
        assert!(told.contains("Became true"), "{told}");
        browser.goto(&format!("{address}/today/messages")).await;
        until_count(&browser, "[data-testid=mail]", |n| n == 2).await;
        browser.text_until("pre", |t| t.contains("127.0.0.1")).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// Whoever has no data yet is not told of a failure, but shown where data comes in.
#[test]
fn the_first_morning_leads_to_the_data() {
    story_without_data(async |browser, address| {
        for place in ["/", "/screens", "/candidates"] {
            browser.goto(&format!("{address}{place}")).await;
            browser.text_until("main", |t| t.contains("No companies yet")).await;
        }
        browser.with_text("a", "Import data").await.click().await.unwrap();
        browser.text_until("main", |t| t.contains("Drop files on the right to begin") && t.contains("To try with")).await;
        // Each refusal is also told in the console.
        assert!(browser.console_errors().await.iter().all(|e| e.contains("422")));
    });
}

/// Thirty symbols pasted, three of them unknown: they are named before anything lands, and the rest is put on the list.
#[test]
fn what_is_pasted_is_shown_before_it_lands() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/lists")).await;
        press(&browser, "Make the list “Watch”").await;
        let some = symbols(&browser, 27).await;
        browser.with_text(BUTTON, "paste symbols, ISINs or names").await.click().await.unwrap();
        let field = browser.find("[role=dialog] textarea").await;
        field.send_keys(&format!("{}, NOSUCH1, NOSUCH2, NOSUCH3", some.join(", "))).await.unwrap();
        let told = browser.text_until("[role=dialog]", |t| t.contains("27 understood")).await;
        assert_eq!(told.matches("Unknown:").count(), 3, "{told}");
        assert_eq!(asked(&browser, "GET", "/api/lists", "").await[0]["symbols"], serde_json::json!([]), "nothing has landed");
        press(&browser, "Put 27 on the list").await;
        browser.text_until("h2 + p", |t| t.contains("27 companies")).await;
        assert_eq!(asked(&browser, "GET", "/api/lists", "").await[0]["symbols"].as_array().unwrap().len(), 27);
        // Undone in one step.
        browser.press("\u{e009}z\u{e000}").await;
        browser.text_until("h2 + p", |t| t.contains("Nobody yet")).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

async fn on_second(browser: &Browser) -> usize {
    let lists = asked(browser, "GET", "/api/lists", "").await;
    let second = lists.as_array().unwrap().iter().find(|l| l["name"] == "Second").unwrap();
    second["symbols"].as_array().unwrap().len()
}

/// Companies go onto a list from the table of a screen: a row by the mouse, and with a marked one all that are marked. What they came
/// from is remembered.
#[test]
fn companies_are_dragged_from_a_table_onto_a_list() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/lists")).await;
        list(&browser, "Second", &[]).await;
        browser.goto(&format!("{address}/companies")).await;
        let row = "[data-testid=company-row]";
        until_count(&browser, row, |n| n > 5).await;
        let onto_second = async |at: usize| {
            let row = browser.all("[data-testid=company-row] [data-column=company]").await.swap_remove(at);
            browser.hold(&row).await;
            let onto = browser.with_text("[data-testid=drop-on] span", "Second").await;
            browser.let_go_over(&onto).await;
            until_count(&browser, "[data-testid=drop-on]", |n| n == 0).await;
        };
        onto_second(0).await;
        browser.with_text(BUTTON, "Undo").await;
        browser.until("one on the list", async || (on_second(&browser).await == 1).then_some(())).await;
        browser.focus("[role=grid]").await;
        browser.press("jxjxjx").await;
        onto_second(2).await;
        browser.until("four on the list", async || (on_second(&browser).await == 4).then_some(())).await;
        let lists = asked(&browser, "GET", "/api/lists", "").await;
        let second = asked(&browser, "GET", &format!("/api/documents/{}", lists[0]["id"].as_str().unwrap()), "").await;
        assert!(second.to_string().contains("Companies"), "{second}");
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// A company goes from one list to another: by the mouse onto its name, and by a key.
#[test]
fn companies_move_between_lists_by_mouse_and_by_key() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/lists")).await;
        let some = symbols(&browser, 3).await;
        let first = list(&browser, "First", &some).await;
        list(&browser, "Second", &[]).await;
        browser.goto(&format!("{address}/lists?list={first}")).await;
        until_count(&browser, MEMBER, |n| n == 3).await;
        let onto = browser.with_text("[data-testid=list-name] button span", "Second").await;
        let grip = browser.find("[data-testid=member] [draggable=true]").await;
        browser.drop_onto(&grip, &onto).await;
        until_count(&browser, MEMBER, |n| n == 2).await;
        assert_eq!(on_second(&browser).await, 1);
        // The next one by key.
        browser.focus("[role=grid]").await;
        browser.press("m").await;
        browser.find("[role=dialog] ul button").await.click().await.unwrap();
        until_count(&browser, MEMBER, |n| n == 1).await;
        assert_eq!(on_second(&browser).await, 2);
        // What one says of a company stands under its name.
        browser.focus("[role=grid]").await;
        browser.press("n").await;
        browser.find("[role=dialog] textarea").await.send_keys("Wait for the interim report.").await.unwrap();
        press(&browser, "Save").await;
        browser.text_until(MEMBER, |t| t.contains("Wait for the interim report.")).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// The page of a day of the past: what was known then, since a week before it.
#[test]
fn today_of_last_week() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/today?as_of=2026-06-23")).await;
        let head = browser.text_until("main", |t| t.contains("Tuesday 23 June")).await;
        assert!(head.contains("since 16 Jun 2026"), "{head}");
        browser.find("section[aria-label='The market against its own past'] svg").await;
        // One's own arrangement stays.
        press(&browser, "Arrange").await;
        browser.find("input[aria-label='At a yearly low, and sound']").await.click().await.unwrap();
        press(&browser, "Done").await;
        browser.goto(&format!("{address}/today")).await;
        browser.text_until("main", |t| t.contains("Tuesday 30 June")).await;
        assert!(browser.all("section[aria-label='At a yearly low, and sound']").await.is_empty());
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

//! By keyboard alone, and by the rules of axe-core for every place in both themes.

use crate::steps::{asked, backtest, violations};
use artemon_e2e::{Browser, story};

const DOWN: &str = "\u{E015}";
const RIGHT: &str = "\u{E014}";
const SHIFT: &str = "\u{E008}";
const CTRL: &str = "\u{E009}";
const RELEASE: &str = "\u{E000}";
const ENTER: &str = "\u{E007}";

#[test]
fn no_place_breaks_a_rule_of_accessibility() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/candidates")).await;
        let company = browser.find("[data-testid=candidate] a").await.attr("href").await.unwrap().unwrap();
        let other = browser.all("[data-testid=candidate] a").await[1].attr("href").await.unwrap().unwrap();
        let symbol = |path: &str| path.rsplit('/').next().unwrap().to_owned();
        let compare = format!("/compare?symbols={},{}", symbol(&company), symbol(&other));
        let figure = format!("{company}?figure=roe&of={}", symbol(&company));
        order(&browser, &symbol(&company)).await;
        let backtest = backtest(&browser).await;
        let places: [(&str, &str); 31] = [
            ("/today", "[data-line]"),
            ("/today/trades", "table[aria-label=\"Insiders' trades\"] td"),
            ("/today/alerts", "main h1"),
            ("/today/messages", "section[aria-label='Outbox']"),
            ("/lists", "main button"),
            ("/ledger", "section[aria-label=Orders] table"),
            ("/ledger?view=Decisions", "table[aria-label=Decisions] td"),
            ("/ledger?view=Results", "table[aria-label='By year'] td"),
            ("/ledger?view=Journal", "table[aria-label=Journal] td"),
            ("/backtests", "table[aria-label=Backtests] td"),
            (&backtest, "section[aria-label=Curve] polygon"),
            ("/backtests?view=A+measure&formula=pe", "table[aria-label='Date by date'] td"),
            ("/backtests?view=The+values", "table[aria-label='What became of past values'] td"),
            ("/screens", "[data-testid=survivor] .cell.n"),
            ("/screens?view=wall", "[data-testid=tile] svg"),
            ("/screens?view=map", "svg[aria-label*=' companies: ']"),
            ("/candidates", "[data-testid=candidate] .cell.n"),
            ("/candidates?view=sectors", "table td"),
            ("/companies", "[data-testid=company-row] .cell.n"),
            (&company, "#q-worth svg"),
            (&figure, "[aria-label='The figure by month'] svg"),
            (&compare, "[aria-label='Companies side by side'] .cell b"),
            ("/data", "[aria-label='Data loaded, by table and year']"),
            ("/guide", "input[aria-label='Search measures']"),
            ("/guide/ev_ebit", "[data-testid=distribution] svg"),
            ("/guide/first-steps", "main ol li"),
            ("/guide/language", "main a[href*='f=fy']"),
            ("/guide/methods", "main section a"),
            ("/guide/keys", "main dl dd"),
            ("/guide/places/data", "main dl dd"),
            ("/assumptions", "[aria-live] b"),
        ];
        let mut wrong = Vec::new();
        for (path, ready) in places {
            browser.goto(&format!("{address}{path}")).await;
            browser.find(ready).await;
            wrong.extend(violations(&browser).await.into_iter().map(|v| format!("{path}: {v}")));
        }
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    });
}

/// An account with an order that waits.
async fn order(browser: &Browser, symbol: &str) {
    let account = "{ name: 'Main', currency: 'ZOC', kind: 'simulated', deposit: 1000 }";
    let id = asked(browser, "POST", "/api/ledger/accounts", account).await["id"].as_str().unwrap().to_owned();
    let reasons = "{ thesis: 'Cheap and sound.', confidence: 0.7 }";
    let order = format!("{{ account: '{id}', symbol: '{symbol}', side: 'buy', quantity: 1, limit: 0.01, sure: true, reasons: {reasons} }}");
    asked(browser, "POST", "/api/ledger/orders", &order).await;
}

/// The row that the keys stand on, and its cell.
async fn cursor(browser: &Browser) -> (f64, String) {
    let row = browser.measure("Number(document.querySelector('.cell.cursor').closest('[data-row]').dataset.row)").await;
    (row, browser.find(".cell.cursor").await.attr("data-column").await.unwrap().unwrap())
}

#[test]
fn a_table_is_walked_marked_sorted_and_opened_by_keyboard() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/companies")).await;
        browser.find("[data-testid=company-row] .cell.n").await;
        let first = browser.text("[data-row='0'] [data-column=company]").await;
        browser.focus("[role=grid]").await;
        browser.press(&format!("{DOWN}{DOWN}{RIGHT}")).await;
        assert_eq!(cursor(&browser).await, (2.0, "company".to_owned()));
        // From here three more rows are chosen, and all are marked at once.
        browser.press(&format!("{SHIFT}{DOWN}{DOWN}{RELEASE}")).await;
        browser.until("three chosen rows", async || (browser.all(".row.chosen").await.len() == 3).then_some(())).await;
        browser.press(" ").await;
        browser.text_until("footer[aria-label='Marked companies']", |t| t.contains("Marked 3")).await;
        assert_eq!(browser.all("[role=row][aria-selected=true]").await.len(), 3);
        browser.look("table-marked.png").await;
        // The last of eight hundred is a key away, and comes.
        browser.press(&format!("{CTRL}\u{E010}{RELEASE}")).await;
        // Beside the rows there are the header and the medians.
        browser.find("[data-testid=medians]").await;
        let rows = browser.measure("Number(document.querySelector('[role=grid]').getAttribute('aria-rowcount'))").await;
        browser
            .until("the last row", async || {
                let (row, _) = cursor(&browser).await;
                let here = browser.all(".cell.cursor a").await.len() == 1;
                (here && (row - (rows - 3.0)).abs() < 0.5).then_some(())
            })
            .await;
        // The header stays where it is, over the columns.
        let over = "document.querySelector('.head').getBoundingClientRect().top - document.querySelector('[role=grid]').getBoundingClientRect().top";
        assert!(browser.measure(over).await.abs() < 2.0);
        let under = "document.querySelector('.foot').getBoundingClientRect().top - document.querySelector('.cell.cursor').getBoundingClientRect().bottom";
        assert!(browser.measure(under).await > -2.0, "the medians lie over the last row");
        // A header sorts, with Shift as a second key; its menu moves, hides and shows.
        browser.focus("[data-head=pe] button").await;
        browser.press(ENTER).await;
        browser.find("[data-head=pe][aria-sort=ascending]").await;
        browser.measure("document.querySelector('[role=grid]').scrollTop = 0").await;
        browser.text_until("[data-row='0'] [data-column=company]", |t| t != first).await;
        browser.focus("[data-head=industry] button").await;
        browser.press(DOWN).await;
        browser.with_text("[role=menuitem]", "Hide").await.click().await.unwrap();
        browser.until("the column to go", async || browser.all("[data-head=industry]").await.is_empty().then_some(())).await;
        // Enter on the name opens the company, and j steps to the next of all.
        browser.focus("[role=grid]").await;
        browser.press(&format!("{CTRL}\u{E011}{RELEASE}")).await;
        browser.until("the first row", async || (cursor(&browser).await.0 < 0.5).then_some(())).await;
        browser.press(ENTER).await;
        browser.find("aside svg").await;
    });
}

#[test]
fn what_was_changed_is_undone_and_done_again() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/screens")).await;
        let before = browser.text("[data-testid=survivors]").await;
        let criteria = browser.all("[data-testid=criterion]").await.len();
        browser.find("[data-testid=criterion] button").await.click().await.unwrap();
        browser.with_text("button", "Remove").await.click().await.unwrap();
        browser.with_text("[role=alert], .MuiSnackbarContent-message", "Criterion removed").await;
        let without = browser.text_until("[data-testid=survivors]", |t| t != before).await;
        browser.focus("[role=grid]").await;
        browser.press(&format!("{CTRL}z{RELEASE}")).await;
        browser.text_until("[data-testid=survivors]", |t| t == before).await;
        assert_eq!(browser.all("[data-testid=criterion]").await.len(), criteria);
        browser.press(&format!("{CTRL}y{RELEASE}")).await;
        browser.text_until("[data-testid=survivors]", |t| t == without).await;
        // A bound moved three times in quick succession is one change.
        browser.focus("[data-testid=criterion] [role=slider]").await;
        browser.press("\u{E012}\u{E012}\u{E012}").await;
        browser.text_until("[data-testid=survivors]", |t| t != without).await;
        browser.focus("[role=grid]").await;
        browser.press(&format!("{CTRL}z{RELEASE}")).await;
        browser.text_until("[data-testid=survivors]", |t| t == without).await;
    });
}

/// In a narrow window, or one enlarged twofold, nothing runs out of it, and what stood at the sides is behind a button.
#[test]
fn a_narrow_window_has_room_for_everything() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/candidates")).await;
        let company = browser.find("[data-testid=candidate] a").await.attr("href").await.unwrap().unwrap();
        order(&browser, company.rsplit('/').next().unwrap()).await;
        let backtest = backtest(&browser).await;
        for (width, height) in [(768, 1024), (640, 400)] {
            browser.size(width, height).await;
            for (path, ready) in [
                ("/today", "[data-line]"),
                ("/today/trades", "table td"),
                ("/today/messages", "section[aria-label='Outbox']"),
                ("/lists", "main button"),
                ("/ledger", "[aria-label=Orders] table"),
                ("/ledger?view=Decisions", "table[aria-label=Decisions] td"),
                ("/ledger?view=Results", "table[aria-label='By year'] td"),
                ("/backtests", "table[aria-label=Backtests] td"),
                (&backtest, "section[aria-label=Curve] polygon"),
                ("/backtests?view=The+values", "table[aria-label='What became of past values'] td"),
                ("/screens", "[data-testid=survivor] .cell.n"),
                ("/candidates", "[data-testid=candidate] .cell.n"),
                ("/companies", "[data-testid=company-row] .cell.n"),
                (&company, "#q-worth svg"),
                ("/data", "[role=row] .cell.n"),
                ("/guide/ev_ebit", "[data-testid=distribution] svg"),
                ("/assumptions", "[aria-live] b"),
            ] {
                browser.goto(&format!("{address}{path}")).await;
                browser.find(ready).await;
                let beyond = browser.measure("document.documentElement.scrollWidth - innerWidth").await;
                assert!(beyond < 0.5, "{path} runs out of a window of {width} by {beyond}");
                browser.look(&format!("narrow-{width}-{}.png", path.split('/').nth(1).unwrap())).await;
            }
            browser.goto(&format!("{address}/screens")).await;
            browser.with_text("button", "Criteria").await.click().await.unwrap();
            browser.find("[data-testid=criterion] [role=slider]").await;
            browser.goto(&format!("{address}{company}")).await;
            browser.with_text("button", "Price and value").await.click().await.unwrap();
            browser.text_until("aside", |t| t.contains("you ask")).await;
        }
    });
}

/// Looks for something with Ctrl K and takes the first that is found.
async fn find(browser: &Browser, words: &str, first: &str) {
    browser.press(&format!("{CTRL}k{RELEASE}")).await;
    browser.press(words).await;
    browser.text_until("[role=option][aria-selected=true]", |t| t.contains(first)).await;
    browser.press(ENTER).await;
}

#[test]
fn everything_is_found_and_done_by_keyboard() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/companies")).await;
        browser.find("[data-testid=company-row] .cell.n").await;
        let rows = "Number(document.querySelector('[role=grid]').getAttribute('aria-rowcount'))";
        let all = browser.measure(rows).await;
        // An action of the place: the rows stand in groups under medians, and a group is folded.
        find(&browser, "group sector", "Group by sector").await;
        browser.find("[data-testid=group][data-row='0'][aria-expanded=true] .cell.n").await;
        browser.find("[data-row='1'] .cell a").await;
        let grouped = browser.measure(rows).await;
        assert!(grouped > all + 1.5, "{grouped} lines of {all} companies");
        browser.focus("[role=grid]").await;
        browser.press(ENTER).await;
        browser.find("[data-row='0'][aria-expanded=false]").await;
        browser.find("[data-testid=group][data-row='1']").await;
        browser.press(ENTER).await;
        // The cursor on a name shows the company at a glance.
        browser.press(&format!("{DOWN}{RIGHT}")).await;
        browser.find("[role=tooltip] svg[aria-label^=Price]").await;
        browser.look("glance.png").await;
        browser.press("\u{E00C}").await;
        browser.until("the card to go", async || browser.all("[role=tooltip]").await.is_empty().then_some(())).await;
        // A measure, and a place.
        find(&browser, "net margin", "Net margin").await;
        browser.text_until("h1", |t| t.starts_with("Net margin")).await;
        find(&browser, "go candidates", "Go to Candidates").await;
        browser.find("[data-testid=candidate] .cell.n").await;
    });
}

#[test]
fn single_keys_are_listed_and_can_be_turned_off() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/candidates")).await;
        browser.find("[data-testid=candidate] .cell.n").await;
        browser.press("?").await;
        let listed = browser.text_until("[role=dialog]", |t| t.contains("Go to Screens")).await;
        assert!(listed.contains("Change the view") && listed.contains("Ctrl Z"), "{listed}");
        browser.focus("[role=dialog] input[type=checkbox]").await;
        browser.press(" ").await;
        browser.press("\u{E00C}").await;
        browser.until("the list to go", async || browser.all("[role=dialog]").await.is_empty().then_some(())).await;
        browser.press("gs").await;
        // Keys with Ctrl go on, and lead back to the switch.
        find(&browser, "all shortcuts", "Show all shortcuts").await;
        browser.find("[role=dialog]").await;
        assert!(browser.measure("location.pathname === '/candidates' ? 1 : 0").await > 0.5, "g s did nothing");
        browser.focus("[role=dialog] input[type=checkbox]").await;
        browser.press(" ").await;
        browser.press("\u{E00C}").await;
        browser.until("the list to go", async || browser.all("[role=dialog]").await.is_empty().then_some(())).await;
        browser.press("gs").await;
        browser.find("[data-testid=criterion]").await;
    });
}

#[test]
fn a_number_is_stepped_with_the_arrow_keys() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/screens")).await;
        let before = browser.text("[data-testid=survivors]").await;
        browser.find("[data-testid=criterion] button").await.click().await.unwrap();
        let field = "[data-testid=criterion] input[inputmode=decimal]";
        browser.find(field).await;
        browser.focus(field).await;
        let bound = browser.measure(&format!("Number(document.querySelector('{field}').value)")).await;
        browser.press("\u{E015}").await;
        browser.text_until("[data-testid=survivors]", |t| t != before).await;
        let stepped = browser.measure(&format!("Number(document.querySelector('{field}').value)")).await;
        assert!(stepped < bound, "{stepped} after {bound}");
        browser.press("\u{E013}").await;
        browser.text_until("[data-testid=survivors]", |t| t == before).await;
    });
}

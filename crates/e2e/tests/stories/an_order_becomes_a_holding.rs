//! From an account to an order, a holding, a sale: buying with discipline, and what came of it.

use crate::steps::{asked, count, press};
use artemon_e2e::{Browser, story};
use serde_json::Value;
use std::path::Path;

const SHEET: &str = "form[aria-label='Order sheet']";

/// The number fields of the sheet: limit, shares, amount, the price and the gain of the sell rule.
const FIELDS: &str = "form[aria-label='Order sheet'] input[inputmode=decimal]";

async fn next_session(browser: &Browser) {
    asked(browser, "POST", "/api/feed", "{ sessions: 1 }").await;
}

async fn sheet_closes(browser: &Browser) {
    press(browser, "Give the order").await;
    browser.until("the sheet to close", async || browser.all(SHEET).await.is_empty().then_some(())).await;
}

/// An account is opened, an order given by the key b from a company's page at the market's open; the next session fills it, the sell rule
/// stands among the orders; sold again, it is told what came of it. An order at a limit far below the price waits and is cancelled.
#[test]
fn an_order_becomes_a_holding() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/ledger")).await;
        let name = browser.find("form[aria-label='New account'] input").await;
        browser.retype(&name, "Main").await;
        press(&browser, "Open the account").await;
        browser.text_until("section[aria-label=Accounts]", |t| t.contains("Main")).await;
        browser.text_until("section[aria-label=Holdings]", |t| t.contains("Nothing is held")).await;

        // One that trades in the account's currency.
        let symbols = asked(&browser, "POST", "/api/screen/symbols", "{ screen: { blocks: [] } }").await;
        let symbol = symbols[0].as_str().unwrap().to_owned();
        browser.goto(&format!("{address}/companies/{symbol}")).await;
        browser.find("section[aria-label=Lists]").await;
        browser.press("b").await;
        browser.text_until(SHEET, |t| t.contains("or less until cancelled")).await;
        // How much, with the keys; the sentence says what it comes to.
        let fields = browser.all(FIELDS).await;
        browser.retype(&fields[1], "10").await;
        browser.retype(&fields[4], "300").await;
        browser.text_until(SHEET, |t| t.contains("with fees")).await;
        let limit = last_close(&browser, &symbol).await;
        browser.retype(&fields[0], &format!("{:.2}", limit * 1.2)).await;
        browser.text_until(SHEET, |t| t.contains("touched in 60 of the last 60 sessions")).await;
        sheet_closes(&browser).await;

        next_session(&browser).await;
        browser.goto(&format!("{address}/ledger")).await;
        let held = browser.text_until("section[aria-label=Holdings]", |t| t.contains("since 1 Jul 2026")).await;
        assert!(held.contains("10"), "{held}");
        let orders = browser.text_until("section[aria-label=Orders]", |t| t.contains("filled on 1 Jul 2026")).await;
        assert!(orders.contains("1 open") && orders.contains("sell rule of"), "{orders}");
        // The rule is cancelled, what is held is sold at the next open.
        press(&browser, "Cancel").await;
        browser.text_until("section[aria-label=Orders]", |t| t.contains("cancelled by hand")).await;
        press(&browser, "Sell").await;
        browser.text_until(SHEET, |t| t.contains("Sell ")).await;
        let fields = browser.all(FIELDS).await;
        browser.retype(&fields[1], "11").await;
        browser.text_until(SHEET, |t| t.contains("more than that cannot be sold")).await;
        browser.retype(&fields[1], "10").await;
        browser.retype(&fields[0], &format!("{:.2}", limit * 0.7)).await;
        browser.text_until(SHEET, |t| t.contains("after fees") && !t.contains("cannot be sold")).await;
        sheet_closes(&browser).await;
        next_session(&browser).await;
        browser.goto(&format!("{address}/ledger")).await;
        browser.text_until("section[aria-label=Sold]", |t| t.contains("Main")).await;
        browser.text_until("section[aria-label=Holdings]", |t| t.contains("Nothing is held")).await;
        assert!(count(&browser, "section[aria-label=Wealth] svg").await == 1);
        press(&browser, "Journal").await;
        let journal = browser.text_until("section[aria-label=Journal]", |t| t.contains("Sold 10")).await;
        assert!(journal.contains("Bought 10") && journal.contains("cancelled: by hand"), "{journal}");
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// The last close of a company.
async fn last_close(browser: &Browser, symbol: &str) -> f64 {
    let page = asked(browser, "POST", "/api/ledger", "{}").await;
    let account = page["accounts"][0]["id"].as_str().unwrap();
    let request = format!("{{ account: '{account}', symbol: '{symbol}', side: 'buy' }}");
    asked(browser, "POST", "/api/ledger/sheet", &request).await["last"].as_f64().unwrap()
}

/// A purchase with its reasons is filled; a large order in parts, which is changed while it works; one that nobody meets expires; a sell rule
/// is reached. Dividends come in. What was due is looked at again, then and now side by side, and closed with what was learnt.
#[test]
fn what_was_bought_is_followed_up() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/ledger")).await;
        let account = "{ name: 'Main', currency: 'ZOC', kind: 'simulated', deposit: 5000000 }";
        let account = asked(&browser, "POST", "/api/ledger/accounts", account).await["id"].as_str().unwrap().to_owned();
        let symbols = in_zoc(&browser, &account).await;
        // With its reasons, from the company's page.
        browser.goto(&format!("{address}/companies/{}", symbols[0])).await;
        browser.find("section[aria-label=Lists]").await;
        browser.press("b").await;
        browser.text_until(SHEET, |t| t.contains("or less until cancelled")).await;
        let fields = browser.all(FIELDS).await;
        browser.retype(&fields[1], "10").await;
        let last = last_close(&browser, &symbols[0]).await;
        browser.retype(&fields[0], &format!("{:.2}", last * 1.1)).await;
        let texts = browser.all("form[aria-label='Order sheet'] textarea:not([readonly]):not([aria-hidden])").await;
        browser.retype(&texts[0], "Cheap against its own ten years.").await;
        browser.retype(&texts[1], "Debt above twice the equity.").await;
        browser.retype(&texts[2], "debt_to_equity > 2").await;
        press(&browser, "▸ Does it fit what I hold?").await;
        browser.text_until(SHEET, |t| t.contains("of what you hold, now") && t.contains("cash after it")).await;
        let day = browser.find("form[aria-label='Order sheet'] input[type=date]").await;
        day.send_keys("09012026").await.unwrap();
        // Left by mistake and opened again: nothing typed is lost.
        press(&browser, "Cancel").await;
        browser.until("the sheet to close", async || browser.all(SHEET).await.is_empty().then_some(())).await;
        browser.press("b").await;
        browser.text_until(SHEET, |t| t.contains("Buy 10 at")).await;
        sheet_closes(&browser).await;
        // A third of a day's trading in parts; one that nobody meets; one whose sell rule is under the price.
        let sheet = sheet(&browser, &account, &symbols[1], "at: 'market', quantity: 100").await;
        let third = (33.0 / sheet["of_volume"].as_f64().unwrap()).floor();
        let give = async |symbol: &str, terms: &str| {
            let request = format!("{{ account: '{account}', symbol: '{symbol}', side: 'buy', sure: true, {terms} }}");
            asked(&browser, "POST", "/api/ledger/orders", &request).await["order"].as_str().unwrap().to_owned()
        };
        for symbol in &symbols[4..8] {
            give(symbol, "at: 'market', quantity: 40").await;
        }
        // Under the price, until somebody sells so low.
        for symbol in &symbols[8..] {
            let under = last_close(&browser, symbol).await * 0.97;
            give(symbol, &format!("limit: {under}, quantity: 20, good: 'until_cancelled'")).await;
        }
        let large = give(&symbols[1], &format!("at: 'market', quantity: {third}, good: 'until_cancelled'")).await;
        let never = give(&symbols[2], "limit: 0.05, quantity: 5, good: 'day'").await;
        let low = last_close(&browser, &symbols[3]).await * 0.5;
        give(&symbols[3], &format!("at: 'market', quantity: 5, sell_at: {low}")).await;
        next_session(&browser).await;
        browser.goto(&format!("{address}/ledger")).await;
        let orders = browser.text_until("section[aria-label=Orders]", |t| t.contains("expired on")).await;
        assert!(orders.contains(&large) && orders.contains(&never) && orders.contains(" of it"), "{orders}");
        // What is left of the large one is made smaller.
        press_in_row(&browser, "Orders", &large).await;
        let left = browser.find("form[aria-label='Change the order'] input[inputmode=decimal]").await;
        browser.retype(&left, "7").await;
        press(&browser, "Change it").await;
        browser
            .until("the form to close", async || browser.all("form[aria-label='Change the order']").await.is_empty().then_some(()))
            .await;
        next_session(&browser).await;
        browser.goto(&format!("{address}/ledger")).await;
        // The sell rule was under the price: it is sold at the open.
        browser.text_until("section[aria-label=Sold]", |t| t.contains("Main")).await;
        for _ in 0..2 {
            asked(&browser, "POST", "/api/feed", "{ sessions: 60 }").await;
        }
        let orders = asked(&browser, "POST", "/api/ledger", "{}").await["orders"].as_array().unwrap().clone();
        let patient = orders.iter().filter(|o| o["quantity"] == 20.0 && o["state"] == "filled");
        let prices: Vec<(f64, f64)> = patient.map(|o| (o["price"].as_f64().unwrap(), o["limit"].as_f64().unwrap())).collect();
        assert!(!prices.is_empty() && prices.iter().all(|(price, limit)| *price <= limit + 1e-9), "{prices:?}");
        browser.goto(&format!("{address}/ledger?view=Results")).await;
        browser.text_until("section[aria-label=Income]", |t| t.contains("received")).await;
        browser.text_until("section[aria-label='By year']", |t| t.contains("2026")).await;
        // The holding opens with its chart and reasons; from there its decision.
        browser.goto(&format!("{address}/ledger")).await;
        press_in_row(&browser, "Holdings", "Cheap against its own").await;
        browser.text_until("[role=dialog]", |t| t.contains("10 held at") && t.contains("Look at it again: it is due")).await;
        press(&browser, "Look at it again: it is due").await;
        browser.text_until("form[aria-label=Review]", |t| t.contains("Was the reason right?")).await;
        browser.text_until("[aria-label=Decision]", |t| t.contains("Debt above twice") && t.contains("Margin of safety")).await;
        browser.with_text("[aria-label='Was the reason right?'] button", "Yes").await.click().await.unwrap();
        browser.with_text("[aria-label='Was the result?'] button", "No").await.click().await.unwrap();
        let lesson = browser.find("form[aria-label=Review] textarea:not([readonly])").await;
        browser.retype(&lesson, "Wait for the second report.").await;
        browser.find("form[aria-label=Review] input[type=checkbox]").await.click().await.unwrap();
        press(&browser, "Write it down").await;
        browser.until("the decision to close", async || browser.all("form[aria-label=Review]").await.is_empty().then_some(())).await;
        browser.goto(&format!("{address}/ledger?view=Decisions")).await;
        browser.text_until("section[aria-label=Decisions]", |t| t.contains("closed") && t.contains("Cheap against")).await;
        browser.text_until("section[aria-label='My record']", |t| t.contains("too few to mean anything")).await;
        // On the company's own page it stands too, and what would prove it wrong is watched.
        browser.goto(&format!("{address}/companies/{}", symbols[0])).await;
        browser.with_text("nav[aria-label=Questions] button", "Who runs it, and what do I think?").await.click().await.unwrap();
        browser.text_until("section[aria-label='My decisions']", |t| t.contains("Cheap against its own")).await;
        browser.goto(&format!("{address}/today/alerts")).await;
        browser.text_until("main, #root", |t| t.contains("wrong if debt_to_equity > 2")).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// A broker's statement is chosen, held against the journal, taken in and taken back.
#[test]
fn a_statement_comes_in() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/ledger")).await;
        asked(&browser, "POST", "/api/ledger/accounts", "{ name: 'Broker', currency: 'ZOC', kind: 'by_hand' }").await;
        browser.goto(&format!("{address}/ledger?view=Journal")).await;
        press(&browser, "Statement…").await;
        let fixture = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats/ofx/account-2025q1.ofx").canonicalize().unwrap();
        let file = browser.find("input[type=file]").await;
        file.send_keys(fixture.to_str().unwrap()).await.unwrap();
        let told = browser.text_until("[role=dialog]", |t| t.contains("10 new entries of the account R-1001")).await;
        assert!(told.contains("nothing differs") && told.contains("reinvest") && told.contains("transfer in"), "{told}");
        press(&browser, "Take in 10").await;
        browser.text_until("section[aria-label=Statements]", |t| t.contains("account-2025q1.ofx")).await;
        browser.text_until("section[aria-label=Journal]", |t| t.contains("Calder Tide Mills") && t.contains("14,613")).await;
        browser.with_text("section[aria-label=Statements] button", "Take back").await.click().await.unwrap();
        browser.text_until("section[aria-label=Journal]", |t| !t.contains("Calder Tide Mills")).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// Presses the first button of the row of a section that has a text in it.
async fn press_in_row(browser: &Browser, section: &str, text: &str) {
    let script = format!(
        "const rows = [...document.querySelectorAll('section[aria-label={section}] tbody tr')];
         const row = rows.find((r) => r.textContent.includes('{text}'));
         row.querySelector('button').click();
         arguments[arguments.length - 1](true);"
    );
    browser.text_until(&format!("section[aria-label={section}]"), |t| t.contains(text)).await;
    browser.ask(&script).await;
}

/// What an order would come to.
async fn sheet(browser: &Browser, account: &str, symbol: &str, terms: &str) -> Value {
    let request = format!("{{ account: '{account}', symbol: '{symbol}', side: 'buy', {terms} }}");
    asked(browser, "POST", "/api/ledger/sheet", &request).await
}

/// Companies that pay dividends and are traded in the account's currency, a dozen of them at most.
async fn in_zoc(browser: &Browser, account: &str) -> Vec<String> {
    let payers = "{ screen: { blocks: [{ need: 'all', criteria: [{ formula: 'dividend_yield', min: 0.015 }] }] } }";
    let all = asked(browser, "POST", "/api/screen/symbols", payers).await;
    let mut out = Vec::new();
    for symbol in all.as_array().unwrap().iter().filter_map(Value::as_str) {
        let found = sheet(browser, account, symbol, "at: 'market', quantity: 100").await;
        if found["listing_currency"] == "ZOC" && found["of_volume"].as_f64().is_some_and(|v| v < 0.2) {
            out.push(symbol.to_owned());
        }
        if out.len() == 12 {
            break;
        }
    }
    out
}

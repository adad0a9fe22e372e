//! From an account to an order, a holding, a sale: buying with discipline, and what came of it.

use crate::steps::{asked, count, press};
use artemon_e2e::{Browser, story};

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
        let journal = browser.text_until("section[aria-label=Journal]", |t| t.contains("Sold 10")).await;
        assert!(journal.contains("Bought 10") && journal.contains("cancelled: by hand"), "{journal}");
        assert!(count(&browser, "section[aria-label=Wealth] svg").await == 1);
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

//! From a screen to a backtest: would it have worked, and could it be luck?

use crate::steps::{asked, count, press, until_count};
use artemon_e2e::{Browser, Program, story};
use serde_json::Value;
use std::path::Path;

const SETTINGS: &str = "form[aria-label$='with other settings']";

/// One key on a screen starts a backtest; its result says how it did against chance. A pick is opened as it was known on its day; with
/// another cost it is run again, both are compared, and the trades are saved as a file.
#[test]
fn a_screen_is_tested_in_the_past() {
    story(async |browser, address| {
        let files = tempfile::tempdir().unwrap();
        browser.download_into(files.path()).await;
        browser.goto(&format!("{address}/screens")).await;
        browser.find("[data-testid=survivor]").await;
        browser.press("w").await;
        let figures = browser.text_until("aside[aria-label=Figures]", |t| t.contains("Worst fall")).await;
        assert!(figures.contains("Rebalanced") && figures.contains("60 times"), "{figures}");
        browser.text_until("main", |t| t.contains("Of 100 random portfolios from the same companies")).await;
        browser.text_until("section[aria-label=Luck]", |t| t.contains("1000 portfolios of the same sizes")).await;
        assert!(count(&browser, "section[aria-label=Curve] polygon").await >= 3, "the fan and the falls are drawn");
        // A pick, as it was known on the day of its decision.
        let pick = browser.find("table[aria-label=Picks] a").await;
        let shown = pick.attr("title").await.unwrap().unwrap();
        pick.click().await.unwrap();
        let day = shown.strip_prefix("As it was known on ").unwrap().to_owned();
        browser.text_until("header", |t| t.contains(&format!("as known on {day}"))).await;
        browser.ask("history.back(); arguments[arguments.length - 1]()").await;
        // Twice the cost.
        press(&browser, "Change settings…").await;
        let fields = browser.all(&format!("{SETTINGS} input[inputmode=decimal]")).await;
        browser.retype(&fields[1], "60").await;
        press(&browser, "Run it").await;
        browser.text_until("main", |t| t.contains("cost 60 of 10,000") && t.contains("You tried 2 variants")).await;
        press(&browser, "More").await;
        browser.with_text("[role=menuitem]", "Export the trades as CSV").await.click().await.unwrap();
        let saved = browser.until("the trades", async || saved(files.path())).await;
        assert!(saved.starts_with("date,symbol,name,amount,price,why\n") && saved.lines().count() > 100, "{}", &saved[..200]);
        // Side by side.
        browser.goto(&format!("{address}/backtests")).await;
        until_count(&browser, "table[aria-label=Backtests] input[type=checkbox]", |n| n == 2).await;
        for choice in browser.all("table[aria-label=Backtests] input[type=checkbox]").await {
            choice.click().await.unwrap();
        }
        let compared = browser.text_until("table[aria-label=Compared]", |t| t.contains("Cost, of 10,000")).await;
        assert!(compared.contains("20") && compared.contains("60"), "{compared}");
        // Deleted, and back again.
        press(&browser, "Delete").await;
        until_count(&browser, "table[aria-label=Backtests] input[type=checkbox]", |n| n == 1).await;
        press(&browser, "Undo").await;
        until_count(&browser, "table[aria-label=Backtests] input[type=checkbox]", |n| n == 2).await;
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

fn saved(folder: &Path) -> Option<String> {
    let path =
        std::fs::read_dir(folder).unwrap().filter_map(Result::ok).map(|e| e.path()).find(|p| p.extension().is_some_and(|e| e == "csv"))?;
    Some(std::fs::read_to_string(path).unwrap()).filter(|text| !text.is_empty())
}

/// What becomes of it with one thing changed at a time; a measure by itself; the record of the values.
#[test]
fn a_result_is_doubted() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/backtests")).await;
        browser.text_until("main", |t| t.contains("Nothing was tried yet")).await;
        press(&browser, "Try a screen").await;
        browser.find("form[aria-label='A new backtest']").await;
        press(&browser, "Run it").await;
        press(&browser, "Try it with one thing changed at a time").await;
        let changed = browser.text_until("table[aria-label='With one thing changed']", |t| t.contains("at twice the cost")).await;
        assert!(changed.contains("rebalanced two months later") && changed.contains("the first 5"), "{changed}");
        browser.goto(&format!("{address}/backtests?view=A+measure")).await;
        press(&browser, "Check it").await;
        browser.text_until("section[aria-label='A measure']", |t| t.contains("The fifth with the highest Earnings yield")).await;
        until_count(&browser, "table[aria-label='Date by date'] tr", |n| n > 40).await;
        browser.goto(&format!("{address}/candidates?view=sure")).await;
        press(&browser, "Work it out").await;
        let record = browser.text_until("table[aria-label='What became of past values']", |t| t.contains("under 0.50 of its value")).await;
        assert!(record.contains("over 1.50 of its value"), "{record}");
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

/// One is cancelled while it runs or waits, and stays so; one that waits when the program is killed is run after the next start.
#[test]
fn what_is_asked_for_survives_a_kill() {
    let runtime = tokio::runtime::Runtime::new().unwrap();
    runtime.block_on(async {
        let program = Program::demo(120).await;
        let browser = Browser::open().await;
        browser.goto(&format!("{}/backtests", program.address)).await;
        // Valued every month: long enough to be met while it runs.
        let valued = "{ name: 'Under value', blocks: [{ criteria: [{ formula: 'rank_in(price_to_value, universe)', max: 40 }] }] }";
        let ask = async |name: &str| -> String {
            let settings = format!("{{ screen: {valued}, from: '2009-01-31', to: '2026-05-29', every: 1, base: 'ZOC' }}");
            let made = asked(&browser, "POST", "/api/backtests", &format!("{{ name: '{name}', settings: {settings} }}")).await;
            made["id"].as_str().unwrap().to_owned()
        };
        let state = async |browser: &Browser, id: &str| -> Value {
            asked(browser, "GET", &format!("/api/backtests/{id}"), "").await["state"].clone()
        };
        let (first, second, third) = (ask("First").await, ask("Second").await, ask("Third").await);
        browser.goto(&format!("{}/backtests/{first}", program.address)).await;
        browser.text_until("main [role=status]", |t| t.contains("Being worked out: decision")).await;
        press(&browser, "Cancel").await;
        browser.text_until("main", |t| t.contains("It was cancelled")).await;
        asked(&browser, "POST", &format!("/api/backtests/{second}/cancel"), "").await;
        assert_eq!(state(&browser, &third).await, "waiting");
        let program = program.restarted(|_| {}).await;
        browser.goto(&format!("{}/backtests/{third}", program.address)).await;
        browser.find("section[aria-label=Curve]").await;
        assert_eq!((state(&browser, &first).await, state(&browser, &second).await), ("cancelled".into(), "cancelled".into()));
        browser.close().await;
    });
}

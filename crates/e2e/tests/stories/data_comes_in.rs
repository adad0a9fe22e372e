//! Data comes in through the browser: a day of prices as CSV, a broken file that is refused, what the page then says.

use artemon_e2e::{Browser, story};
use std::path::Path;

async fn bring(browser: &Browser, file: &Path) {
    browser.find("input[aria-label='Files to import']").await.send_keys(&file.to_string_lossy()).await.unwrap();
    browser.find("[role=combobox][aria-label='Header for close']").await;
}

#[test]
fn a_day_of_prices_is_imported_and_a_broken_file_is_refused() {
    story(async |browser, address| {
        let folder = tempfile::tempdir().unwrap();
        browser.goto(&format!("{address}/companies")).await;
        let symbol = browser.find("[data-testid=company-row] a").await.attr("href").await.unwrap().unwrap();
        let symbol = symbol.rsplit('/').next().unwrap().split('?').next().unwrap().to_owned();

        browser.press("gd").await;
        browser.find("[aria-label='Data loaded, by table and year']").await;
        browser.look("data-empty.png").await;

        // The demo world goes on by a session.
        browser.with_text("button", "Next session").await.click().await.unwrap();
        browser.text_until("[role=status]", |t| t.contains("1 Jul 2026 brought") && t.contains("prices")).await;
        browser.text_until("header", |t| t.contains("1 Jul 2026")).await;
        browser.look("data-feed.png").await;

        // A broken file: a price that is none. It is said where, and nothing is taken.
        let broken = folder.path().join("broken.csv");
        std::fs::write(&broken, format!("Ticker;Datum;Close\n{symbol};2.7.2026;12,50\n{symbol};3.7.2026;twelve\n")).unwrap();
        bring(&browser, &broken).await;
        browser.look("data-mapping.png").await;
        browser.with_text("button", "Import").await.click().await.unwrap();
        let said = browser.text_until("[data-testid=ended]", |t| t.contains("Refused")).await;
        assert!(said.contains("line 3") && said.contains("twelve") && said.contains("is not a number"), "{said}");
        browser.look("data-refused.png").await;

        // A good one: its header is known by now only if it was taken, so the guess is made again.
        let good = folder.path().join("day.csv");
        std::fs::write(&good, format!("Ticker;Datum;Close;Vol\n{symbol};2.7.2026;12,50;900\n")).unwrap();
        bring(&browser, &good).await;
        let sample = browser.text("table[aria-label='First rows of day.csv']").await;
        assert!(sample.contains("2026-07-02") && sample.contains("12.50"), "{sample}");
        browser.with_text("button", "Import").await.click().await.unwrap();
        browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains("1 row")).await;
        browser.look("data-imported.png").await;

        // The page of the company knows the new price at once.
        browser.goto(&format!("{address}/companies/{symbol}")).await;
        browser.text_until("aside", |t| t.contains("12.50") && t.contains("2 Jul 2026")).await;

        // Doubts are listed, and lead to the company.
        browser.goto(&format!("{address}/data?view=findings")).await;
        browser.find("[aria-label='Doubts about the data'] .cell a").await;
        browser.look("data-doubts.png").await;
    });
}

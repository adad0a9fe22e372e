//! An index is ranked, the margin moved, a value followed to its years, an assumption changed, the workbook read again.
#![allow(clippy::unwrap_used)]

use artemon_e2e::story;
use calamine::{Reader, Xlsx, open_workbook};

fn leading_number(text: &str) -> usize {
    text.split_whitespace().next().and_then(|n| n.parse().ok()).unwrap_or_else(|| panic!("no number in \"{text}\""))
}

#[test]
fn an_index_is_ranked_argued_with_and_taken_along() {
    story(async |browser, address| {
        let downloads = tempfile::tempdir().unwrap();
        browser.download_into(downloads.path()).await;
        browser.goto(&format!("{address}/candidates?whom=index:ORRIN")).await;
        let in_range = leading_number(&browser.text("[data-testid=count-in]").await);
        let waiting = leading_number(&browser.text("[data-testid=count-wait]").await);
        browser.find("input[type=range]").await.send_keys(&"\u{E012}".repeat(20)).await.unwrap();
        browser.text_until("[data-testid=margin]", |t| t.starts_with('5')).await;
        let more = leading_number(&browser.text_until("[data-testid=count-in]", |t| leading_number(t) != in_range).await);
        let fewer = leading_number(&browser.text("[data-testid=count-wait]").await);
        assert!(more > in_range && fewer < waiting, "{more} after {in_range} in range, {fewer} after {waiting} wait");

        // Why: a valuation opens into its years, which add up to it.
        let company = browser.find("[data-testid=candidate] a").await;
        let name = company.text().await.unwrap();
        company.click().await.unwrap();
        browser.find("#q-worth table button").await.click().await.unwrap();
        let steps = browser.text("[aria-label=Steps]").await;
        assert!(steps.contains("Sale at the exit multiple") && steps.contains("Value a share"), "{steps}");
        browser.with_text("[aria-label=Steps] button", "Close").await.click().await.unwrap();

        // No growth at all, for this company alone: seen while typing, then kept.
        let growth = browser.find("#q-worth input[inputmode=decimal]").await;
        browser.retype(&growth, "-5").await;
        let then = browser.text_until("[data-testid=value-then]", |t| t.contains("would pay at most")).await;
        assert!(then.starts_with("Worth"), "{then}");
        browser.with_text("#q-worth button", "Keep for this company").await.click().await.unwrap();
        browser.text_until("#q-worth", |t| t.contains("made with your own assumptions")).await;
        browser.press("gc").await;
        browser.find("[title='With assumptions of your own for this company']").await;

        // The workbook has the company, its verdict and formulas.
        browser.with_text("button", "Export XLSX").await.click().await.unwrap();
        let file = downloads.path().join("candidates.xlsx");
        browser.until("the workbook", async || file.is_file().then_some(())).await;
        let mut book: Xlsx<_> = open_workbook(&file).unwrap();
        let rows = book.worksheet_range("Candidates").unwrap();
        let row = rows.rows().find(|r| r[2].to_string() == name).unwrap_or_else(|| panic!("{name} is in the workbook"));
        assert!(["in range", "close", "wait", "pass"].contains(&row[12].to_string().as_str()), "{row:?}");
        assert!(book.worksheet_formula("Candidates").unwrap().get_value((1, 6)).is_some_and(|f| f.contains("weight_model_1")));
    });
}

//! An index is ranked, the margin moved, a value followed to its years, an assumption changed, the workbook read again.

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
        browser.find("#q-worth table button").await;
        crate::a_company_is_read::scroll_to(&browser, "#q-worth table").await;
        browser.find("#q-worth table button").await.click().await.unwrap();
        let steps = browser.text("[aria-label=Steps]").await;
        assert!(steps.contains("Sale at the exit multiple") && steps.contains("Value per share"), "{steps}");
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

/// What counts as quality is changed, seen while typed, saved, saved again; the first version is looked at and the set deleted and
/// brought back.
#[test]
fn a_set_of_ones_own_is_saved_looked_back_at_and_brought_back() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/assumptions")).await;
        let passed = async || {
            let text = browser.text_until("[aria-live=polite]", |t| t.contains("not good enough")).await;
            let (before, _) = text.split_once(" not good enough").unwrap();
            before.rsplit([' ', '\n']).next().unwrap().parse::<usize>().unwrap()
        };
        let shipped = passed().await;
        let full = browser.find("[aria-label='Net margin: in full at']").await;
        browser.retype(&full, "90").await;
        browser.with_text("button", "As shipped").await;
        browser.until("fewer are good enough", async || (passed().await > shipped).then_some(())).await;
        let stern = passed().await;
        let name = browser.find("[placeholder='A name of your own']").await;
        browser.retype(&name, "Stern").await;
        browser.with_text("button", "Save and use").await.click().await.unwrap();
        browser.text_until("[aria-label='Assumption sets']", |t| t.contains("version 1 · in use")).await;

        let full = browser.find("[aria-label='Net margin: in full at']").await;
        browser.retype(&full, "20").await;
        browser.with_text("button", "Save and use").await.click().await.unwrap();
        browser.text_until("[aria-label='Assumption sets']", |t| t.contains("version 2 · in use")).await;
        browser.until("as shipped again", async || (passed().await == shipped).then_some(())).await;
        browser.find("[role=combobox][aria-label=Version]").await.click().await.unwrap();
        browser.find("li[data-value='1']").await.click().await.unwrap();
        browser.until("the first version", async || (passed().await == stern).then_some(())).await;

        browser.with_text("button", "Delete").await.click().await.unwrap();
        browser.text_until("[aria-label='Assumption sets']", |t| !t.contains("Stern")).await;
        browser.with_text(".MuiSnackbar-root button", "Undo").await.click().await.unwrap();
        browser.text_until("[aria-label='Assumption sets']", |t| t.contains("version 2 · in use")).await;
    });
}

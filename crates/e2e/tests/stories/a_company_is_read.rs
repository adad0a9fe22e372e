//! A company is read from top to bottom: its place in its industry, its statements by period and form, any figure down to its filing.

use artemon_e2e::{Browser, story};

const INCOME: &str = "table[aria-label='Income statement']";

pub(crate) async fn scroll_to(browser: &Browser, section: &str) {
    browser.find(section).await;
    browser.measure(&format!("(document.querySelector({section:?}).scrollIntoView(), 0)")).await;
}

/// The first two cells of figures of a row.
async fn row(browser: &Browser, table: &str, label: &str) -> (String, String) {
    let script = format!(
        "const row = [...document.querySelectorAll({table:?} + ' tbody tr')].find((r) => r.cells[0].textContent === {label:?});
         arguments[arguments.length - 1](row ? [row.cells[1].textContent, row.cells[2].textContent] : null)"
    );
    let cells = browser.until(label, async || browser.ask(&script).await.as_array().cloned()).await;
    (cells[0].as_str().unwrap().to_owned(), cells[1].as_str().unwrap().to_owned())
}

#[test]
fn statements_are_switched_drawn_and_opened() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/companies")).await;
        browser.find("[data-testid=company-row] a").await.click().await.unwrap();
        let said = browser.text_until("#q-does", |t| t.contains("largest of") || t.contains("The only one")).await;
        assert!(said.starts_with("What does it do?"), "{said}");

        // The statements come as one gets there.
        assert!(browser.all("table[aria-label='Cash flow statement']").await.is_empty());
        scroll_to(&browser, "#q-margin").await;
        let (revenue, before) = row(&browser, INCOME, "Revenue").await;
        browser.with_text("#q-margin button", "Amounts ▾").await.click().await.unwrap();
        browser.with_text("[role=menuitem]", "Share of revenue").await.click().await.unwrap();
        browser.text_until(INCOME, |t| t.contains("100\u{202f}%")).await;
        assert_eq!(row(&browser, INCOME, "Revenue").await.0, "100\u{202f}%");
        browser.with_text("#q-margin button", "Share of revenue ▾").await.click().await.unwrap();
        browser.with_text("[role=menuitem]", "Growth on the year before").await.click().await.unwrap();
        browser.text_until(INCOME, |t| !t.contains("Gross margin")).await;
        browser.with_text("#q-margin button", "Growth on the year before ▾").await.click().await.unwrap();
        browser.with_text("[role=menuitem]", "Amounts").await.click().await.unwrap();
        browser.text_until(INCOME, |t| t.contains("Gross margin") || t.contains("Net margin")).await;
        assert_eq!(row(&browser, INCOME, "Revenue").await, (revenue, before));

        // A row is drawn, and a figure opens down to its filing.
        browser.with_text(&format!("{INCOME} button"), "Net income").await.click().await.unwrap();
        browser.find("[role=img][aria-label='Net income by period']").await;
        browser.find(&format!("{INCOME} tbody tr:first-child td:nth-child(3) button")).await.click().await.unwrap();
        let opened = browser.text_until("[aria-label='Opened figure']", |t| t.contains("filed")).await;
        assert!(opened.contains("Fiscal year"), "{opened}");
        browser.press("\u{E00C}").await;
        browser.until("the sheet to close", async || browser.all("[aria-label='Opened figure'] h2").await.is_empty().then_some(())).await;

        // What followed insiders' purchases.
        scroll_to(&browser, "#q-owners").await;
        browser.text_until("#q-owners [role=status]", |t| t.contains("open market")).await;

        // Half-years: one choice for all statements, kept in the address.
        browser.with_text("#q-margin button", "Half-years").await.click().await.unwrap();
        browser.text_until("#q-margin", |t| t.contains("H1 20") || t.contains("once a year")).await;
        scroll_to(&browser, "#q-cash").await;
        browser.text_until("#q-cash", |t| t.contains("H1 20") || t.contains("once a year")).await;
        let kept = browser.ask("arguments[arguments.length - 1](location.search)").await;
        assert!(kept.as_str().unwrap().contains("period=half"), "{kept}");
    });
}

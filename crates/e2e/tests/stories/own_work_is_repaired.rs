//! What is kept and no longer understood is shown, mended and used again.

use artemon_e2e::story_after;
use artemon_store::{KeptOverride, NewDocument, People};
use std::path::Path;

/// A measure with a word that does not exist, and an assumption about a company that the dataset does not have.
fn damage(folder: &Path) {
    let people = People::open(folder).unwrap();
    let me = people.local();
    let body = r#"{"id": "my_margin", "label": "My margin", "note": "", "formula": "net_income / revenu"}"#;
    people.add_document(&me, NewDocument { kind: "measure", folder: "", name: "my_margin", note: "", body }).unwrap();
    let gone = KeptOverride {
        company_id: "gone".to_owned(),
        symbol: "GONE".to_owned(),
        isin: String::new(),
        name: "Gone Harbours".to_owned(),
        body: r#"{"margin": 0.4, "reason": "I know it."}"#.to_owned(),
    };
    people.keep_override(&me, &gone).unwrap();
}

#[test]
fn what_cannot_be_used_is_mended_where_it_is_shown() {
    story_after(damage, async |browser, address| {
        browser.goto(&format!("{address}/assumptions")).await;
        let panel = "[aria-label='To be repaired']";
        let said = browser.text_until(panel, |t| t.contains("my_margin")).await;
        assert!(said.contains("revenu") && said.contains("Gone Harbours"), "{said}");

        // Not JSON is said beside the field, and changes nothing.
        browser.with_text(&format!("{panel} button"), "Repair").await.click().await.unwrap();
        let field = browser.find(&format!("{panel} textarea:not([aria-hidden])")).await;
        browser.retype(&field, "{\"id\": ").await;
        browser.with_text(&format!("{panel} button"), "Save repaired").await.click().await.unwrap();
        browser.text_until(panel, |t| t.contains("This is not JSON")).await;
        let sound = r#"{"id": "my_margin", "label": "My margin", "note": "", "formula": "net_income / revenue"}"#;
        browser.retype(&field, sound).await;
        browser.with_text(&format!("{panel} button"), "Save repaired").await.click().await.unwrap();
        browser.text_until(panel, |t| !t.contains("my_margin")).await;

        // The company is another now.
        let symbol = browser.find(&format!("{panel} input[placeholder='symbol or ISIN']")).await;
        browser.retype(&symbol, "QRW").await;
        browser.with_text(&format!("{panel} button"), "Match").await.click().await.unwrap();
        browser.until("the panel is gone", async || browser.all(panel).await.is_empty().then_some(())).await;
        browser.goto(&format!("{address}/companies/QRW")).await;
        browser.text_until("#q-worth", |t| t.contains("made with your own assumptions")).await;
    });
}

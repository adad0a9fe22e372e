//! A figure is opened down to its filing; a formula is written, mended and kept as a measure of one's own.

use artemon_e2e::story;

#[test]
fn a_figure_opens_down_to_its_filing() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/companies")).await;
        let path = browser.find("[data-testid=company-row] a").await.attr("href").await.unwrap().unwrap();
        browser.goto(&format!("{address}{path}")).await;

        // A key figure (P/E) opens into its formula and inputs, and those into what was filed.
        let figure = browser.find("aside dl > div:nth-of-type(2) dd button").await;
        let shown = figure.text().await.unwrap();
        figure.click().await.unwrap();
        let sheet = browser.text_until("[aria-label='Opened figure']", |t| t.contains("What it was made of")).await;
        assert!(sheet.contains(shown.trim()), "{shown} in {sheet}");
        let opened = browser.text_until("[aria-label='Opened figure']", |t| t.contains("filed") && t.contains(" in ")).await;
        assert!(opened.contains("close of"), "the price says its session: {opened}");
        browser.find("[aria-label='The figure by month'] svg").await;
        browser.look("figure.png").await;

        // Going back closes it; a figure of a year opens too, from the keyboard.
        browser.press("\u{E00C}").await;
        browser.until("the sheet to close", async || browser.all("[aria-label='Opened figure'] h2").await.is_empty().then_some(())).await;
        browser.find("table[aria-label='Fiscal years'] tbody tr:nth-of-type(4) td button").await.send_keys("\u{E007}").await.unwrap();
        let year = browser.text_until("[aria-label='Opened figure']", |t| t.contains("Fiscal year")).await;
        assert!(year.contains("filed"), "{year}");
        browser.look("figure-year.png").await;
    });
}

#[test]
fn a_formula_is_written_mended_and_kept() {
    story(async |browser, address| {
        // The guide finds a measure by a word of its meaning.
        browser.goto(&format!("{address}/guide")).await;
        let search = browser.find("input[aria-label='Search measures']").await;
        browser.look("guide.png").await;
        browser.retype(&search, "distress manufacturer").await;
        browser.find("nav[aria-label=Measures] a[href*='altman_z']").await.click().await.unwrap();
        browser.text_until("h1", |t| t.starts_with("Altman Z")).await;
        browser.find("[data-testid=distribution] svg").await;
        browser.look("measure.png").await;

        // A mistyped name is underlined where it stands, and mended by what was meant.
        browser.find("nav[aria-label=Measures] a[href$='/guide']").await.click().await.unwrap();
        browser.retype(&search, "\u{E003}").await;
        let field = browser.find("textarea").await;
        browser.retype(&field, "1 / pe_forwrd + 0").await;
        let said = browser.text_until("main [role=alert]", |t| t.contains("Did you mean")).await;
        assert!(said.contains("pe_forward"), "{said}");
        browser.look("formula-mistake.png").await;
        browser.with_text("main [role=alert] button", "pe_forward").await.click().await.unwrap();
        browser.find("[data-testid=distribution] svg").await;

        // Names are completed as one types.
        let field = browser.find("textarea").await;
        browser.retype(&field, "roe - own_med").await;
        browser.text_until("[role=listbox]", |t| t.contains("own_median(")).await;
        browser.look("formula-completion.png").await;
        field.send_keys("\u{E004}").await.unwrap();
        let written = async || field.prop("value").await.ok()?.filter(|v| v.ends_with("own_median("));
        browser.until("the name to be completed", written).await;
        field.send_keys("roe, 10y)").await.unwrap();
        browser.text_until("main", |t| t.contains("Defined for")).await;

        // Kept, it is found wherever measures are.
        let name = browser.find("form input").await;
        browser.retype(&name, "Better than usual").await;
        browser.with_text("form button", "Save").await.click().await.unwrap();
        browser.find("nav[aria-label=Measures] a[href*='edit=better_than_usual']").await;
        browser.text_until("h1", |t| t == "Better than usual").await;
        browser.look("formula-saved.png").await;
        browser.goto(&format!("{address}/screens")).await;
        let add = browser.find("input[placeholder^='Add a criterion: a measure']").await;
        let before = browser.all("[data-testid=criterion]").await.len();
        browser.retype(&add, "better_than_usual\u{E007}").await;
        browser.until("the new criterion", async || (browser.all("[data-testid=criterion]").await.len() > before).then_some(())).await;
        assert!(browser.all("[data-testid=criterion] [role=alert]").await.is_empty());
    });
}

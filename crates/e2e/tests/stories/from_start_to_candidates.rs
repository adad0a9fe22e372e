//! From the start to ranked candidates: criteria added, a bound loosened, a company opened, the margin moved.

use artemon_e2e::{Browser, story};

/// "33 companies left" → 33
fn leading_number(text: &str) -> usize {
    text.split_whitespace().next().and_then(|n| n.parse().ok()).unwrap_or_else(|| panic!("no number in \"{text}\""))
}

pub(crate) async fn survivors(browser: &Browser) -> usize {
    leading_number(&browser.text("[data-testid=survivors]").await)
}

pub(crate) async fn survivors_other_than(browser: &Browser, before: usize) -> usize {
    leading_number(&browser.text_until("[data-testid=survivors]", |t| leading_number(t) != before).await)
}

pub(crate) async fn add_criterion(browser: &Browser, formula: &str) {
    let before = browser.all("[data-testid=criterion]").await.len();
    let field = browser.find("input[placeholder^='Add a criterion: a measure']").await;
    browser.retype(&field, &format!("{formula}\u{E007}")).await;
    browser.until("the new criterion", async || (browser.all("[data-testid=criterion]").await.len() > before).then_some(())).await;
}

#[test]
fn a_person_screens_opens_a_company_and_ranks() {
    story(async |browser, address| {
        // Start from nothing: every listed company is left.
        browser.goto(&format!("{address}/screens")).await;
        browser.with_text("button", "New").await.click().await.unwrap();
        let all = leading_number(&browser.text_until("[data-testid=survivors]", |t| leading_number(t) > 150).await);

        // Criteria narrow: the first bound is the median of the day.
        add_criterion(&browser, "net_margin").await;
        let profitable = survivors_other_than(&browser, all).await;
        assert!(profitable < all * 6 / 10, "half of the companies are above the median: {profitable} of {all}");
        add_criterion(&browser, "own_rank(pe, 10y)").await;
        let cheap = survivors_other_than(&browser, profitable).await;
        assert!(cheap < profitable);

        // A formula with a mistake is an error beside it and the rest still runs.
        add_criterion(&browser, "net_magin > 1").await;
        let said = browser.text("[data-testid=criterion] [role=alert]").await;
        assert!(said.contains("Did you mean") && said.contains("net_margin"), "{said}");
        assert_eq!(survivors(&browser).await, cheap);

        // Loosening a bound by its handle brings companies back.
        let handle = browser.find("[role=slider][aria-label^='Maximum P/E']").await;
        browser.drag(&handle, 40.0).await;
        let loosened = survivors_other_than(&browser, cheap).await;
        assert!(loosened > cheap, "{loosened} after loosening {cheap}");

        // A near miss can be taken in.
        browser.with_text("button", "Loosen to include").await.click().await.unwrap();
        assert!(survivors_other_than(&browser, loosened).await > loosened);

        // A company opens with its value, and its notch can be moved.
        browser.find("[role=grid][aria-busy=false]").await;
        let company = browser.find("[data-testid=survivor] a").await;
        let name = company.text().await.unwrap();
        company.click().await.unwrap();
        browser.text_until("h1", |t| t.starts_with(&name)).await;
        let before = browser.text("aside").await;
        assert!(before.contains("you ask"), "{before}");
        browser.find("aside [role=slider]").await.send_keys("\u{E014}\u{E014}").await.unwrap();
        browser.text_until("aside", |t| t.contains("Back to")).await;
        browser.find("table[aria-label='Valuations by model and growth scenario']").await;
        // Where insiders traded, it says who and what.
        browser.goto(&format!("{address}/companies/OWM")).await;
        crate::a_company_is_read::scroll_to(&browser, "#q-owners").await;
        browser.find("table[aria-label='Insider trades']").await;

        // Ranked candidates: asking more leaves fewer in range, and the order follows.
        browser.press("gc").await;
        browser.find("[data-testid=candidate]").await;
        let in_range = leading_number(&browser.text("[data-testid=count-in]").await);
        let limit = browser.text("[data-testid=candidate] [data-column=buy_below]").await;
        browser.find("input[type=range]").await.send_keys(&"\u{E014}".repeat(10)).await.unwrap();
        browser.text_until("[data-testid=margin]", |t| t.starts_with("35")).await;
        let fewer = leading_number(&browser.text_until("[data-testid=count-in]", |t| leading_number(t) != in_range).await);
        assert!(fewer < in_range, "{fewer} in range at 35 %, {in_range} at 25 %");
        browser.text_until("[data-testid=candidate] [data-column=buy_below]", |t| t != limit).await;

        // Asking for better companies lets more of them pass by, and the best of those left come first.
        let passed = leading_number(&browser.text("[data-testid=count-pass]").await);
        browser.find("input[aria-labelledby=quality-label]").await.send_keys(&"\u{E014}".repeat(10)).await.unwrap();
        browser.text_until("[data-testid=least-quality]", |t| t == "70").await;
        let more = leading_number(&browser.text_until("[data-testid=count-pass]", |t| leading_number(t) != passed).await);
        assert!(more > passed, "{more} pass by at quality 70, {passed} at 60");
        let quality: f64 = browser.text("[data-testid=candidate] [data-testid=quality]").await.parse().unwrap();
        assert!(quality >= 70.0, "{quality}");
    });
}

#[test]
fn a_past_date_and_a_wrong_symbol_are_answered_kindly() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/candidates?as_of=2015-03-31&whom=pasted&symbols=NOSUCH,XX1")).await;
        let said = browser.text("[role=alert]").await;
        assert!(said.contains("NOSUCH, XX1"), "{said}");
        browser.with_text("button", "Rank all listed companies").await.click().await.unwrap();
        browser.find("[data-testid=candidate]").await;
        let bar = browser.text("header").await;
        assert!(bar.contains("as known on 31 Mar 2015"), "{bar}");
        // The refused request is the one error that the console may show.
        let errors = browser.console_errors().await;
        assert!(errors.iter().all(|e| e.contains("/api/rank") && e.contains("404")), "{errors:?}");
        browser.with_text("button", "back to today").await.click().await.unwrap();
        browser.text_until("header", |t| !t.contains("back to today")).await;
    });
}

//! The guide: what it says of each place leads there, and every example of the formula language runs.

use crate::steps::asked;
use artemon_e2e::story;
use serde_json::json;

#[test]
fn the_guide_leads_to_each_place_and_its_examples_run() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/guide/places/today")).await;
        let mut seen = Vec::new();
        loop {
            let title = browser.text("main h1").await;
            let link = browser.find("main a[href^='/']:not(nav a)").await;
            let (said, path) = (link.text().await.unwrap(), link.attr("href").await.unwrap().unwrap());
            assert_eq!(said, format!("Go to {title}"));
            seen.push((title.clone(), path));
            let next = browser.all("main a[href*='/guide/places/']:not(nav a)").await;
            let Some(next) = next.into_iter().next() else { break };
            next.click().await.unwrap();
            browser.text_until("main h1", |t| t != title).await;
        }
        assert_eq!(seen.len(), 10, "{seen:?}");
        // The account is led to from the head where there are several people.
        for (title, path) in seen.into_iter().filter(|(_, path)| path != "/account") {
            browser.goto(&format!("{address}{path}")).await;
            // Assumptions are led to from the head, the others are among the places.
            let here = format!("header [aria-current=page], header a[href^='{path}']");
            assert!(!browser.text(&here).await.is_empty(), "{title}");
        }

        browser.goto(&format!("{address}/guide/language")).await;
        browser.find("main a[href*='f=own_rank']").await;
        let examples = browser.ask(
            "arguments[0]([...document.querySelectorAll('main a')].map((a) => new URL(a.href).searchParams.get('f')).filter((f) => f))",
        );
        let examples: Vec<String> = serde_json::from_value(examples.await).unwrap();
        assert!(examples.len() > 45, "{}", examples.len());
        for formula in &examples {
            let check = asked(&browser, "POST", "/api/formulas/check", &json!({ "formula": formula }).to_string()).await;
            assert!(check["error"].is_null(), "{formula}: {check}");
        }
        browser.find("main a[href*='f=own_rank']").await.click().await.unwrap();
        browser.find("[data-testid=distribution] svg").await;
    });
}

#[test]
fn first_steps_are_taken_left_and_taken_up_again() {
    story(async |browser, address| {
        let card = "[role=region][aria-label='First steps']";
        browser.goto(&format!("{address}/guide/first-steps")).await;
        browser.with_text("main button", "Begin").await.click().await.unwrap();
        browser.text_until(card, |t| t.contains("First steps, 1 of 8") && t.contains("Drag a bound")).await;
        browser.find("[data-testid=criterion]").await;
        browser.with_text(&format!("{card} button"), "Done, next").await.click().await.unwrap();
        browser.text_until(card, |t| t.contains("2 of 8") && t.contains("Open a figure")).await;
        browser.look("first-steps.png").await;

        // Left, it is gone, and stays so on another page; what is done stays done.
        browser.with_text(&format!("{card} button"), "Leave").await.click().await.unwrap();
        browser.goto(&format!("{address}/today")).await;
        browser.find("main h1").await;
        assert!(browser.all(card).await.is_empty());
        browser.goto(&format!("{address}/guide/first-steps")).await;
        browser.with_text("main button", "Go on: Open a figure").await.click().await.unwrap();
        for stop in 2..8 {
            browser.text_until(card, |t| t.contains(&format!("{stop} of 8"))).await;
            browser.with_text(&format!("{card} button"), "Done, next").await.click().await.unwrap();
        }
        browser.text_until(card, |t| t.contains("8 of 8")).await;
        browser.with_text(&format!("{card} button"), "Done").await.click().await.unwrap();
        browser.with_text("main button", "Once more").await;
        assert!(browser.all(card).await.is_empty());
    });
}

//! A company is judged without leaving its page: all questions with their evidence, the price measured, a target, a case and a note of
//! one's own, several companies one after the other, a past date, and paper.

use crate::a_company_is_read::scroll_to;
use artemon_e2e::{Browser, story};

/// The largest operating company of the demo world that reports by the quarter.
const COMPANY: &str = "KSSW";

const QUESTIONS: [(&str, &str); 12] = [
    ("does", "table[aria-label='Companies of its industry']"),
    ("earnings", "table[aria-label='Fiscal years']"),
    ("multiple", "[aria-label='P/E over its own years'] svg"),
    ("margin", "table[aria-label='Income statement']"),
    ("debt", "section[aria-label^='Nine signs']"),
    ("cash", "svg[aria-label^='Cash of']"),
    ("owners", "[aria-label='Stakes over time'] svg"),
    ("expected", "table[aria-label='Reported and expected']"),
    ("worth", "section[aria-label='Why did the value change?'] svg"),
    ("wrong", "section[aria-label='Balance sheet']"),
    ("price", "canvas[aria-label^='Price over']"),
    ("people", "table[aria-label='Who runs it']"),
];

async fn open(browser: &Browser, address: &str, symbol: &str, more: &str) {
    browser.goto(&format!("{address}/companies/{symbol}{more}")).await;
    browser.find("#q-does").await;
}

#[test]
fn it_is_read_from_top_to_bottom() {
    story(async |browser, address| {
        open(&browser, &address, COMPANY, "").await;
        for (id, evidence) in QUESTIONS {
            let section = format!("#q-{id}");
            // It comes as one gets near, from wherever one looks.
            let (top, end) = (section.clone(), format!("{section} > :last-child"));
            let evidence = format!("{section} {evidence}");
            browser
                .until(&evidence, async || {
                    for place in [&top, &end] {
                        scroll_to(&browser, place).await;
                        if !browser.all(&evidence).await.is_empty() {
                            return Some(());
                        }
                    }
                    None
                })
                .await;
            let said = browser.text(&format!("{section} h2 + div")).await;
            assert!(said.ends_with('.') && !said.contains("Too little"), "{id}: {said}");
        }
        // A figure of several sections opens down to what it is made of.
        for figure in [
            "#q-debt section button",
            "#q-expected table[aria-label='Reported and expected'] tbody tr:nth-child(2) button",
            "#q-multiple > div button",
            "#q-owners > p b button",
            "#q-price > p b button",
            "#q-people > p b button",
        ] {
            scroll_to(&browser, figure).await;
            browser.find(figure).await.click().await.unwrap();
            let ground = |t: &str| ["filed", "close", "in office"].iter().any(|word| t.to_lowercase().contains(word));
            let opened = browser.text_until("[aria-label='Opened figure']", ground).await;
            assert!(opened.len() > 60, "{figure}: {opened}");
            browser.press("\u{E00C}").await;
            browser
                .until("the sheet to close", async || browser.all("[aria-label='Opened figure'] h2").await.is_empty().then_some(()))
                .await;
        }
        assert_eq!(browser.console_errors().await, Vec::<String>::new());
    });
}

#[test]
fn four_are_stepped_through_with_the_question_in_view() {
    story(async |browser, address| {
        browser.goto(&format!("{address}/screens")).await;
        browser.find("[data-testid=survivor] a").await.click().await.unwrap();
        browser.text_until("nav[aria-label=Questions]", |t| t.contains("1 of")).await;
        scroll_to(&browser, "#q-debt").await;
        let mut names = vec![browser.text("h1").await];
        for _ in 0..3 {
            let before = names.last().unwrap().clone();
            browser.press("j").await;
            names.push(browser.text_until("h1", |t| *t != before).await);
            browser.text_until("nav[aria-label=Questions] [aria-current]", |t| t.contains("owes")).await;
        }
        browser.text_until("nav[aria-label=Questions]", |t| t.contains("4 of")).await;
        browser.press("k").await;
        browser.text_until("h1", |t| t == names[2]).await;
    });
}

#[test]
fn the_price_is_measured_and_a_target_typed() {
    story(async |browser, address| {
        open(&browser, &address, COMPANY, "?bars=month&span=5y").await;
        scroll_to(&browser, "#q-price").await;
        let chart = "#q-price [role=group][aria-label^='Price: arrow keys']";
        browser.find(chart).await;
        browser.focus(chart).await;
        // Twelve months back with Shift held.
        browser.press(&format!("\u{E008}{}\u{E008}", "\u{E012}".repeat(12))).await;
        let said = browser.text_until("#q-price [role=status]", |t| t.starts_with("From")).await;
        assert!(said.contains("the price") && said.contains("its value"), "{said}");
        browser.with_text("#q-price button", "Monthly bars").await.click().await.unwrap();
        browser.with_text("[role=menuitem]", "Daily bars").await.click().await.unwrap();
        browser.text_until("#q-price", |t| t.contains("Daily bars") && t.contains("averages of 50 and 200")).await;

        // A target of twice the price is a hundred percent above it.
        scroll_to(&browser, "#q-multiple").await;
        let price: f64 = browser.text("aside [class*=largeFigure]").await.replace(',', "").parse().unwrap();
        browser.with_text("#q-multiple label", "Analysts' target").await.click().await.unwrap();
        browser.press(&format!("{:.2}", 2.0 * price)).await;
        browser.text_until("#q-multiple", |t| t.contains("+100\u{202f}%")).await;
    });
}

#[test]
fn a_note_and_a_case_are_found_again() {
    story(async |browser, address| {
        open(&browser, &address, COMPANY, "").await;
        scroll_to(&browser, "#q-people").await;
        browser.with_text("#q-people button", "Write a note (n)").await.click().await.unwrap();
        browser.find("textarea[aria-label='My note']").await.send_keys("**Sound**, but dear.").await.unwrap();
        browser.text_until("#q-people [role=status]", |t| t.starts_with("saved")).await;

        scroll_to(&browser, "#q-worth").await;
        scroll_to(&browser, "#assume").await;
        let growth = browser.find("#q-worth input[aria-label^='Growth of revenue']").await;
        let before = browser.text_until("#q-worth", |t| t.contains("case over")).await;
        browser.retype(&growth, "12").await;
        browser.text_until("#q-worth", |t| t != before && t.contains("Keep my case")).await;
        let worth = "#q-worth [class*=sentence] b.brass";
        let mine = browser.text(worth).await;
        browser.with_text("#q-worth button", "Keep my case").await.click().await.unwrap();
        browser.text_until("#q-worth", |t| t.contains("Kept as version 1")).await;

        // After a reload both are there, the note as it reads.
        open(&browser, &address, COMPANY, "").await;
        scroll_to(&browser, "#q-worth").await;
        scroll_to(&browser, "#assume").await;
        browser.text_until("#q-worth", |t| t.contains("Kept as version 1")).await;
        let kept = browser.find("#q-worth input[aria-label^='Growth of revenue']").await;
        assert_eq!(kept.prop("value").await.unwrap().as_deref(), Some("12"));
        browser.text_until(worth, |t| t == mine).await;
        scroll_to(&browser, "#q-people").await;
        browser.find("#q-people strong").await;
        browser.text_until("#q-people strong", |t| t == "Sound").await;
    });
}

#[test]
fn a_past_date_knows_nothing_later() {
    story(async |browser, address| {
        let heads = async |more: &str| {
            open(&browser, &address, COMPANY, more).await;
            scroll_to(&browser, "#q-expected").await;
            browser.text_until("#q-expected table[aria-label='Reported and expected'] thead", |t| t.contains("est.")).await
        };
        let (now, then) = (heads("").await, heads("?as_of=2021-03-15").await);
        assert!(now.contains("2026") && !then.contains("2025") && then.contains("2020"), "{now} / {then}");
        scroll_to(&browser, "#q-price").await;
        browser.text_until("#q-price", |t| t.contains("15 Mar 2021")).await;
    });
}

/// The largest company of a kind.
async fn largest(browser: &Browser, address: &str, kind: &str) -> String {
    browser.goto(&format!("{address}/data")).await;
    let list = format!(
        r#"{{"list": {{"screen": {{"universe": {{"kinds": ["{kind}"]}}, "sort": [{{"formula": "market_cap", "descending": true}}]}}}},
            "offset": 0, "rows": 1}}"#
    );
    let script = format!(
        "const done = arguments[arguments.length - 1];
         fetch('/api/screen/rows', {{ method: 'POST', headers: {{ 'content-type': 'application/json' }}, body: `{list}` }})
             .then((r) => r.json()).then((page) => done(page.rows[0].symbol))"
    );
    browser.ask(&script).await.as_str().unwrap().to_owned()
}

/// Centimetres of A4 and Letter.
const PAPERS: [(f64, f64); 2] = [(21.0, 29.7), (21.59, 27.94)];

#[test]
fn it_fits_on_paper() {
    story(async |browser, address| {
        for kind in ["operating", "bank", "fund"] {
            let symbol = largest(&browser, &address, kind).await;
            browser.goto(&format!("{address}/companies/{symbol}/paper")).await;
            let name = browser.text_until(".paper h1", |t| !t.is_empty()).await;
            for (width, height) in PAPERS {
                let pages = browser.printed(width, height).await;
                assert!((2..=4).contains(&pages.len()), "{symbol}: {} pages", pages.len());
                assert!(pages[0].contains(&name) && pages[0].contains("What does it do?"), "{}", pages[0]);
                let all = pages.concat();
                assert!(all.contains("What would prove me wrong") && !all.contains("Back to the page"), "{all}");
            }
        }
    });
}

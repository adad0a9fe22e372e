//! From thousands to a few: the worked need by keyboard alone, a way back when nothing is left, charts, the map, files.

use crate::from_start_to_candidates::{add_criterion, survivors, survivors_other_than};
use artemon_e2e::{Browser, story, story_among};

const ENTER: &str = "\u{E007}";
const CRITERION: &str = "[data-testid=criterion]";

/// Never a loss in six years, earnings up in at least four of five, repurchases above issues in at least three, interest covered four
/// times, a net margin of 8 %, within 5 % of the low.
const NEED: [&str; 6] = [
    "eps_positive_years(6) >= 6",
    "eps_rising_years(5) >= 4",
    "fy_count(net_buyback > 0, 6) >= 3",
    "interest_cover >= 4",
    "net_margin >= 8%",
    "from_low_52w <= 5%",
];

async fn button(browser: &Browser, text: &str) {
    browser.with_text("button", text).await.click().await.unwrap();
}

#[test]
fn the_worked_need_is_built_by_keyboard_alone_and_recovers_through_a_near_miss() {
    story_among(600, async |browser, address| {
        browser.goto(&address).await;
        browser.find("[data-testid=survivors]").await;
        // Any action is found by its name.
        browser.press("/").await;
        browser.press("New screen").await;
        browser.find("[role=option]").await;
        browser.press(ENTER).await;
        browser.until("an empty screen", async || browser.all(CRITERION).await.is_empty().then_some(())).await;
        browser.press("c").await;
        for (i, criterion) in NEED.iter().enumerate() {
            browser.press(&format!("{criterion}{ENTER}")).await;
            browser.until("the criterion", async || (browser.all(CRITERION).await.len() > i).then_some(())).await;
        }
        let said = browser.text_until(&format!("{CRITERION}:nth-of-type(6)"), |t| t.contains("left")).await;
        assert!(said.contains("From 52-week low at most 5"), "{said}");

        // Nobody is so near the low and so good: a near miss is let in.
        let before = survivors(&browser).await;
        browser.focus("[data-testid=near-miss] button").await;
        browser.press(ENTER).await;
        assert!(survivors_other_than(&browser, before).await > before);
    });
}

#[test]
fn a_criterion_goes_to_another_block_and_what_is_too_much_is_drawn_in() {
    story(async |browser, address| {
        browser.goto(&address).await;
        button(&browser, "New").await;
        add_criterion(&browser, "net_margin > 0").await;
        let many = survivors(&browser).await;
        let offered = browser.text_until("[aria-label=Suggestions]", |t| t.contains("would leave")).await;
        assert!(offered.contains("Net margin at least"), "{offered}");
        button(&browser, "Apply").await;
        let few = survivors_other_than(&browser, many).await;
        assert!((10..=15).contains(&few), "{few} are left");

        // At least one of two blocks' criteria: moved by menu, without a mouse's precision.
        add_criterion(&browser, "pe < 15").await;
        button(&browser, "Add a block: any of these").await;
        browser.find(&format!("{CRITERION}:nth-of-type(2) button[aria-expanded]")).await.click().await.unwrap();
        button(&browser, "Move ▾").await;
        browser.with_text("[role=menuitem]", "to block 2").await.click().await.unwrap();
        browser.text_until("body", |t| t.contains("any of the block")).await;

        // A formula with a mistake is said at its place, and the rest still runs.
        let before = survivors(&browser).await;
        add_criterion(&browser, "roe > rio").await;
        browser.text_until("[data-testid=criterion] [role=alert]", |t| t.contains("rio")).await;
        assert_eq!(survivors(&browser).await, before);
    });
}

#[test]
fn those_left_are_seen_as_charts_and_on_a_map_and_taken_out() {
    story(async |browser, address| {
        browser.goto(&address).await;
        button(&browser, "New").await;
        add_criterion(&browser, "quality >= 60").await;
        browser.find("[role=grid][aria-busy=false]").await;
        // Keys of one letter do nothing while one types.
        browser.find("[data-testid=survivors]").await.click().await.unwrap();
        browser.press("v").await;
        let said = browser.text_until("[data-testid=tile]", |t| t.contains("value")).await;
        assert!(said.contains("mark"), "{said}");
        browser.focus("[data-testid=tile] a").await;
        browser.press("x").await;
        browser.text_until("body", |t| t.contains("Marked 1")).await;

        button(&browser, "Map").await;
        let marks = browser.until("marks", async || Some(browser.all("circle[data-mark]").await.len()).filter(|n| *n > 20)).await;
        let left = survivors(&browser).await;
        assert!(marks <= left, "{marks} marks of {left}");

        // Out as a workbook: what lands is one.
        let folder = tempfile::tempdir().unwrap();
        browser.download_into(folder.path()).await;
        button(&browser, "Export ▾").await;
        browser.with_text("[role=menuitem]", "Workbook (XLSX)").await.click().await.unwrap();
        let file = folder.path().join("companies.xlsx");
        let bytes = browser.until("the workbook", async || std::fs::read(&file).ok().filter(|b| b.len() > 1000)).await;
        assert!(bytes.starts_with(b"PK"), "a workbook is a zip");
    });
}

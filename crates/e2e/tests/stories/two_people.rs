//! Two people on one server: one comes in first and invites the other, shares a screen and a list, and takes them back.

use crate::{
    pictures::folder,
    steps::{PASSPHRASE, asked, joins, press, type_in, violations},
};
use artemon_e2e::{Browser, story_of_two};

async fn told_once(browser: &Browser) -> String {
    browser.text_until("pre", |said| said.starts_with("http")).await
}

/// The link of what is shared in the dialog that is open.
async fn shared(browser: &Browser) -> String {
    press(browser, "Share by a link").await;
    let link = browser.find("[role=dialog] input[readonly]").await.prop("value").await.unwrap().unwrap();
    browser.with_text(".MuiDialog-root button", "Close").await.click().await.unwrap();
    link
}

#[test]
fn a_screen_and_a_list_are_shared_copied_and_taken_back() {
    story_of_two(async |anna, bert, server| {
        let address = &server.address;
        anna.goto(&server.link).await;
        anna.find("form").await;
        let mut wrong = violations(&anna).await;
        joins(&anna, &server.link, "Anna").await;
        anna.goto(&format!("{address}/account/people")).await;
        type_in(&anna, "For whom", "my brother").await;
        press(&anna, "Invite").await;
        joins(&bert, &told_once(&anna).await, "Bert").await;

        // She shares a list and a screen by their menus.
        let list = asked(&anna, "POST", "/api/documents", "{ kind: 'list', name: 'Sunday list', body: {} }").await;
        let found = asked(&anna, "GET", "/api/companies?q=a", "").await;
        let symbol = found[0]["symbol"].as_str().unwrap().to_owned();
        let id = list["id"].as_str().unwrap();
        asked(&anna, "POST", &format!("/api/lists/{id}/members"), &format!("{{ symbols: ['{symbol}'] }}")).await;
        let screen = "{ blocks: [{ need: 'all', criteria: [{ formula: 'pe', max: 15 }] }] }";
        let screen = format!("{{ kind: 'screen', name: 'Sunday screen', note: 'First of all.', body: {screen} }}");
        asked(&anna, "POST", "/api/documents", &screen).await;
        anna.goto(&format!("{address}/lists")).await;
        anna.find("button[aria-label^='What can be done with Sunday list']").await.click().await.unwrap();
        anna.with_text("[role=menuitem]", "Share…").await.click().await.unwrap();
        let list_link = shared(&anna).await;
        anna.goto(&format!("{address}/screens")).await;
        press(&anna, "Screens").await;
        anna.find("button[aria-label^='What can be done with Sunday screen']").await.click().await.unwrap();
        anna.with_text("[role=menuitem]", "Share…").await.click().await.unwrap();
        let screen_link = shared(&anna).await;

        // He reads both, by whom and since when, and takes a copy.
        bert.goto(&list_link).await;
        bert.text_until("main", |t| t.contains("Shared by Anna since") && t.contains("read only") && t.contains(&symbol)).await;
        bert.goto(&screen_link).await;
        bert.text_until("main", |t| t.contains("P/E at most 15") && t.contains("companies pass on")).await;
        bert.look("shared-screen.png").await;
        wrong.extend(violations(&bert).await);
        press(&bert, "Take a copy").await;
        bert.text_until("[role=status]", |t| t.contains("“Sunday screen” is yours")).await;
        bert.goto(&format!("{address}/screens")).await;
        press(&bert, "Screens").await;
        bert.find("button[aria-label^='What can be done with Sunday screen']").await;

        // What she takes back is gone for him at once; his copy stays.
        anna.goto(&format!("{address}/account/shared")).await;
        anna.find("table[aria-label='What I share'] td").await;
        wrong.extend(violations(&anna).await);
        press(&anna, "Take it back").await;
        anna.until("one to go", async || (anna.all("table[aria-label='What I share'] tbody tr").await.len() == 1).then_some(())).await;
        bert.goto(&screen_link).await;
        bert.text_until("main", |t| t.contains("This is not shared any more")).await;

        // A member sees nothing that owners do, and each page can be read by everybody.
        bert.goto(&format!("{address}/data")).await;
        bert.text_until("main", |t| t.contains("Owners of this server bring it")).await;
        for (path, ready) in [
            ("/account", "table[aria-label='Where you are signed in'] td"),
            ("/account/tokens", "form[aria-label='A new token']"),
            ("/account/log", "table[aria-label=Activity] td"),
            ("/account/people", "table[aria-label=People] td"),
            ("/account/people/log", "table[aria-label='Audit log'] td"),
        ] {
            anna.goto(&format!("{address}{path}")).await;
            anna.find(ready).await;
            wrong.extend(violations(&anna).await.into_iter().map(|v| format!("{path}: {v}")));
        }
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    });
}

#[test]
fn a_session_that_ends_leaves_the_page_as_it_was_and_asks_who_is_there() {
    story_of_two(async |anna, other, server| {
        let address = &server.address;
        joins(&anna, &server.link, "Anna").await;
        anna.goto(&format!("{address}/guide")).await;
        let field = anna.find("main textarea, main input[aria-label=Formula], main [contenteditable]").await;
        anna.retype(&field, "pe / 2").await;
        // Somebody signs her out from elsewhere: herself, in another browser.
        other.goto(address).await;
        other.find("form").await;
        let at_the_door = violations(&other).await;
        assert!(at_the_door.is_empty(), "{}", at_the_door.join("\n"));
        type_in(&other, "Name", "anna").await;
        type_in(&other, "Passphrase", "not hers, nor anybody's").await;
        press(&other, "Sign in").await;
        other.text_until("[role=alert]", |t| t == "The name, the passphrase or the code is not right.").await;
        type_in(&other, "Passphrase", PASSPHRASE).await;
        press(&other, "Sign in").await;
        other.with_text("header button", "Anna").await;
        other.goto(&format!("{address}/account")).await;
        press(&other, "Sign out everywhere else").await;
        other
            .until("one session", async || {
                (other.all("table[aria-label='Where you are signed in'] tbody tr").await.len() == 1).then_some(())
            })
            .await;
        // Whatever she asks next, she is asked who she is; what she typed is still there afterwards.
        anna.retype(&field, "pe / 3").await;
        anna.text_until("[role=dialog] h1", |t| t == "Sign in again").await;
        type_in(&anna, "Passphrase", PASSPHRASE).await;
        anna.with_text("[role=dialog] button", "Sign in").await.click().await.unwrap();
        anna.until("the dialog to go", async || anna.all("[role=dialog]").await.is_empty().then_some(())).await;
        assert!(field.prop("value").await.unwrap().unwrap_or_default().contains("pe / 3"));
        // Signing out leaves nothing in the browser.
        anna.with_text("header button", "Anna").await.click().await.unwrap();
        anna.with_text("[role=menuitem]", "Sign out").await.click().await.unwrap();
        anna.with_text("h1", "Sign in").await;
        assert!(anna.measure("Object.keys(localStorage).filter((k) => k.startsWith('artemon')).length").await < 1.0);
    });
}

/// The picture of the people of a server: `make pictures`.
#[test]
#[ignore = "writes into docs/screenshots"]
fn pictures_of_people() {
    story_of_two(async |anna, bert, server| {
        let address = &server.address;
        joins(&anna, &server.link, "Anna").await;
        for name in ["Bert", "my brother"] {
            anna.goto(&format!("{address}/account/people")).await;
            type_in(&anna, "For whom", name).await;
            press(&anna, "Invite").await;
            let invited = told_once(&anna).await;
            if name == "Bert" {
                joins(&bert, &invited, name).await;
            }
        }
        anna.goto(&format!("{address}/account/people")).await;
        anna.find("table[aria-label=Invitations] td").await;
        anna.picture(&folder().join("people.png")).await;
    });
}

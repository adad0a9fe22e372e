//! Who comes in and who goes: a second factor, a passphrase that is asked for again, a way back, a person who is removed.

use crate::steps::{PASSPHRASE, asked, joins, press, type_in, violations};
use artemon_e2e::{Browser, Server, story_of_two, story_of_two_with};
use std::process::Command;

/// The code that an authenticator shows for the secret on the page (RFC 6238), so many half minutes from now.
async fn code(browser: &Browser, secret: &str, ahead: u64) -> String {
    let script = format!(
        "const done = arguments[arguments.length - 1];
         const bits = [...'{secret}'].map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0')).join('');
         const bytes = Uint8Array.from(bits.match(/.{{8}}/g), (b) => parseInt(b, 2));
         const step = new DataView(new ArrayBuffer(8));
         step.setBigUint64(0, BigInt(Math.floor(Date.now() / 30000) + {ahead}));
         crypto.subtle.importKey('raw', bytes, {{ name: 'HMAC', hash: 'SHA-1' }}, false, ['sign'])
           .then((key) => crypto.subtle.sign('HMAC', key, step.buffer))
           .then((signed) => {{
             const whole = new DataView(signed);
             const part = whole.getUint32(whole.getUint8(19) & 15) & 0x7fffffff;
             done(String(part % 1000000).padStart(6, '0'));
           }});"
    );
    browser.ask(&script).await.as_str().unwrap().to_owned()
}

/// The secret that is shown to be typed.
async fn secret(browser: &Browser) -> String {
    let shown = browser.text_until("section[aria-label='Second factor'] form b", |text| text.len() > 20).await;
    shown.chars().filter(char::is_ascii_alphanumeric).collect()
}

/// Turns the second factor on; gives its secret and the recovery codes.
async fn turned_on(browser: &Browser) -> (String, Vec<String>) {
    press(browser, "Turn it on…").await;
    let secret = secret(browser).await;
    type_in(browser, "Code", "000000").await;
    press(browser, "Turn it on").await;
    browser.text_until("form [role=alert]", |said| said.starts_with("This is not the code")).await;
    let now = code(browser, &secret, 0).await;
    type_in(browser, "Code", &now).await;
    press(browser, "Turn it on").await;
    let told = browser.text_until("pre[aria-label='Your recovery codes']", |said| said.lines().count() == 10).await;
    (secret, told.lines().map(str::to_owned).collect())
}

async fn signs_in(browser: &Browser, server: &Server, name: &str) {
    browser.goto(&server.address).await;
    type_in(browser, "Name", name).await;
    type_in(browser, "Passphrase", PASSPHRASE).await;
    press(browser, "Sign in").await;
}

/// As if everybody had signed in a quarter of an hour ago.
fn a_quarter_of_an_hour_later(server: &Server) {
    let sql = "UPDATE sessions SET confirmed_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-15 minutes')";
    let program = "import sqlite3,sys\nc=sqlite3.connect(sys.argv[1],timeout=10);c.execute(sys.argv[2]);c.commit()";
    let path = server.folder.join("people.sqlite");
    assert!(Command::new("python3").args(["-c", program]).arg(path).arg(sql).status().unwrap().success());
}

#[test]
fn a_second_factor_is_turned_on_and_asked_for() {
    story_of_two(async |anna, other, server| {
        joins(&anna, &server.link, "Anna").await;
        anna.goto(&format!("{}/account", server.address)).await;
        let (secret, codes) = turned_on(&anna).await;
        let mut wrong = violations(&anna).await;
        anna.look("recovery-codes.png").await;
        press(&anna, "I have it").await;
        anna.text_until("section[aria-label='Second factor']", |t| t.contains("10 recovery codes are left")).await;

        // Elsewhere the passphrase is not enough, nor a code that is none.
        signs_in(&other, &server, "Anna").await;
        type_in(&other, "Code", "123 456").await;
        wrong.extend(violations(&other).await);
        other.look("code-asked.png").await;
        press(&other, "Sign in").await;
        other.text_until("[role=alert]", |t| t == "The name, the passphrase or the code is not right.").await;
        let next = code(&other, &secret, 1).await;
        type_in(&other, "Code", &format!("{} {}", &next[..3], &next[3..])).await;
        press(&other, "Sign in").await;
        other.with_text("header button", "Anna").await;

        // Without the phone one of the codes on paper lets her in, and is gone.
        other.with_text("header button", "Anna").await.click().await.unwrap();
        other.with_text("[role=menuitem]", "Sign out").await.click().await.unwrap();
        other.with_text("h1", "Sign in").await;
        signs_in(&other, &server, "Anna").await;
        type_in(&other, "Code", &codes[4]).await;
        press(&other, "Sign in").await;
        other.with_text("header button", "Anna").await;
        other.goto(&format!("{}/account", server.address)).await;
        other.text_until("section[aria-label='Second factor']", |t| t.contains("9 recovery codes are left")).await;
        press(&other, "Turn it off").await;
        other.with_text("button", "Turn it on…").await;
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    });
}

#[test]
fn where_everybody_must_have_one_it_comes_before_all_else() {
    story_of_two_with(&["--second-factor"], async |anna, bert, server| {
        anna.goto(&server.link).await;
        type_in(&anna, "Name", "Anna").await;
        type_in(&anna, "Passphrase", PASSPHRASE).await;
        press(&anna, "Come in").await;
        anna.with_text("h1", "One more thing, Anna").await;
        // No other page is open to her before, and no request.
        anna.goto(&format!("{}/screens", server.address)).await;
        anna.with_text("h1", "One more thing, Anna").await;
        let refused = asked(&anna, "GET", "/api/documents?kind=screen", "").await;
        assert_eq!(refused["type"], "artemon:second-factor-first", "{refused}");
        turned_on(&anna).await;
        let wrong = violations(&anna).await;
        anna.look("second-factor-first.png").await;
        press(&anna, "I have it").await;
        press(&anna, "Go on").await;
        anna.with_text("header button", "Anna").await;
        drop(bert);
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    });
}

#[test]
fn who_is_removed_is_out_at_once_and_another_takes_over() {
    story_of_two(async |anna, bert, server| {
        let at = |path: &str| format!("{}{path}", server.address);
        joins(&anna, &server.link, "Anna").await;
        anna.goto(&at("/account/people")).await;
        type_in(&anna, "For whom", "Bert").await;
        press(&anna, "Invite").await;
        let link = anna.text_until("pre", |said| said.starts_with("http")).await;
        joins(&bert, &link, "Bert").await;
        let kept = "{ kind: 'screen', name: 'Harbours', body: { blocks: [{ need: 'all', criteria: [{ formula: 'pe', max: 15 }] }] } }";
        asked(&bert, "POST", "/api/documents", kept).await;

        // He has lost his passphrase: she makes a way back, for which hers is asked again.
        anna.goto(&at("/account/people")).await;
        a_quarter_of_an_hour_later(&server);
        anna.find("button[aria-label^='What can be done with Bert']").await.click().await.unwrap();
        anna.with_text("[role=menuitem]", "Link for another passphrase").await.click().await.unwrap();
        anna.with_text("[role=dialog] h2", "Your passphrase again").await;
        let wrong = violations(&anna).await;
        anna.look("passphrase-again.png").await;
        type_in(&anna, "Passphrase", "not hers, nor anybody's").await;
        anna.with_text("[role=dialog] button", "Go on").await.click().await.unwrap();
        anna.text_until("[role=dialog]", |t| t.contains("not right") || t.contains("not your passphrase")).await;
        type_in(&anna, "Passphrase", PASSPHRASE).await;
        anna.with_text("[role=dialog] button", "Go on").await.click().await.unwrap();
        let back = anna.text_until("pre", |said| said.starts_with("http")).await;
        bert.goto(&back).await;
        bert.with_text("h1", "Welcome back, Bert").await;
        type_in(&bert, "Passphrase", "another lantern in the gravel").await;
        press(&bert, "Choose this passphrase").await;
        bert.with_text("header button", "Bert").await;

        // He is removed; what others can work with becomes hers.
        bert.goto(&at("/screens")).await;
        anna.goto(&at("/account/people")).await;
        anna.find("button[aria-label^='What can be done with Bert']").await.click().await.unwrap();
        anna.with_text("[role=menuitem]", "Remove…").await.click().await.unwrap();
        anna.with_text("[role=dialog] label", "Hand them over to me").await.click().await.unwrap();
        anna.with_text("[role=dialog] button", "Remove Bert").await.click().await.unwrap();
        anna.until("one person", async || (anna.all("table[aria-label=People] tbody tr").await.len() == 1).then_some(())).await;
        bert.goto(&at("/screens")).await;
        bert.with_text("h1", "Sign in").await;
        anna.goto(&at("/screens")).await;
        press(&anna, "Screens").await;
        anna.find("button[aria-label^='What can be done with Harbours']").await;
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    });
}

/// A page that comes unencrypted from another machine has no clipboard; a link can be copied nevertheless.
#[test]
fn a_link_is_copied_where_the_page_has_no_clipboard() {
    story_of_two(async |anna, _, server| {
        anna.before_each_page("Object.defineProperty(navigator, 'clipboard', { value: undefined });").await;
        joins(&anna, &server.link, "Anna").await;
        anna.goto(&format!("{}/account/people", server.address)).await;
        press(&anna, "Invite").await;
        let link = anna.text_until("pre", |said| said.starts_with("http")).await;
        press(&anna, "Copy").await;
        anna.with_text("button", "Copied").await;
        // The field beside takes what was copied.
        let field = anna.find("input").await;
        field.click().await.unwrap();
        anna.press("\u{e009}v").await;
        anna.until("the link", async || {
            let has = field.prop("value").await.ok()?.unwrap_or_default();
            (has == link).then_some(())
        })
        .await;
    });
}

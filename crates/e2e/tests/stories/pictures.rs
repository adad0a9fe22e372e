//! Refreshes the pictures in `docs/screenshots`: `make pictures`.

use crate::steps::{asked, backtest};
use artemon_e2e::{Browser, story_among};
use std::path::{Path, PathBuf};

pub(crate) fn folder() -> PathBuf {
    std::env::var_os("PICTURES").map_or_else(|| Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots"), PathBuf::from)
}

async fn take(browser: &Browser, address: &str, path: &str, ready: &str, name: &str) {
    browser.goto(&format!("{address}{path}")).await;
    browser.find(ready).await;
    // Fonts are part of the picture.
    browser.until("the fonts", async || (browser.measure("document.fonts.status === 'loaded' ? 1 : 0").await > 0.5).then_some(())).await;
    browser.picture(&folder().join(name)).await;
}

/// Some are followed, a screen is kept, and two sessions come with a message each; the market's months are all worked out.
async fn follow(browser: &Browser, address: &str) {
    browser.goto(&format!("{address}/screens")).await;
    browser.find("[data-testid=survivor]").await;
    let script = "const done = arguments[arguments.length - 1];
        const ask = (method, path, body) => fetch(path, { method, headers: { 'Content-Type': 'application/json' },
            body: body === undefined ? undefined : JSON.stringify(body) }).then((r) => (r.status === 204 ? null : r.json()));
        (async () => {
            const ready = (await ask('GET', '/api/screens/ready'))[0];
            await ask('POST', '/api/documents', { kind: 'screen', name: ready.screen.name, body: ready.screen });
            const list = async (name, folder, symbols) => {
                const { id } = await ask('POST', '/api/documents', { kind: 'list', name, folder, body: {} });
                await ask('POST', `/api/lists/${id}/members`, { symbols, from: ready.screen.name });
                return id;
            };
            const found = await ask('POST', '/api/screen/symbols', { screen: ready.screen });
            const everyone = await ask('POST', '/api/screen/symbols', { screen: { blocks: [] } });
            const watch = await list('Watch', '', [...found.slice(0, 8), ...everyone.filter((_, i) => i % 97 === 0)]);
            await list('Dividend payers', 'Ideas', everyone.slice(40, 52));
            await list('Not now', 'Ideas', everyone.slice(70, 73));
            await ask('PUT', `/api/lists/${watch}/members/${found[0]}`, { note: 'Sound, but wait for the interim report.', price: null });
            await ask('PUT', `/api/companies/${found[1]}/soundness`, { soundness: 1, reason: 'Owners who know what they do' });
            await ask('PUT', '/api/mail/settings', { to: 'you@example.org', digest: { every: 'session', at: '07:00', screens: [] } });
            await ask('POST', '/api/feed', { sessions: 2 });
            while ((await ask('GET', '/api/today/gauge')).left > 0);
        })().then(() => done(true));";
    browser.ask(script).await;
}

/// An account, orders in some of the best, and the sessions of three months.
async fn buy(browser: &Browser) {
    let script = "const done = arguments[arguments.length - 1];
        const ask = (path, body) => fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json' },
            body: JSON.stringify(body) }).then((r) => r.json());
        const THESES = ['Cheap against its own ten years, with hardly any debt.', 'Margins fell by one contract that ends next year.',
            'Insiders bought three times since spring; the dividend is covered twice.'];
        (async () => {
            const { id } = await ask('/api/ledger/accounts', { name: 'Main', currency: 'ZOC', kind: 'simulated', deposit: 400000 });
            const { rows } = await ask('/api/rank', {});
            for (const [i, { symbol }] of rows.slice(0, 12).entries()) {
                const order = { account: id, symbol, side: 'buy', amount: 24000, good: 'until_cancelled', sure: true };
                const { last } = await ask('/api/ledger/sheet', order);
                const terms = i % 3 === 0 ? { at: 'market' } : { limit: last * (i % 3 === 1 ? 0.98 : 0.9), sell_at_gain: 0.3 };
                const reasons = { thesis: THESES[i % THESES.length], wrong: 'Two more years of falling margins.', confidence: 0.6 + 0.1 * (i % 3) };
                await ask('/api/ledger/orders', { ...order, ...terms, reasons: i % 2 === 0 ? reasons : null });
            }
        })().then(() => done(true));";
    browser.ask(script).await;
    for _ in 0..6 {
        asked(browser, "POST", "/api/feed", "{ sessions: 10 }").await;
    }
}

#[test]
#[ignore = "writes pictures; run by `make pictures`"]
fn refresh() {
    story_among(1_200, async |browser, address| {
        follow(&browser, &address).await;
        take(&browser, &address, "/today?since=2026-06-23", "[data-line]", "today.png").await;
        take(&browser, &address, "/lists", "[data-testid=member] svg", "lists.png").await;
        take(&browser, &address, "/today/messages", "[data-testid=mail]", "messages.png").await;
        take(&browser, &address, "/screens", "[data-testid=survivor]", "screens.png").await;
        take(&browser, &address, "/screens?view=wall", "[data-testid=tile] svg", "screens-charts.png").await;
        take(&browser, &address, "/screens?view=map", "svg[aria-label*=' companies: ']", "screens-map.png").await;
        take(&browser, &address, "/candidates", "[data-testid=candidate]", "candidates.png").await;
        take(&browser, &address, "/candidates?view=map", "[aria-label='Quality against margin of safety'] svg", "candidates-map.png").await;
        take(&browser, &address, "/assumptions", "[aria-live] b", "assumptions.png").await;
        browser.goto(&format!("{address}/candidates")).await;
        let links =
            browser.until("some candidates", async || Some(browser.all("[data-testid=candidate] a").await).filter(|l| l.len() > 8)).await;
        let mut symbols = Vec::new();
        for link in [0, 1, 7] {
            symbols.push(links[link].attr("href").await.unwrap().unwrap().rsplit('/').next().unwrap().to_owned());
        }
        take(
            &browser,
            &address,
            &format!("/compare?symbols={}", symbols.join(",")),
            "[aria-label='Companies side by side'] .cell b",
            "compare.png",
        )
        .await;
        browser.goto(&format!("{address}/candidates")).await;
        let first = browser.find("[data-testid=candidate] a").await.attr("href").await.unwrap().unwrap();
        take(&browser, &address, &first, "aside svg", "company.png").await;
        browser.with_text("nav[aria-label=Questions] button", "How well does it turn sales into profit?").await.click().await.unwrap();
        browser.find("table[aria-label='Income statement']").await;
        browser.find("[aria-label='Revenue by period'] svg").await;
        browser.measure("(document.querySelector('#q-margin').scrollIntoView(), 0)").await;
        browser.picture(&folder().join("company-statements.png")).await;
        browser.find("#q-worth svg").await;
        browser.with_text("nav[aria-label=Questions] button", "What is it worth?").await.click().await.unwrap();
        browser.picture(&folder().join("company-worth.png")).await;
        browser.with_text("nav[aria-label=Questions] button", "What does the price say?").await.click().await.unwrap();
        browser.find("#q-price canvas").await;
        browser.text_until("nav[aria-label=Questions] [aria-current]", |t| t.contains("price")).await;
        browser.picture(&folder().join("company-price.png")).await;
        let figure = format!("{first}{}figure=roe&of={}", if first.contains('?') { "&" } else { "?" }, first.rsplit('/').next().unwrap());
        take(&browser, &address, &figure, "[aria-label='The figure by month'] svg", "figure.png").await;
        take(&browser, &address, "/data", "[role=row] .cell.n", "data.png").await;
        buy(&browser).await;
        take(&browser, &address, "/ledger", "[aria-label=Holdings] svg", "ledger.png").await;
        let backtest = backtest(&browser).await;
        take(&browser, &address, &backtest, "section[aria-label=Curve] polygon", "backtest.png").await;
    });
}

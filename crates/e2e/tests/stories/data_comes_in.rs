//! Data comes in through the browser: a day of prices as CSV, a broken file that is refused, what the page then says; first filings.

use artemon_e2e::{Browser, story, story_without_data};
use std::{
    collections::BTreeMap,
    path::{Path, PathBuf},
};

async fn bring(browser: &Browser, file: &Path) {
    browser.find("input[aria-label='Files to import']").await.send_keys(&file.to_string_lossy()).await.unwrap();
    browser.find("[role=combobox][aria-label='Header for close']").await;
}

#[test]
fn a_day_of_prices_is_imported_and_a_broken_file_is_refused() {
    story(async |browser, address| {
        let folder = tempfile::tempdir().unwrap();
        browser.goto(&format!("{address}/companies")).await;
        let symbol = browser.find("[data-testid=company-row] a").await.attr("href").await.unwrap().unwrap();
        let symbol = symbol.rsplit('/').next().unwrap().split('?').next().unwrap().to_owned();

        browser.press("gd").await;
        browser.find("[aria-label='Data loaded, by table and year']").await;
        browser.look("data-empty.png").await;

        // The demo world goes on by a session.
        browser.with_text("button", "Next session").await.click().await.unwrap();
        browser.text_until("[role=status]", |t| t.contains("1 Jul 2026 brought") && t.contains("prices")).await;
        browser.text_until("header", |t| t.contains("1 Jul 2026")).await;
        browser.look("data-feed.png").await;

        // A broken file: a price that is none. It is said where, and nothing is taken.
        let broken = folder.path().join("broken.csv");
        std::fs::write(&broken, format!("Ticker;Datum;Close\n{symbol};2.7.2026;12,50\n{symbol};3.7.2026;twelve\n")).unwrap();
        bring(&browser, &broken).await;
        browser.look("data-mapping.png").await;
        browser.with_text("button", "Import").await.click().await.unwrap();
        let said = browser.text_until("[data-testid=ended]", |t| t.contains("Refused")).await;
        assert!(said.contains("line 3") && said.contains("twelve") && said.contains("is not a number"), "{said}");
        browser.look("data-refused.png").await;

        // A good one: its header is known by now only if it was taken, so the guess is made again.
        let good = folder.path().join("day.csv");
        std::fs::write(&good, format!("Ticker;Datum;Close;Vol\n{symbol};2.7.2026;12,50;900\n")).unwrap();
        bring(&browser, &good).await;
        let sample = browser.text("table[aria-label='First rows of day.csv']").await;
        assert!(sample.contains("2026-07-02") && sample.contains("12.50"), "{sample}");
        browser.with_text("button", "Import").await.click().await.unwrap();
        browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains("1 row")).await;
        browser.look("data-imported.png").await;

        // The page of the company knows the new price at once.
        browser.goto(&format!("{address}/companies/{symbol}")).await;
        browser.text_until("aside", |t| t.contains("12.50") && t.contains("2 Jul 2026")).await;

        // Doubts are listed, and lead to the company.
        browser.goto(&format!("{address}/data?view=findings")).await;
        browser.find("[aria-label='Doubts about the data'] .cell a").await;
        browser.look("data-doubts.png").await;
    });
}

fn golden(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats").join(path).canonicalize().unwrap()
}

async fn choose(browser: &Browser, files: &[PathBuf]) {
    let all: Vec<_> = files.iter().map(|f| f.to_string_lossy().into_owned()).collect();
    // When an import has just ended, the place to drop is made anew.
    let input = "input[aria-label='Files to import']";
    browser.until("files to be chosen", async || browser.find(input).await.send_keys(&all.join("\n")).await.ok()).await;
}

/// From nothing: companies as a table, then a filing whose identifier nobody has, and one of an insider. The company is chosen, the day
/// typed; what became of the facts is told; a concept of the company's own is mapped, and the filing brought again has it.
#[test]
fn a_filing_is_asked_for_its_company_and_its_day() {
    story_without_data(async |browser, address| {
        browser.goto(&format!("{address}/data")).await;
        choose(&browser, &[golden("xbrl-xml/quarterly/companies.csv"), golden("ownership-xml/listings.csv")]).await;
        browser.with_text("button", "Import").await.click().await.unwrap();
        browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains("2 rows")).await;

        let filing = "[role=group][aria-label='tarn-2023fy.xml']";
        choose(&browser, &[golden("xbrl-xml/quarterly/tarn-2023fy.xml"), golden("ownership-xml/own-0009.xml")]).await;
        browser.text_until(filing, |t| t.contains("113 facts, Tarn Lamp Oil Company, to 31 Dec 2023")).await;
        browser.text_until("[role=group][aria-label='own-0009.xml']", |t| t.contains("1 trade,") && t.contains("7 Aug 2024")).await;
        browser.text_until("main", |t| t.contains("1 of 2 filings are taken")).await;
        browser.look("data-filing.png").await;
        browser.find(&format!("{filing} [role=combobox]")).await.send_keys("lamp").await.unwrap();
        browser.with_text("[role=option]", "Tarn Lamp Oil").await.click().await.unwrap();
        browser.find(&format!("{filing} input[type=date]")).await.send_keys("02222024").await.unwrap();
        browser
            .until("nothing to be asked any more", async || {
                browser.all("main").await[0].text().await.ok().filter(|t| !t.contains("filings are taken")).map(|_| ())
            })
            .await;
        browser.with_text("button", "Import").await.click().await.unwrap();
        let said = browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains("3 rows")).await;
        assert!(said.contains("used") && said.contains("filed_on from the signature") && said.contains("WickRoyaltiesExpense"), "{said}");
        browser.look("data-filed.png").await;

        // The concept is mapped once; the identifier is known by now.
        browser.find("[aria-label='Own concepts'] [role=combobox]").await.click().await.unwrap();
        browser.with_text("[role=option]", "research and development").await.click().await.unwrap();
        choose(&browser, &[golden("xbrl-xml/quarterly/tarn-2023fy.xml")]).await;
        browser.find(&format!("{filing} input[type=date]")).await.send_keys("02222024").await.unwrap();
        browser
            .until("a company that is known", async || {
                let company = browser.all(&format!("{filing} [role=combobox]")).await;
                company.first()?.prop("value").await.ok().flatten().filter(|v| v == "Tarn Lamp Oil").map(|_| ())
            })
            .await;
        browser.with_text("button", "Import").await.click().await.unwrap();
        let said = browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains("1 row")).await;
        assert!(said.contains("unchanged") && !said.contains("WickRoyaltiesExpense"), "{said}");
        // Without prices there is no universe yet: each page says so, and so does the console.
        assert!(browser.console_errors().await.iter().all(|e| e.contains("422")));
    });
}

/// A record of five years, items in rows and thousands: most of it is guessed, what it cannot say is asked, and it comes out as expected.
#[test]
fn a_record_of_years_is_mapped() {
    story_without_data(async |browser, address| {
        browser.goto(&format!("{address}/data")).await;
        choose(&browser, &[golden("xlsx/tables.xlsx")]).await;
        land(&browser, "tables.xlsx").await;
        choose(&browser, &[golden("xlsx/wide.xlsx")]).await;
        let asked = "[role=group][aria-label='Years and items']";
        browser.text_until(asked, |t| t.contains("FY2020") && t.contains("Profit for shareholders")).await;
        // It can be said to be a plain table, and to be turned after all.
        pick(&browser, "Table", "statements").await;
        browser.find("[role=combobox][aria-label='Header for fiscal_year']").await;
        pick(&browser, "Table", "statements, years in columns").await;
        browser.find(&format!("{asked} input[role=combobox]")).await.send_keys("rope").await.unwrap();
        browser.with_text("[role=option]", "Meridian Ropeworks").await.click().await.unwrap();
        browser.find(&format!("{asked} input[placeholder='three letters']")).await.send_keys("zoc\t").await.unwrap();
        browser.with_text("button", "Not known: three months after each period").await.click().await.unwrap();
        pick(&browser, "Amounts are", "in thousands").await;
        browser.text_until("table[aria-label^='First rows of wide.xlsx']", |t| t.contains("2020") && t.contains("87427000")).await;
        browser.look("data-turned.png").await;
        land(&browser, "wide.xlsx").await;
        let landed = browser.ask("fetch('/api/export?table=statements').then((r) => r.text()).then(arguments[0])").await;
        let of = |text: &str| {
            let mut csv = csv::Reader::from_reader(text.as_bytes());
            let rows = csv.deserialize().map(|row: Result<BTreeMap<String, String>, _>| row.unwrap());
            let key = |row: &BTreeMap<String, String>| ["fiscal_year", "filed_on"].map(|k| row[k].clone());
            let figures = |row: &BTreeMap<String, String>| {
                let number = |k: &str| row[k].parse::<f64>().ok().map(f64::to_bits);
                ["revenue", "cost_of_revenue", "income_tax", "net_income", "eps_basic", "equity", "shares_outstanding"].map(number)
            };
            rows.map(|row| (key(&row), figures(&row))).collect::<BTreeMap<_, _>>()
        };
        let landed = of(landed.as_str().unwrap());
        let expected = of(&std::fs::read_to_string(golden("xlsx/expected-wide-statements.csv")).unwrap());
        assert!(expected.iter().all(|(key, figures)| landed.get(key) == Some(figures)), "{landed:?}\n{expected:?}");
    });
}

fn sample(file: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/public/samples").join(file).canonicalize().unwrap()
}

/// Imports what was chosen and waits until it landed: it is called as what ended, since what ended before may still be shown.
async fn land(browser: &Browser, title: &str) {
    browser.with_text("button", "Import").await.click().await.unwrap();
    browser.text_until("[data-testid=ended]", |t| t.contains("Imported") && t.contains(title)).await;
}

async fn pick(browser: &Browser, label: &str, option: &str) {
    browser
        .find(&format!("[role=combobox][aria-label='{label}'], [aria-label='{label}'] + * [role=combobox]"))
        .await
        .click()
        .await
        .unwrap();
    browser.with_text("[role=option]", option).await.click().await.unwrap();
}

/// From nothing to a screened market with the samples of the list: a regulator's sets with the symbols of its filers and a zip of price
/// files, exchange rates, yields. The list fills, and the companies are screened.
#[test]
fn a_market_is_filled_from_bulk_files_and_screened() {
    story_without_data(async |browser, address| {
        browser.goto(&format!("{address}/data")).await;
        browser.text_until("[aria-label='First data']", |t| t.contains("To try with: statements-2024q1.zip")).await;
        browser.look("first-empty.png").await;

        let files = ["statements-2024q1.zip", "statements-2024q2.zip", "tickers.csv", "prices.zip"].map(sample);
        choose(&browser, &files).await;
        browser.text_until("[role=group][aria-label='Filers']", |t| t.contains("every filer of their register")).await;
        browser.text_until("[role=group][aria-label='prices.zip']", |t| t.contains("One a symbol or one a day")).await;
        browser.look("first-brought.png").await;
        browser.with_text("button", "Not now").await.click().await.unwrap();

        // The same prices as a folder.
        choose(&browser, &files[..3]).await;
        land(&browser, "and 2 more").await;
        let folder = tempfile::tempdir().unwrap();
        let closes = folder.path().join("closes");
        zip::ZipArchive::new(std::fs::File::open(&files[3]).unwrap()).unwrap().extract(&closes).unwrap();
        let input = "input[aria-label='Folder to import']";
        let path = closes.to_string_lossy();
        browser.until("a folder to be chosen", async || browser.find(input).await.send_keys(&path).await.ok()).await;
        browser.text_until("main", |t| t.contains("One a symbol or one a day")).await;
        land(&browser, "closes").await;
        browser.goto(&format!("{address}/data?view=first")).await;
        browser.text_until("[aria-label='First data']", |t| t.contains("of 5 companies") && t.contains("5 listed")).await;
        browser.look("first-landed.png").await;

        choose(&browser, &[sample("exchange-rates.csv")]).await;
        let base = browser.find("[aria-label='Columns of values'] input[placeholder='three letters']").await;
        base.send_keys("xfa\t").await.unwrap();
        browser.text_until("table[aria-label='First rows of exchange-rates.csv']", |t| t.contains("XFA") && t.contains("8.1288")).await;
        land(&browser, "exchange-rates.csv").await;

        choose(&browser, &[sample("government-yields.csv")]).await;
        pick(&browser, "Table", "rates").await;
        browser.find("[role=combobox][aria-label='10 Yr'], [aria-label='10 Yr'] + * [role=combobox]").await;
        // What is said while the rows are still being read for what was said before is not lost.
        browser.answers_come_later_by(800).await;
        pick(&browser, "10 Yr", "government 10y yield").await;
        let currency = browser.find("[aria-label='Columns of values'] input[placeholder='three letters']").await;
        currency.send_keys("XFA\t").await.unwrap();
        browser.text_until("table[aria-label='First rows of government-yields.csv']", |t| t.contains("3.84")).await;
        browser.answers_come_later_by(0).await;
        browser.with_text("label", "Percent: 4.21 is 0.0421").await.click().await.unwrap();
        browser.text_until("table[aria-label='First rows of government-yields.csv']", |t| t.contains("0.0384")).await;
        browser.look("first-rates.png").await;
        land(&browser, "government-yields.csv").await;
        browser.goto(&format!("{address}/data?view=first")).await;
        browser.text_until("[aria-label='First data']", |t| t.contains("every currency reaches your base currency")).await;
        browser.look("first-filled.png").await;

        browser.goto(&format!("{address}/screens")).await;
        // Of a year and a half little can be asked of the past; of the newest balance sheets much.
        browser.text_until("main", |t| t.contains("Of 5 companies") && t.contains("4 pass")).await;
        browser.look("first-screened.png").await;
    });
}

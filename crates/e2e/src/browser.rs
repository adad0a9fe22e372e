//! A headless Chromium through ChromeDriver.

use fantoccini::{
    Client, ClientBuilder, Locator,
    actions::{InputSource, MouseActions, PointerAction},
    elements::Element,
    wd::{Capabilities, PrintConfiguration, PrintSize, WebDriverCompatibleCommand},
};
use hyper_util::client::legacy::connect::HttpConnector;
use serde_json::{Value, json};
use std::{future::Future, path::Path, process::Stdio, sync::Arc, time::Duration};
use tempfile::TempDir;
use tokio::{
    io::{AsyncBufReadExt, BufReader},
    process::{Child, Command},
};

const PATIENCE: Duration = Duration::from_secs(30);
const BETWEEN_LOOKS: Duration = Duration::from_millis(40);
const SELECT_ALL: &str = "\u{E009}a\u{E000}";

const FLAGS: [&str; 14] = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-dev-shm-usage",
    "--disable-quic",
    "--no-first-run",
    "--no-default-browser-check",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
    "--lang=en-GB",
];

/// A browser window of 1280 × 800.
#[derive(Clone, Debug)]
pub struct Browser {
    client: Client,
    _driver: Arc<(Child, TempDir)>,
}

/// A driver command that the client library does not have.
#[derive(Debug)]
struct Raw(http::Method, &'static str, Value);

impl WebDriverCompatibleCommand for Raw {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/{}", session.unwrap_or_default(), self.1))
    }
    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (self.0.clone(), Some(self.2.to_string()))
    }
}

impl Browser {
    /// Starts driver and browser.
    ///
    /// # Panics
    /// When Chromium or ChromeDriver is not installed.
    pub async fn open() -> Browser {
        let folder = tempfile::tempdir().expect("a folder");
        let mut driver = Command::new("chromedriver")
            .arg("--port=0")
            .stdin(Stdio::null())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .kill_on_drop(true)
            .spawn()
            .expect("chromedriver is installed");
        let mut lines = BufReader::new(driver.stdout.take().expect("its output")).lines();
        let port = loop {
            let line = lines.next_line().await.expect("output").expect("chromedriver says its port");
            if let Some((_, port)) = line.split_once("started successfully on port ") {
                break port.trim_end_matches('.').to_owned();
            }
        };
        tokio::spawn(async move { while let Ok(Some(_)) = lines.next_line().await {} });
        let profile = format!("--user-data-dir={}", folder.path().display());
        let flags: Vec<&str> = FLAGS.into_iter().chain([profile.as_str()]).collect();
        let mut wishes = Capabilities::new();
        wishes.insert("goog:chromeOptions".to_owned(), json!({"args": flags}));
        wishes.insert("goog:loggingPrefs".to_owned(), json!({"browser": "ALL"}));
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(wishes)
            .connect(&format!("http://127.0.0.1:{port}"))
            .await
            .expect("a browser");
        let browser = Browser { client, _driver: Arc::new((driver, folder)) };
        browser.size(1280, 800).await;
        browser
    }

    /// Sets the window's inner size.
    pub async fn size(&self, width: u32, height: u32) {
        let metrics = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": false});
        self.raw(Raw(http::Method::POST, "goog/cdp/execute", json!({"cmd": "Emulation.setDeviceMetricsOverride", "params": metrics})))
            .await;
    }

    /// Makes every answer of the server come so much later.
    pub async fn answers_come_later_by(&self, milliseconds: u32) {
        let metrics = json!({"offline": false, "latency": milliseconds, "downloadThroughput": -1, "uploadThroughput": -1});
        for (cmd, params) in [("Network.enable", json!({})), ("Network.emulateNetworkConditions", metrics)] {
            self.raw(Raw(http::Method::POST, "goog/cdp/execute", json!({"cmd": cmd, "params": params}))).await;
        }
    }

    async fn raw(&self, command: Raw) -> Value {
        self.client.issue_cmd(command).await.expect("the driver answers")
    }

    /// Lets what is downloaded land in a folder.
    pub async fn download_into(&self, folder: &Path) {
        let where_to = json!({"behavior": "allow", "downloadPath": folder});
        self.raw(Raw(http::Method::POST, "goog/cdp/execute", json!({"cmd": "Browser.setDownloadBehavior", "params": where_to}))).await;
    }

    /// Opens an address.
    pub async fn goto(&self, address: &str) {
        self.client.goto(address).await.expect("the page opens");
    }

    /// The errors in the browser's console since the last look.
    pub async fn console_errors(&self) -> Vec<String> {
        let log = self.raw(Raw(http::Method::POST, "se/log", json!({"type": "browser"}))).await;
        let entries = log.as_array().cloned().unwrap_or_default();
        entries.iter().filter(|e| e["level"] == "SEVERE").map(|e| e["message"].to_string()).collect()
    }

    /// Waits until `look` finds something.
    pub async fn until<T, F: Future<Output = Option<T>>>(&self, what: &str, look: impl Fn() -> F) -> T {
        let end = tokio::time::Instant::now() + PATIENCE;
        loop {
            if let Some(found) = look().await {
                return found;
            }
            assert!(tokio::time::Instant::now() < end, "waited in vain for {what}");
            tokio::time::sleep(BETWEEN_LOOKS).await;
        }
    }

    /// The first element of a CSS selector, once it is there.
    pub async fn find(&self, css: &str) -> Element {
        self.client
            .wait()
            .at_most(PATIENCE)
            .every(BETWEEN_LOOKS)
            .for_element(Locator::Css(css))
            .await
            .unwrap_or_else(|e| panic!("no {css}: {e}"))
    }

    /// All elements of a CSS selector now.
    pub async fn all(&self, css: &str) -> Vec<Element> {
        self.client.find_all(Locator::Css(css)).await.unwrap_or_default()
    }

    /// The first element whose text is exactly this, once it is there.
    pub async fn with_text(&self, css: &str, text: &str) -> Element {
        self.until(&format!("{css} \"{text}\""), async || {
            for e in self.all(css).await {
                if e.text().await.is_ok_and(|t| t.trim() == text) {
                    return Some(e);
                }
            }
            None
        })
        .await
    }

    /// The text of the first element of a CSS selector.
    pub async fn text(&self, css: &str) -> String {
        self.until(css, async || self.client.find(Locator::Css(css)).await.ok()?.text().await.ok()).await
    }

    /// Waits until the text of an element is as wanted.
    pub async fn text_until(&self, css: &str, wanted: impl Fn(&str) -> bool) -> String {
        self.until(&format!("the text of {css}"), async || {
            let text = self.client.find(Locator::Css(css)).await.ok()?.text().await.ok()?;
            wanted(&text).then_some(text)
        })
        .await
    }

    /// Replaces what stands in a field.
    pub async fn retype(&self, field: &Element, text: &str) {
        // A menu or a dialog may still be closing over it.
        self.until("the field to take a click", async || field.click().await.ok()).await;
        field.send_keys(&format!("{SELECT_ALL}{text}")).await.expect("the field takes text");
    }

    /// Gives an element the focus, once it is there.
    pub async fn focus(&self, css: &str) {
        self.find(css).await;
        self.client.execute(&format!("document.querySelector({css:?}).focus()"), vec![]).await.expect("the page takes the focus");
    }

    /// Says which theme the system prefers, "light" or "dark"; it changes at once, without motion.
    pub async fn prefer(&self, theme: &str) {
        let wish = json!({"features": [
            {"name": "prefers-color-scheme", "value": theme},
            {"name": "prefers-reduced-motion", "value": "reduce"},
        ]});
        self.raw(Raw(http::Method::POST, "goog/cdp/execute", json!({"cmd": "Emulation.setEmulatedMedia", "params": wish}))).await;
    }

    /// Presses keys wherever the focus is.
    pub async fn press(&self, keys: &str) {
        self.client.active_element().await.expect("a focus").send_keys(keys).await.expect("keys are taken");
    }

    /// Drags an element sideways by so many pixels.
    pub async fn drag(&self, element: &Element, by: f64) {
        self.drag_through(element, &[by / 2.0, by / 2.0], Duration::from_millis(60)).await;
    }

    /// Drags an element sideways step by step.
    pub async fn drag_through(&self, element: &Element, steps: &[f64], each: Duration) {
        let button = fantoccini::actions::MOUSE_BUTTON_LEFT;
        let start = MouseActions::new("mouse".to_owned())
            .then(PointerAction::MoveToElement { element: element.clone(), duration: None, x: 0.0, y: 0.0 })
            .then(PointerAction::Down { button });
        let step = |x: &f64| PointerAction::MoveBy { duration: Some(each), x: *x, y: 0.0 };
        let actions = steps.iter().map(step).fold(start, MouseActions::then).then(PointerAction::Up { button });
        self.client.perform_actions(actions).await.expect("the drag works");
        self.client.release_actions().await.expect("the drag ends");
    }

    /// Takes hold of an element, as far as the browser takes it for a drag.
    pub async fn hold(&self, element: &Element) {
        let steps = [over(element, 60), PointerAction::Down { button: fantoccini::actions::MOUSE_BUTTON_LEFT }, a_little(), a_little()];
        let actions = steps.into_iter().fold(MouseActions::new("mouse".to_owned()), MouseActions::then);
        self.client.perform_actions(actions).await.expect("the drag begins");
    }

    /// Lets go over an element of what was taken hold of.
    pub async fn let_go_over(&self, onto: &Element) {
        let steps = [over(onto, 200), a_little(), PointerAction::Up { button: fantoccini::actions::MOUSE_BUTTON_LEFT }];
        let actions = steps.into_iter().fold(MouseActions::new("mouse".to_owned()), MouseActions::then);
        self.client.perform_actions(actions).await.expect("the drag works");
        self.client.release_actions().await.expect("the drag ends");
    }

    /// Drags an element onto another and lets go there.
    pub async fn drop_onto(&self, element: &Element, onto: &Element) {
        self.hold(element).await;
        self.let_go_over(onto).await;
    }

    /// The number that an expression has in the page.
    pub async fn measure(&self, script: &str) -> f64 {
        self.client.execute(&format!("return {script}"), vec![]).await.ok().and_then(|v| v.as_f64()).unwrap_or(f64::NAN)
    }

    /// What a script in the page answers through its last argument, once it does.
    pub async fn ask(&self, script: &str) -> Value {
        self.client.execute_async(script, vec![]).await.expect("the script answers")
    }

    /// Runs a script in every page that is opened from now on, before its own.
    pub async fn before_each_page(&self, script: &str) {
        let wish = json!({"cmd": "Page.addScriptToEvaluateOnNewDocument", "params": {"source": script}});
        self.raw(Raw(http::Method::POST, "goog/cdp/execute", wish)).await;
    }

    /// Forgets every file that was fetched.
    pub async fn empty_cache(&self) {
        let wish = json!({"cmd": "Network.clearBrowserCache", "params": {}});
        self.raw(Raw(http::Method::POST, "goog/cdp/execute", wish)).await;
    }

    /// Saves a picture of the window.
    pub async fn picture(&self, path: &Path) {
        let png = self.client.screenshot().await.expect("a picture");
        std::fs::write(path, png).expect("the picture is saved");
    }

    /// Saves a picture of a state that the README does not show, into the folder that LOOKS names.
    pub async fn look(&self, name: &str) {
        if let Some(folder) = std::env::var_os("LOOKS") {
            self.picture(&Path::new(&folder).join(name)).await;
        }
    }

    /// The text of the page as it is printed, page by page, on paper of so many centimetres.
    ///
    /// # Panics
    /// When it cannot be printed, or pdftotext is not installed.
    pub async fn printed(&self, width: f64, height: f64) -> Vec<String> {
        let size = PrintSize { width, height };
        let how = PrintConfiguration::builder().size(size).build().expect("a way to print");
        let pdf = self.client.print(how).await.expect("a printed page");
        let folder = tempfile::tempdir().expect("a folder");
        let file = folder.path().join("page.pdf");
        std::fs::write(&file, pdf).expect("the file is saved");
        let ran =
            std::process::Command::new("pdftotext").args(["-layout"]).arg(&file).arg("-").output().expect("make deps installs pdftotext");
        // Each page ends with a form feed.
        String::from_utf8_lossy(&ran.stdout).split_terminator('\u{c}').map(str::to_owned).collect()
    }

    /// Ends the browser.
    pub async fn close(self) {
        self.client.close().await.ok();
    }
}

fn over(element: &Element, ms: u64) -> PointerAction {
    PointerAction::MoveToElement { element: element.clone(), duration: Some(Duration::from_millis(ms)), x: 0.0, y: 0.0 }
}

fn a_little() -> PointerAction {
    PointerAction::MoveBy { duration: Some(Duration::from_millis(60)), x: 4.0, y: 4.0 }
}

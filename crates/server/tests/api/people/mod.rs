//! A server of several people, as those see it who use it and those who should not.

mod attacks;
mod bounds;
mod encrypted;
mod ending;
mod enumeration;
mod leaving;
mod log;
mod others;
mod sharing;
mod signing_in;

use crate::{ask_at, contract::Contract, golden};
use artemon_app::{Home, Options, first_owner};
use artemon_server::{Encryption, Reach};
use serde_json::{Value, json};
use std::{
    collections::BTreeMap,
    net::SocketAddr,
    sync::{Arc, LazyLock, Mutex, PoisonError},
};
use tokio::net::TcpListener;
use url::Url;

pub(crate) const PASSPHRASE: &str = "lantern orbit gravel seventeen";

static CONTRACT: LazyLock<Mutex<Contract>> = LazyLock::new(|| Mutex::new(Contract::new()));

/// A server of several people over the golden dataset.
pub(crate) struct Shared {
    pub(crate) port: u16,
    pub(crate) home: Arc<Home>,
    pub(crate) data: tempfile::TempDir,
    /// In the link of the first owner.
    token: String,
}

pub(crate) async fn shared() -> Shared {
    reached(|address| Reach::shared(address, None, Encryption::None, false)).await
}

/// The same, reached in another way.
pub(crate) async fn reached(how: impl FnOnce(SocketAddr) -> Result<Reach, String>) -> Shared {
    opened(how, |options| options).await
}

/// The same with other options.
pub(crate) async fn with_options(other: impl FnOnce(Options) -> Options) -> Shared {
    opened(|address| Reach::shared(address, None, Encryption::None, false), other).await
}

async fn opened(how: impl FnOnce(SocketAddr) -> Result<Reach, String>, other: impl FnOnce(Options) -> Options) -> Shared {
    let data = tempfile::tempdir().unwrap();
    golden(data.path());
    let options = Options { folder: data.path().to_owned(), upload_bytes: Some(4 << 20), shared: true, ..Options::default() };
    let home = Home::open(other(options)).unwrap();
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap();
    let reach = how(address).unwrap();
    let token = first_owner(&home).unwrap().unwrap().rsplit('#').next().unwrap().to_owned();
    tokio::spawn(artemon_server::serve(listener, home.clone(), reach, std::future::pending()));
    Shared { port: address.port(), home, data, token }
}

/// A server behind a proxy on this machine, which says for whom it asks.
pub(crate) async fn behind_a_proxy() -> Shared {
    let url = Url::parse("https://artemon.example").unwrap();
    let proxy = Encryption::Proxy("127.0.0.1".parse().unwrap());
    reached(|address| Reach::shared(address, Some(&url), proxy, false)).await
}

impl Shared {
    /// A browser at an address beyond the proxy.
    pub(crate) fn browser_at(&self, address: &str) -> Browser {
        let from = format!("X-Forwarded-For: {address}\r\n");
        Browser { host: "artemon.example".to_owned(), origin: "https://artemon.example".to_owned(), from, ..self.browser() }
    }

    /// A browser in which nobody has signed in.
    pub(crate) fn browser(&self) -> Browser {
        let host = format!("127.0.0.1:{}", self.port);
        Browser { port: self.port, origin: format!("http://{host}"), host, from: String::new(), cookies: Mutex::default() }
    }

    /// Anna, who is the owner.
    pub(crate) async fn anna(&self) -> Browser {
        self.anna_in(self.browser()).await
    }

    /// The same in a browser of hers.
    pub(crate) async fn anna_in(&self, browser: Browser) -> Browser {
        let join = json!({ "token": self.token, "name": "Anna", "passphrase": PASSPHRASE });
        let (status, _, said) = browser.ask("POST", "/api/join", join).await;
        assert_eq!(status, 200, "{said}");
        browser
    }

    /// Changes what is kept, as time would or another program.
    pub(crate) fn changed(&self, sql: &str) {
        let program = "import sqlite3,sys\nc=sqlite3.connect(sys.argv[1],timeout=10);c.executescript(sys.argv[2]);c.commit()";
        let path = self.data.path().join("people.sqlite");
        assert!(std::process::Command::new("python3").args(["-c", program]).arg(path).arg(sql).status().unwrap().success());
    }

    /// Somebody else, whom Anna has invited.
    pub(crate) async fn invited(&self, anna: &Browser, name: &str, role: &str) -> Browser {
        let (status, _, made) = anna.ask("POST", "/api/people/invitations", json!({ "role": role, "note": name })).await;
        assert_eq!(status, 200, "{made}");
        let browser = self.browser();
        let token = token_of(&made);
        let (status, _, said) = browser.ask("POST", "/api/join", json!({ "token": token, "name": name, "passphrase": PASSPHRASE })).await;
        assert_eq!(status, 200, "{said}");
        browser
    }
}

/// What stands in a link behind the `#`.
pub(crate) fn token_of(made: &Value) -> String {
    made["link"].as_str().unwrap().rsplit('#').next().unwrap().to_owned()
}

/// A browser with its cookies.
pub(crate) struct Browser {
    pub(crate) port: u16,
    /// What the server is called, and what its pages begin with.
    pub(crate) host: String,
    pub(crate) origin: String,
    /// What the proxy says before it.
    pub(crate) from: String,
    pub(crate) cookies: Mutex<BTreeMap<String, String>>,
}

impl Browser {
    pub(crate) fn cookie(&self, name: &str) -> Option<String> {
        self.cookies.lock().unwrap().get(name).cloned()
    }

    fn cookies(&self) -> String {
        let all: Vec<String> = self.cookies.lock().unwrap().iter().map(|(name, value)| format!("{name}={value}")).collect();
        if all.is_empty() { String::new() } else { format!("Cookie: {}\r\n", all.join("; ")) }
    }

    /// Status, headers and body of what a page of this server asks, which are as they are described.
    pub(crate) async fn send(&self, method: &str, path: &str, more: &str, body: &str) -> (u16, String, String) {
        let Browser { origin, from, .. } = self;
        let with = format!("Origin: {origin}\r\nSec-Fetch-Site: same-origin\r\n{from}{}{more}", self.cookies());
        let (status, head, text) = ask_at(self.port, method, path, &self.host, &with, body).await;
        for given in head.lines().filter(|header| header.to_lowercase().starts_with("set-cookie:")) {
            let (name, value) = given.split_once(": ").unwrap().1.split(';').next().unwrap().split_once('=').unwrap();
            let mut cookies = self.cookies.lock().unwrap();
            if value.is_empty() {
                cookies.remove(name)
            } else {
                cookies.insert(name.to_owned(), value.to_owned())
            };
        }
        (status, head, text)
    }

    /// Status, headers and the answer as JSON.
    pub(crate) async fn ask(&self, method: &str, path: &str, body: Value) -> (u16, String, Value) {
        let text = if body.is_null() { String::new() } else { body.to_string() };
        let (status, head, said) = self.send(method, path, "", &text).await;
        (status, head, serde_json::from_str(&said).unwrap_or(Value::String(said)))
    }

    /// What an operation answers, which is as it is described.
    pub(crate) async fn does(&self, operation: &str, path: &str, body: Value) -> (u16, Value) {
        let method = operation.split(' ').next().unwrap();
        let text = if body.is_null() { String::new() } else { body.to_string() };
        let (status, head, said) = self.send(method, path, "", &text).await;
        if let Err(what) = CONTRACT.lock().unwrap_or_else(PoisonError::into_inner).check(operation, status, &head, &said) {
            panic!("{operation}, asked {path} {text}: {what}");
        }
        (status, serde_json::from_str(&said).unwrap_or(Value::String(said)))
    }

    /// Status and answer of a plain reading.
    pub(crate) async fn get(&self, path: &str) -> (u16, Value) {
        let (status, _, said) = self.ask("GET", path, Value::Null).await;
        (status, said)
    }

    pub(crate) async fn signs_in(&self, name: &str, passphrase: &str) -> (u16, Value) {
        self.does("POST /api/session", "/api/session", json!({ "name": name, "passphrase": passphrase })).await
    }
}

/// All operations of the description, but the stream without an end.
pub(crate) fn operations() -> Vec<String> {
    let description = serde_json::to_value(artemon_server::openapi()).unwrap();
    let of = |(path, methods): (&String, &Value)| {
        methods.as_object().unwrap().keys().map(|method| format!("{} {path}", method.to_uppercase())).collect::<Vec<_>>()
    };
    description["paths"].as_object().unwrap().iter().flat_map(of).filter(|operation| operation != "GET /api/events").collect()
}

/// The path of an operation with something in its variable parts.
pub(crate) fn some_path(operation: &str) -> String {
    let (_, path) = operation.split_once(' ').unwrap();
    let part = |part: &str| match part {
        "{symbol}" => "DRUA".to_owned(),
        "{n}" | "{version}" => "1".to_owned(),
        part if part.starts_with('{') => "none".to_owned(),
        part => part.to_owned(),
    };
    path.split('/').map(part).collect::<Vec<_>>().join("/")
}

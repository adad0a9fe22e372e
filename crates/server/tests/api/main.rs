//! The real router over the golden dataset.
#![allow(clippy::unwrap_used)]

mod contract;
mod description;
mod files;
mod limits;
mod people;
mod refusals;
mod routes;

use artemon_app::{Home, ImportRequest, Options, Source, import};
use std::{ops::ControlFlow, path::Path};
use tokio::{
    io::{AsyncReadExt, AsyncWriteExt},
    net::{TcpListener, TcpStream},
};

struct Server {
    port: u16,
    data: tempfile::TempDir,
}

/// Fills a data folder with the golden dataset.
fn golden(data: &Path) {
    let package = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
    let request = ImportRequest { title: "golden".to_owned(), sources: vec![Source::Package(package)], ..ImportRequest::default() };
    import(data, &request, &|_| ControlFlow::Continue(())).unwrap();
}

async fn server() -> Server {
    let data = tempfile::tempdir().unwrap();
    golden(data.path());
    let home = Home::open(Options { folder: data.path().to_owned(), upload_bytes: Some(4 << 20), ..Options::default() }).unwrap();
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let port = listener.local_addr().unwrap().port();
    let reach = artemon_server::Reach::local(listener.local_addr().unwrap());
    tokio::spawn(artemon_server::serve(listener, home, reach, std::future::pending()));
    Server { port, data }
}

/// Status, headers and body of a plain request.
async fn ask_whole(server: &Server, method: &str, path: &str, host: &str, more: &str, body: &str) -> (u16, String, String) {
    ask_at(server.port, method, path, &host.replace("PORT", &server.port.to_string()), more, body).await
}

/// The same of whatever listens on a port.
async fn ask_at(port: u16, method: &str, path: &str, host: &str, more: &str, body: &str) -> (u16, String, String) {
    let mut stream = TcpStream::connect(("127.0.0.1", port)).await.unwrap();
    let json = if more.contains("Content-Type") { "" } else { "Content-Type: application/json\r\n" };
    let request = format!(
        "{method} {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n{more}{json}Content-Length: {}\r\n\r\n{body}",
        body.len()
    );
    stream.write_all(request.as_bytes()).await.unwrap();
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).await.unwrap();
    let text = String::from_utf8_lossy(&answer).into_owned();
    let status = text.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap();
    let (headers, body) = text.split_once("\r\n\r\n").unwrap_or((&text, ""));
    (status, headers.to_owned(), body.to_owned())
}

/// Status and body.
async fn ask(server: &Server, method: &str, path: &str, host: &str, more: &str, body: &str) -> (u16, String) {
    let (status, _, body) = ask_whole(server, method, path, host, more, body).await;
    (status, body)
}

const OWN: &str = "127.0.0.1:PORT";

async fn get(server: &Server, path: &str) -> (u16, String) {
    ask(server, "GET", path, OWN, "", "").await
}

async fn post(server: &Server, path: &str, body: &str) -> (u16, String) {
    ask(server, "POST", path, OWN, "", body).await
}

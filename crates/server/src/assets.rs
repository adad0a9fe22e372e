//! The files of the browser's side, built into the program.

use crate::{auth::POLICY, error::Problem};
use axum::{
    http::{HeaderMap, StatusCode, Uri, header},
    response::{Html, IntoResponse, Response},
};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Dist;

/// A file by its path; addresses of places in the application get its page.
pub(crate) async fn file(uri: Uri, headers: HeaderMap, several: bool) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return Problem::new(StatusCode::NOT_FOUND, "no-such-endpoint", "There is no such endpoint. The list is at /api/openapi.json.")
            .into_response();
    }
    let compressed = takes_gzip(&headers);
    match served(path, compressed) {
        Some(file) if path != PAGE => file,
        None if path.starts_with("assets/") => StatusCode::NOT_FOUND.into_response(),
        _ => match Dist::get(PAGE) {
            Some(page) => with_nonce(&told(&String::from_utf8_lossy(&page.data), several)),
            None => (StatusCode::SERVICE_UNAVAILABLE, "The browser's files were not built in. Build them with `make web`.").into_response(),
        },
    }
}

/// The application's page.
const PAGE: &str = "index.html";

/// The page as it is for one person or for several. What these ask for first depends on who they are: nothing is fetched ahead.
fn told(page: &str, several: bool) -> String {
    if !several {
        return page.replace("HOW_MANY", "one");
    }
    let ahead = |line: &&str| line.contains("rel=\"preload\" as=\"fetch\"");
    let lines: Vec<&str> = page.lines().filter(|line| !ahead(line)).collect();
    lines.join("\n").replace("HOW_MANY", "several")
}

/// A page of which only the styles with its nonce are taken: one that nobody can know beforehand stands wherever it says NONCE.
pub(crate) fn with_nonce(page: &str) -> Response {
    let nonce = uuid::Uuid::new_v4().simple().to_string();
    let policy = POLICY.replace("default-src 'self'", &format!("default-src 'self'; style-src 'self' 'nonce-{nonce}'"));
    let headers = [(header::CACHE_CONTROL, "no-cache"), (header::CONTENT_SECURITY_POLICY, &policy)];
    (headers, Html(page.replace("NONCE", &nonce))).into_response()
}

fn takes_gzip(headers: &HeaderMap) -> bool {
    let accepted = headers.get(header::ACCEPT_ENCODING).and_then(|v| v.to_str().ok()).unwrap_or_default();
    accepted.split(',').any(|coding| coding.split(';').next().is_some_and(|name| name.trim() == "gzip"))
}

/// A file as it was compressed when the program was built, or as it is.
fn served(path: &str, compressed: bool) -> Option<Response> {
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    // Names under assets/ change with their contents.
    let cache = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    let headers = [(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, cache), (header::VARY, "accept-encoding")];
    if let Some(file) = compressed.then(|| Dist::get(&format!("{path}.gz"))).flatten() {
        return Some((headers, [(header::CONTENT_ENCODING, "gzip")], file.data).into_response());
    }
    Dist::get(path).map(|file| (headers, file.data).into_response())
}

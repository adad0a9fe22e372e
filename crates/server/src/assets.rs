//! The files of the browser's side, built into the program.

use crate::error::Problem;
use axum::{
    http::{StatusCode, Uri, header},
    response::{IntoResponse, Response},
};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Dist;

/// A file by its path; addresses of places in the application get its page.
pub(crate) async fn file(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return Problem::new(StatusCode::NOT_FOUND, "no-such-endpoint", "There is no such endpoint. The list is at /api/openapi.json.")
            .into_response();
    }
    match Dist::get(path) {
        Some(f) => served(path, f),
        None if path.starts_with("assets/") => StatusCode::NOT_FOUND.into_response(),
        None => match Dist::get("index.html") {
            Some(f) => served("index.html", f),
            None => (StatusCode::SERVICE_UNAVAILABLE, "The browser's files were not built in. Build them with `make web`.").into_response(),
        },
    }
}

fn served(path: &str, file: rust_embed::EmbeddedFile) -> Response {
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    // Names under assets/ change with their contents.
    let cache = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
    ([(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, cache)], file.data).into_response()
}

//! What the log says of requests: those that failed and those that took long. Their route alone: an address may hold what is private.

use axum::{
    extract::{MatchedPath, Request},
    middleware::Next,
    response::Response,
};
use std::time::{Duration, Instant};

/// From here on a request is worth a line.
const LONG: Duration = Duration::from_secs(2);

/// A request by its method and route.
pub(crate) fn named(request: &Request) -> String {
    let route = request.extensions().get::<MatchedPath>().map_or("a file", MatchedPath::as_str);
    format!("{} {route}", request.method())
}

pub(crate) async fn watched(request: Request, next: Next) -> Response {
    let asked = named(&request);
    let begun = Instant::now();
    let answer = next.run(request).await;
    let (status, took) = (answer.status(), begun.elapsed());
    if status.is_server_error() {
        tracing::warn!("{asked}: {status} after {} ms", took.as_millis());
    } else if took > LONG {
        tracing::info!("{asked}: {status} after {} ms", took.as_millis());
    }
    answer
}

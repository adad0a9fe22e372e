//! What the log says of requests: those that failed and those that took long. Their route alone: an address may hold what is private.

use axum::{
    extract::{MatchedPath, Request},
    middleware::Next,
    response::Response,
};
use std::time::{Duration, Instant};

/// From here on a request is worth a line.
const LONG: Duration = Duration::from_secs(2);

pub(crate) async fn watched(request: Request, next: Next) -> Response {
    let route = request.extensions().get::<MatchedPath>().map_or_else(|| "a file".into(), |path| path.as_str().to_owned());
    let method = request.method().clone();
    let begun = Instant::now();
    let answer = next.run(request).await;
    let (status, took) = (answer.status(), begun.elapsed());
    if status.is_server_error() {
        tracing::warn!("{method} {route}: {status} after {} ms", took.as_millis());
    } else if took > LONG {
        tracing::info!("{method} {route}: {status} after {} ms", took.as_millis());
    }
    answer
}

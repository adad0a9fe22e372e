//! The stand-in for a data provider: sessions of the demo world over HTTP.

use artemon_app::StandIn;
use artemon_core::domain::Day;
use axum::{
    Json, Router,
    extract::{Path, State},
    http::{StatusCode, header},
    response::{IntoResponse, Response},
    routing::get,
};
use std::{future::Future, sync::Arc};
use tokio::net::TcpListener;

/// Hands out sessions until `shutdown` is done: `/sessions` is the list of days, `/sessions/2026-07-01.zip` the package of one.
///
/// # Errors
/// When the listener fails.
pub async fn serve_feed(
    listener: TcpListener,
    sessions: StandIn,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let router = Router::new().route("/sessions", get(days)).route("/sessions/{package}", get(package)).with_state(Arc::new(sessions));
    axum::serve(listener, router).with_graceful_shutdown(shutdown).await
}

async fn days(State(sessions): State<Arc<StandIn>>) -> Json<Vec<Day>> {
    Json(sessions.days())
}

async fn package(State(sessions): State<Arc<StandIn>>, Path(name): Path<String>) -> Response {
    let Some(day) = name.strip_suffix(".zip").and_then(|d| d.parse::<Day>().ok()) else { return StatusCode::NOT_FOUND.into_response() };
    match tokio::task::spawn_blocking(move || sessions.package(day)).await {
        Ok(Ok(Some(zip))) => ([(header::CONTENT_TYPE, "application/zip")], zip).into_response(),
        Ok(Ok(None)) => StatusCode::NOT_FOUND.into_response(),
        _ => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
    }
}

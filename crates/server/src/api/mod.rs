//! Handlers, one file an area: extract, call the use case, map.

pub(crate) mod about;
pub(crate) mod assumptions;
pub(crate) mod candidates;
pub(crate) mod companies;
pub(crate) mod data;
pub(crate) mod formulas;
pub(crate) mod measures;
pub(crate) mod screens;

use crate::error::Problem;
use artemon_app::{App, AppError};
use axum::{Json, http::StatusCode};
use std::sync::Arc;

type Answer<T> = Result<Json<T>, Problem>;

/// Runs a computation off the async threads.
async fn run<T: Send + 'static>(app: Arc<App>, work: impl FnOnce(&App) -> Result<T, AppError> + Send + 'static) -> Answer<T> {
    let done = tokio::task::spawn_blocking(move || work(&app)).await;
    let broken = |_| {
        Problem::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "broken",
            "The computation broke off. Nothing was changed; please report it with what you did.",
        )
    };
    Ok(Json(done.map_err(broken)??))
}

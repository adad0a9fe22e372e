//! What is open.

use super::Answer;
use artemon_app::{About, App};
use axum::{Json, extract::State};
use std::sync::Arc;

/// The open dataset: name, days, base currency, assumption set.
#[utoipa::path(get, path = "/api/about", tag = "about", responses((status = 200, body = About)))]
pub(crate) async fn about(State(app): State<Arc<App>>) -> Answer<About> {
    Ok(Json(app.about()))
}

//! Screens.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, ReadyScreen, ScreenAnswer, ScreenRequest, screen};
use axum::{Json, extract::State};
use std::sync::Arc;

/// Runs a screen: narrowing, what each criterion costs, near misses, rows.
#[utoipa::path(post, path = "/api/screen", tag = "screens", request_body = ScreenRequest,
    responses((status = 200, body = ScreenAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn run_screen(State(app): State<Arc<App>>, Body(request): Body<ScreenRequest>) -> Answer<ScreenAnswer> {
    run(app, move |app| screen(app, &request)).await
}

/// The screens that ship with the product.
#[utoipa::path(get, path = "/api/screens/ready", tag = "screens", responses((status = 200, body = Vec<ReadyScreen>)))]
pub(crate) async fn ready_screens() -> Answer<Vec<ReadyScreen>> {
    Ok(Json(artemon_app::ready_screens()))
}

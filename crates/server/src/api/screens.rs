//! Screens.

use super::Answer;
use crate::{
    caller::Caller,
    error::{Body, Problem},
};
use artemon_app::{ReadyScreen, ScreenAnswer, ScreenRequest, screen};
use axum::Json;

/// Runs a screen: narrowing, what each criterion costs, near misses, rows.
#[utoipa::path(post, path = "/api/screen", tag = "screens", request_body = ScreenRequest,
    responses((status = 200, body = ScreenAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn run_screen(caller: Caller, Body(request): Body<ScreenRequest>) -> Answer<ScreenAnswer> {
    caller.run(move |ctx| screen(ctx, &request)).await
}

/// The screens that ship with the product.
#[utoipa::path(get, path = "/api/screens/ready", tag = "screens", responses((status = 200, body = Vec<ReadyScreen>)))]
pub(crate) async fn ready_screens() -> Answer<Vec<ReadyScreen>> {
    Ok(Json(artemon_app::ready_screens()))
}

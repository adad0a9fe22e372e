//! Ranked candidates.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, RankAnswer, RankRequest, rank};
use axum::extract::State;
use std::sync::Arc;

/// Ranks the companies asked for at a margin of safety.
#[utoipa::path(post, path = "/api/rank", tag = "candidates", request_body = RankRequest,
    responses((status = 200, body = RankAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn rank_candidates(State(app): State<Arc<App>>, Body(request): Body<RankRequest>) -> Answer<RankAnswer> {
    run(app, move |app| rank(app, &request)).await
}

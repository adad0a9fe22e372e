//! Ranked candidates.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, RankAnswer, RankRequest, candidates_xlsx, rank};
use axum::{
    Json,
    extract::State,
    http::header,
    response::{IntoResponse, Response},
};
use std::sync::Arc;

/// Ranks the companies asked for at a margin of safety.
#[utoipa::path(post, path = "/api/rank", tag = "candidates", request_body = RankRequest,
    responses((status = 200, body = RankAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn rank_candidates(State(app): State<Arc<App>>, Body(request): Body<RankRequest>) -> Answer<RankAnswer> {
    run(app, move |app| rank(app, &request)).await
}

/// The first candidates as an XLSX workbook with live formulas.
#[utoipa::path(post, path = "/api/rank/xlsx", tag = "candidates", request_body = RankRequest,
    responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body = Vec<u8>),
        (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn candidates_workbook(State(app): State<Arc<App>>, Body(request): Body<RankRequest>) -> Result<Response, Problem> {
    let Json(bytes) = run(app, move |app| candidates_xlsx(app, &request)).await?;
    let headers = [
        (header::CONTENT_TYPE, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"candidates.xlsx\""),
    ];
    Ok((headers, bytes).into_response())
}

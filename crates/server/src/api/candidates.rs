//! Ranked candidates.

use super::Answer;
use crate::{caller::Caller, error::Problem, extract::Body};
use artemon_app::{RankAnswer, RankRequest, candidates_xlsx, rank_for_table, ranked_symbols};
use axum::{
    Json,
    http::header,
    response::{IntoResponse, Response},
};

/// Ranks the companies asked for at a margin of safety.
#[utoipa::path(post, path = "/api/rank", tag = "candidates", request_body = RankRequest,
    responses((status = 200, body = RankAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn rank_candidates(caller: Caller, Body(request): Body<RankRequest>) -> Answer<RankAnswer> {
    caller.run(move |ctx| rank_for_table(ctx, &request)).await
}

/// The symbols of all candidates, in the order asked for.
#[utoipa::path(post, path = "/api/rank/symbols", tag = "candidates", request_body = RankRequest,
    responses((status = 200, body = Vec<String>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn candidate_symbols(caller: Caller, Body(request): Body<RankRequest>) -> Answer<Vec<String>> {
    caller.run(move |ctx| ranked_symbols(ctx, &request)).await
}

/// The first candidates as an XLSX workbook with live formulas.
#[utoipa::path(post, path = "/api/rank/xlsx", tag = "candidates", request_body = RankRequest,
    responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body = Vec<u8>),
        (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn candidates_workbook(caller: Caller, Body(request): Body<RankRequest>) -> Result<Response, Problem> {
    let Json(bytes) = caller.run(move |ctx| candidates_xlsx(ctx, &request)).await?;
    let headers = [
        (header::CONTENT_TYPE, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        (header::CONTENT_DISPOSITION, "attachment; filename=\"candidates.xlsx\""),
    ];
    Ok((headers, bytes).into_response())
}

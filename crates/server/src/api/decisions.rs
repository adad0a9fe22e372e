//! The record of decisions.

use super::Answer;
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{self as app, Decided, DecisionAnswer, DecisionsPage, DecisionsRequest, NewDecision, Review};
use axum::{Json, http::StatusCode};

/// The caller's decisions, what came of each, and the record.
#[utoipa::path(post, path = "/api/decisions", tag = "decisions", request_body = DecisionsRequest,
    responses((status = 200, body = DecisionsPage), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn decisions(caller: Caller, Body(request): Body<DecisionsRequest>) -> Answer<DecisionsPage> {
    caller.run(move |ctx| app::decisions(ctx, &request)).await
}

/// Writes a decision down, with a copy of what is seen; orders write theirs themselves.
#[utoipa::path(post, path = "/api/decisions/new", tag = "decisions", request_body = NewDecision,
    responses((status = 201, body = Decided), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn decide(caller: Caller<Write>, Body(new): Body<NewDecision>) -> Result<(StatusCode, Json<Decided>), Problem> {
    let decided = caller.run(move |ctx| app::decide(ctx, &new)).await?;
    Ok((StatusCode::CREATED, decided))
}

/// One decision: what was seen then, what is seen now, why the value changed, what was thought of it since.
#[utoipa::path(post, path = "/api/decisions/{id}", tag = "decisions", params(("id" = String, Path)), request_body = DecisionsRequest,
    responses((status = 200, body = DecisionAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn decision(caller: Caller, Path(id): Path<String>, Body(request): Body<DecisionsRequest>) -> Answer<DecisionAnswer> {
    caller.run(move |ctx| app::decision(ctx, &id, &request)).await
}

/// Looks at a decision again; nothing of it is changed.
#[utoipa::path(post, path = "/api/decisions/{id}/reviews", tag = "decisions", params(("id" = String, Path)), request_body = Review,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn review(caller: Caller<Write>, Path(id): Path<String>, Body(review): Body<Review>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::add_review(ctx, &id, &review)).await?;
    Ok(StatusCode::NO_CONTENT)
}

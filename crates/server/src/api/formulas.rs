//! Formulas answered for companies.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, EvaluateRequest, Evaluated, evaluate};
use axum::extract::State;
use std::sync::Arc;

/// Answers formulas for companies at a date.
#[utoipa::path(post, path = "/api/evaluate", tag = "formulas", request_body = EvaluateRequest,
    responses((status = 200, body = Vec<Evaluated>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn evaluate_formulas(State(app): State<Arc<App>>, Body(request): Body<EvaluateRequest>) -> Answer<Vec<Evaluated>> {
    run(app, move |app| evaluate(app, &request)).await
}

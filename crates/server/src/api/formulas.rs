//! Formulas answered for companies.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{
    App, Distribution, DistributionRequest, EvaluateRequest, Evaluated, ExplainRequest, Explained, FigureStanding, distribution, evaluate,
    explain, standing,
};
use axum::extract::State;
use std::sync::Arc;

/// Answers formulas for companies at a date.
#[utoipa::path(post, path = "/api/evaluate", tag = "formulas", request_body = EvaluateRequest,
    responses((status = 200, body = Vec<Evaluated>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn evaluate_formulas(State(app): State<Arc<App>>, Body(request): Body<EvaluateRequest>) -> Answer<Vec<Evaluated>> {
    run(app, move |app| evaluate(app, &request)).await
}

/// How a formula is distributed over the listed companies.
#[utoipa::path(post, path = "/api/distribution", tag = "formulas", request_body = DistributionRequest,
    responses((status = 200, body = Distribution), (status = 422, body = Problem)))]
pub(crate) async fn formula_distribution(State(app): State<Arc<App>>, Body(request): Body<DistributionRequest>) -> Answer<Distribution> {
    run(app, move |app| distribution(app, &request)).await
}

/// Opens a figure: formula, inputs, rules and filings.
#[utoipa::path(post, path = "/api/explain", tag = "formulas", request_body = ExplainRequest,
    responses((status = 200, body = Explained), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn explain_figure(State(app): State<Arc<App>>, Body(request): Body<ExplainRequest>) -> Answer<Explained> {
    run(app, move |app| explain(app, &request)).await
}

/// A figure's own history and its place among peers.
#[utoipa::path(post, path = "/api/standing", tag = "formulas", request_body = ExplainRequest,
    responses((status = 200, body = FigureStanding), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn figure_standing(State(app): State<Arc<App>>, Body(request): Body<ExplainRequest>) -> Answer<FigureStanding> {
    run(app, move |app| standing(app, &request)).await
}

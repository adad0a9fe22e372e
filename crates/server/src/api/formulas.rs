//! Formulas answered for companies.

use super::Answer;
use crate::{caller::Caller, error::Problem, extract::Body};
use artemon_app::{
    Distribution, DistributionRequest, EvaluateRequest, Evaluated, ExplainRequest, Explained, FigureStanding, distribution, evaluate,
    explain, standing,
};

/// Answers formulas for companies at a date.
#[utoipa::path(post, path = "/api/evaluate", tag = "formulas", request_body = EvaluateRequest,
    responses((status = 200, body = Vec<Evaluated>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn evaluate_formulas(caller: Caller, Body(request): Body<EvaluateRequest>) -> Answer<Vec<Evaluated>> {
    caller.run(move |ctx| evaluate(ctx, &request)).await
}

/// How a formula is distributed over the listed companies.
#[utoipa::path(post, path = "/api/distribution", tag = "formulas", request_body = DistributionRequest,
    responses((status = 200, body = Distribution), (status = 422, body = Problem)))]
pub(crate) async fn formula_distribution(caller: Caller, Body(request): Body<DistributionRequest>) -> Answer<Distribution> {
    caller.run(move |ctx| distribution(ctx, &request)).await
}

/// Opens a figure: formula, inputs, rules and filings.
#[utoipa::path(post, path = "/api/explain", tag = "formulas", request_body = ExplainRequest,
    responses((status = 200, body = Explained), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn explain_figure(caller: Caller, Body(request): Body<ExplainRequest>) -> Answer<Explained> {
    caller.run(move |ctx| explain(ctx, &request)).await
}

/// A figure's own history and its place among peers.
#[utoipa::path(post, path = "/api/standing", tag = "formulas", request_body = ExplainRequest,
    responses((status = 200, body = FigureStanding), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn figure_standing(caller: Caller, Body(request): Body<ExplainRequest>) -> Answer<FigureStanding> {
    caller.run(move |ctx| standing(ctx, &request)).await
}

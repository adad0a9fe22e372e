//! The catalogue, and formulas as they are typed.

use super::Answer;
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{self as app, FormulaCheck, FunctionInfo, MeasureInfo, OwnMeasure};
use axum::Json;
use serde::Deserialize;
use utoipa::ToSchema;

/// All measures, family by family.
#[utoipa::path(get, path = "/api/measures", tag = "measures", responses((status = 200, body = Vec<MeasureInfo>)))]
pub(crate) async fn measures(_: Caller) -> Answer<Vec<MeasureInfo>> {
    Ok(Json(app::measure_list()))
}

/// The functions of the formula language.
#[utoipa::path(get, path = "/api/functions", tag = "measures", responses((status = 200, body = Vec<FunctionInfo>)))]
pub(crate) async fn functions(_: Caller) -> Answer<Vec<FunctionInfo>> {
    Ok(Json(app::function_list()))
}

/// A formula to check.
#[derive(Debug, Deserialize, ToSchema)]
pub(crate) struct FormulaText {
    /// As a user types it.
    formula: String,
}

/// Whether a formula is sound, what its answers are, and where it is mistaken.
#[utoipa::path(post, path = "/api/formulas/check", tag = "measures", request_body = FormulaText,
    responses((status = 200, body = FormulaCheck), (status = 422, body = Problem)))]
pub(crate) async fn check_formula(caller: Caller, Body(request): Body<FormulaText>) -> Answer<FormulaCheck> {
    caller.run(move |ctx| Ok(app::check_formula(ctx, &request.formula))).await
}

/// The user's own measures, by id.
#[utoipa::path(get, path = "/api/own-measures", tag = "measures", responses((status = 200, body = Vec<OwnMeasure>)))]
pub(crate) async fn own_measures(caller: Caller) -> Answer<Vec<OwnMeasure>> {
    caller.run(|ctx| Ok(app::own_measures(ctx))).await
}

/// Adds a measure of the user's own, or changes the one of the same id; all of them are the answer.
#[utoipa::path(put, path = "/api/own-measures", tag = "measures", request_body = OwnMeasure,
    responses((status = 200, body = Vec<OwnMeasure>), (status = 422, body = Problem)))]
pub(crate) async fn save_own_measure(caller: Caller<Write>, Body(measure): Body<OwnMeasure>) -> Answer<Vec<OwnMeasure>> {
    caller.change(move |ctx| app::save_own_measure(ctx, &measure), |ctx| Ok(app::own_measures(ctx))).await
}

/// Forgets a measure of the user's own that no other uses; those left are the answer.
#[utoipa::path(delete, path = "/api/own-measures/{id}", tag = "measures", params(("id" = String, Path)),
    responses((status = 200, body = Vec<OwnMeasure>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn delete_own_measure(caller: Caller<Write>, Path(id): Path<String>) -> Answer<Vec<OwnMeasure>> {
    caller.change(move |ctx| app::delete_own_measure(ctx, &id), |ctx| Ok(app::own_measures(ctx))).await
}

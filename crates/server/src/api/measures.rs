//! The catalogue, and formulas as they are typed.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, FormulaCheck, MeasureInfo, OwnMeasure};
use axum::{
    Json,
    extract::{Path, State},
};
use serde::Deserialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// All measures, family by family.
#[utoipa::path(get, path = "/api/measures", tag = "measures", responses((status = 200, body = Vec<MeasureInfo>)))]
pub(crate) async fn measures() -> Answer<Vec<MeasureInfo>> {
    Ok(Json(artemon_app::measure_list()))
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
pub(crate) async fn check_formula(State(app): State<Arc<App>>, Body(request): Body<FormulaText>) -> Answer<FormulaCheck> {
    Ok(Json(artemon_app::check_formula(&app, &request.formula)))
}

/// The user's own measures, by id.
#[utoipa::path(get, path = "/api/own-measures", tag = "measures", responses((status = 200, body = Vec<OwnMeasure>)))]
pub(crate) async fn own_measures(State(app): State<Arc<App>>) -> Answer<Vec<OwnMeasure>> {
    Ok(Json(app.own_measures()))
}

/// Adds a measure of the user's own, or changes the one of the same id; all of them are the answer.
#[utoipa::path(put, path = "/api/own-measures", tag = "measures", request_body = OwnMeasure,
    responses((status = 200, body = Vec<OwnMeasure>), (status = 422, body = Problem)))]
pub(crate) async fn save_own_measure(State(app): State<Arc<App>>, Body(measure): Body<OwnMeasure>) -> Answer<Vec<OwnMeasure>> {
    run(app, move |app| app.save_own_measure(measure).map(|()| app.own_measures())).await
}

/// Forgets a measure of the user's own that no other uses; those left are the answer.
#[utoipa::path(delete, path = "/api/own-measures/{id}", tag = "measures", params(("id" = String, Path)),
    responses((status = 200, body = Vec<OwnMeasure>), (status = 422, body = Problem)))]
pub(crate) async fn delete_own_measure(State(app): State<Arc<App>>, Path(id): Path<String>) -> Answer<Vec<OwnMeasure>> {
    run(app, move |app| app.delete_own_measure(&id).map(|()| app.own_measures())).await
}

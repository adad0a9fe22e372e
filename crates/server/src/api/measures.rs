//! The catalogue, and formulas as they are typed.

use super::Answer;
use crate::error::{Body, Problem};
use artemon_app::{FormulaCheck, MeasureInfo};
use axum::Json;
use serde::Deserialize;
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
pub(crate) async fn check_formula(Body(request): Body<FormulaText>) -> Answer<FormulaCheck> {
    Ok(Json(artemon_app::check_formula(&request.formula)))
}

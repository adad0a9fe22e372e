//! Assumption sets.

use super::{Answer, run};
use crate::error::{Body, Problem};
use artemon_app::{App, AssumptionSet, Assumptions, ComponentKind, components};
use axum::{
    Json,
    extract::{Path, State},
};
use serde::Deserialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// The set to use.
#[derive(Debug, Deserialize, ToSchema)]
pub(crate) struct SetName {
    /// Its name.
    name: String,
}

/// The shipped assumption set and the user's own.
#[utoipa::path(get, path = "/api/assumptions", tag = "assumptions", responses((status = 200, body = Vec<AssumptionSet>)))]
pub(crate) async fn assumption_sets(State(app): State<Arc<App>>) -> Answer<Vec<AssumptionSet>> {
    run(app, App::assumption_sets).await
}

/// Saves a set as the next version of its name and uses it; all sets are the answer.
#[utoipa::path(put, path = "/api/assumptions", tag = "assumptions", request_body = Assumptions,
    responses((status = 200, body = Vec<AssumptionSet>), (status = 422, body = Problem)))]
pub(crate) async fn save_assumptions(State(app): State<Arc<App>>, Body(set): Body<Assumptions>) -> Answer<Vec<AssumptionSet>> {
    run(app, move |app| app.save_assumptions(set).and_then(|()| app.assumption_sets())).await
}

/// Values with another set from now on; all sets are the answer.
#[utoipa::path(post, path = "/api/assumptions/use", tag = "assumptions", request_body = SetName,
    responses((status = 200, body = Vec<AssumptionSet>), (status = 422, body = Problem)))]
pub(crate) async fn use_assumptions(State(app): State<Arc<App>>, Body(set): Body<SetName>) -> Answer<Vec<AssumptionSet>> {
    run(app, move |app| app.use_assumptions(&set.name).and_then(|()| app.assumption_sets())).await
}

/// Forgets a set of the user's own with its versions; those left are the answer.
#[utoipa::path(delete, path = "/api/assumptions/{name}", tag = "assumptions", params(("name" = String, Path)),
    responses((status = 200, body = Vec<AssumptionSet>), (status = 422, body = Problem)))]
pub(crate) async fn delete_assumptions(State(app): State<Arc<App>>, Path(name): Path<String>) -> Answer<Vec<AssumptionSet>> {
    run(app, move |app| app.delete_assumptions(&name).and_then(|()| app.assumption_sets())).await
}

/// Brings back a set that was forgotten since the start; all sets are the answer.
#[utoipa::path(post, path = "/api/assumptions/restore", tag = "assumptions", request_body = SetName,
    responses((status = 200, body = Vec<AssumptionSet>), (status = 422, body = Problem)))]
pub(crate) async fn restore_assumptions(State(app): State<Arc<App>>, Body(set): Body<SetName>) -> Answer<Vec<AssumptionSet>> {
    run(app, move |app| app.restore_assumptions(&set.name).and_then(|()| app.assumption_sets())).await
}

/// An earlier version of a set.
#[utoipa::path(get, path = "/api/assumptions/{name}/{version}", tag = "assumptions",
    params(("name" = String, Path), ("version" = u32, Path)),
    responses((status = 200, body = Assumptions), (status = 422, body = Problem)))]
pub(crate) async fn assumptions_version(State(app): State<Arc<App>>, Path((name, version)): Path<(String, u32)>) -> Answer<Assumptions> {
    run(app, move |app| app.assumptions_version(&name, version)).await
}

/// The components of quality, whose anchors a set may change.
#[utoipa::path(get, path = "/api/quality/components", tag = "assumptions", responses((status = 200, body = Vec<ComponentKind>)))]
pub(crate) async fn quality_components() -> Json<Vec<ComponentKind>> {
    Json(components())
}

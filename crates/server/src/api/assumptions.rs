//! Assumption sets.

use super::Answer;
use crate::{
    caller::{Caller, MadeTo, Write},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{self as app, AssumptionSet, Assumptions, ComponentKind, MatchRequest, Repairs, components};
use axum::Json;
use serde::Deserialize;
use utoipa::ToSchema;

/// The set to use.
#[derive(Debug, Deserialize, ToSchema)]
pub(crate) struct SetName {
    /// Its name.
    name: String,
}

/// The shipped assumption set and the user's own.
#[utoipa::path(get, path = "/api/assumptions", tag = "assumptions", responses((status = 200, body = Vec<AssumptionSet>)))]
pub(crate) async fn assumption_sets(caller: Caller) -> Answer<Vec<AssumptionSet>> {
    caller.run(app::assumption_sets).await
}

/// Saves a set as the next version of its name and uses it; all sets are the answer. With If-Match a version that was saved
/// elsewhere in between is not overwritten.
#[utoipa::path(put, path = "/api/assumptions", tag = "assumptions", request_body = Assumptions,
    params(("If-Match" = Option<String>, Header, description = "The version that the change was made to")),
    responses((status = 200, body = Vec<AssumptionSet>), (status = 412, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn save_assumptions(
    caller: Caller<Write>,
    MadeTo(made_to): MadeTo,
    Body(set): Body<Assumptions>,
) -> Answer<Vec<AssumptionSet>> {
    caller.change(move |ctx| app::save_assumptions(ctx, &set, made_to), app::assumption_sets).await
}

/// Values with another set from now on; all sets are the answer.
#[utoipa::path(post, path = "/api/assumptions/use", tag = "assumptions", request_body = SetName,
    responses((status = 200, body = Vec<AssumptionSet>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn use_assumptions(caller: Caller<Write>, Body(set): Body<SetName>) -> Answer<Vec<AssumptionSet>> {
    caller.change(move |ctx| app::use_assumptions(ctx, &set.name), app::assumption_sets).await
}

/// Forgets a set of the user's own with its versions; those left are the answer.
#[utoipa::path(delete, path = "/api/assumptions/{name}", tag = "assumptions", params(("name" = String, Path)),
    responses((status = 200, body = Vec<AssumptionSet>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn delete_assumptions(caller: Caller<Write>, Path(name): Path<String>) -> Answer<Vec<AssumptionSet>> {
    caller.change(move |ctx| app::delete_assumptions(ctx, &name), app::assumption_sets).await
}

/// Brings back a set that was forgotten since the start; all sets are the answer.
#[utoipa::path(post, path = "/api/assumptions/restore", tag = "assumptions", request_body = SetName,
    responses((status = 200, body = Vec<AssumptionSet>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn restore_assumptions(caller: Caller<Write>, Body(set): Body<SetName>) -> Answer<Vec<AssumptionSet>> {
    caller.change(move |ctx| app::restore_assumptions(ctx, &set.name), app::assumption_sets).await
}

/// An earlier version of a set.
#[utoipa::path(get, path = "/api/assumptions/{name}/{version}", tag = "assumptions",
    params(("name" = String, Path), ("version" = u32, Path)),
    responses((status = 200, body = Assumptions), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn assumptions_version(caller: Caller, Path((name, version)): Path<(String, u32)>) -> Answer<Assumptions> {
    caller.run(move |ctx| app::assumptions_version(ctx, &name, version)).await
}

/// The components of quality, whose anchors a set may change.
#[utoipa::path(get, path = "/api/quality/components", tag = "assumptions", responses((status = 200, body = Vec<ComponentKind>)))]
pub(crate) async fn quality_components(_: Caller) -> Json<Vec<ComponentKind>> {
    Json(components())
}

/// What is one's own and cannot be used as it is: documents and assumptions of companies that are not understood, and those
/// about companies that this dataset does not have.
#[utoipa::path(get, path = "/api/repairs", tag = "assumptions", responses((status = 200, body = Repairs)))]
pub(crate) async fn repairs(caller: Caller) -> Answer<Repairs> {
    caller.run(|ctx| Ok(app::repairs(ctx))).await
}

/// Says which company is meant by what is kept about another, or forgets it; what then waits is the answer.
#[utoipa::path(post, path = "/api/repairs/match", tag = "assumptions", request_body = MatchRequest,
    responses((status = 200, body = Repairs), (status = 404, body = Problem)))]
pub(crate) async fn match_company(caller: Caller<Write>, Body(request): Body<MatchRequest>) -> Answer<Repairs> {
    caller.change(move |ctx| app::match_company(ctx, &request), |ctx| Ok(app::repairs(ctx))).await
}

//! Lists of companies. A list itself is made, named and deleted as a document of the kind `list`.

use super::{Answer, Results, companies::AsOfQuery, named_file};
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path, Query, day},
};
use artemon_app::{
    self as app, AddMembers, Added, ListEntry, ListFormat, ListRows, ListRowsRequest, MemberOwn, Membership, MoveMembers, Moved,
    OwnSoundness, Pasted, RestoreMembers,
};
use axum::{Json, http::StatusCode, response::Response};
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};

/// Companies, by symbol, ISIN or id.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Symbols {
    symbols: Vec<String>,
}

/// A text with companies in it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct PastedText {
    text: String,
}

/// How a list is written.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct ListFileQuery {
    /// "csv" or "xlsx".
    #[param(value_type = String)]
    format: ListFormat,
}

/// The caller's lists, by folder and name.
#[utoipa::path(get, path = "/api/lists", tag = "lists", responses((status = 200, body = Vec<ListEntry>)))]
pub(crate) async fn lists(caller: Caller) -> Answer<Vec<ListEntry>> {
    caller.run(|ctx| Ok(app::lists(ctx))).await
}

/// A list as a table, in the order of the caller's hand.
#[utoipa::path(post, path = "/api/lists/{id}/rows", tag = "lists", params(("id" = String, Path)), request_body = ListRowsRequest,
    responses((status = 200, body = ListRows), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn list_rows(caller: Caller, Path(id): Path<String>, Body(request): Body<ListRowsRequest>) -> Answer<ListRows> {
    caller.run(move |ctx| app::list_rows(ctx, &id, &request)).await
}

/// A list as a file.
#[utoipa::path(get, path = "/api/lists/{id}/file", tag = "lists", params(("id" = String, Path), ListFileQuery),
    responses(Results, (status = 404, body = Problem)))]
pub(crate) async fn list_file(caller: Caller, Path(id): Path<String>, Query(query): Query<ListFileQuery>) -> Result<Response, Problem> {
    let Json(bytes) = caller.run(move |ctx| app::list_file(ctx, &id, query.format)).await?;
    let name = match query.format {
        ListFormat::Csv => "list.csv",
        ListFormat::Xlsx => "list.xlsx",
    };
    Ok(named_file(name, bytes))
}

/// The companies that a pasted text or a dropped table names; nothing is changed.
#[utoipa::path(post, path = "/api/lists/match", tag = "lists", request_body = PastedText,
    responses((status = 200, body = Pasted), (status = 422, body = Problem)))]
pub(crate) async fn match_pasted(caller: Caller, Body(pasted): Body<PastedText>) -> Answer<Pasted> {
    caller.run(move |ctx| app::match_pasted(ctx, &pasted.text)).await
}

/// Puts companies on a list, behind those that are there.
#[utoipa::path(post, path = "/api/lists/{id}/members", tag = "lists", params(("id" = String, Path)), request_body = AddMembers,
    responses((status = 200, body = Added), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn add_members(caller: Caller<Write>, Path(id): Path<String>, Body(request): Body<AddMembers>) -> Answer<Added> {
    caller.run(move |ctx| app::add_members(ctx, &id, &request)).await
}

/// Takes companies off a list; the version before has them still.
#[utoipa::path(delete, path = "/api/lists/{id}/members", tag = "lists", params(("id" = String, Path)), request_body = Symbols,
    responses((status = 200, body = Added), (status = 404, body = Problem)))]
pub(crate) async fn remove_members(caller: Caller<Write>, Path(id): Path<String>, Body(of): Body<Symbols>) -> Answer<Added> {
    caller.run(move |ctx| app::remove_members(ctx, &id, &of.symbols)).await
}

/// Puts companies back on a list as they were in one of its versions.
#[utoipa::path(post, path = "/api/lists/{id}/members/restore", tag = "lists", params(("id" = String, Path)), request_body = RestoreMembers,
    responses((status = 200, body = Added), (status = 404, body = Problem)))]
pub(crate) async fn restore_members(caller: Caller<Write>, Path(id): Path<String>, Body(request): Body<RestoreMembers>) -> Answer<Added> {
    caller.run(move |ctx| app::restore_members(ctx, &id, &request)).await
}

/// Moves companies from one list to another, or copies them.
#[utoipa::path(post, path = "/api/lists/move", tag = "lists", request_body = MoveMembers,
    responses((status = 200, body = Moved), (status = 404, body = Problem)))]
pub(crate) async fn move_members(caller: Caller<Write>, Body(request): Body<MoveMembers>) -> Answer<Moved> {
    caller.run(move |ctx| app::move_members(ctx, &request)).await
}

/// Puts the companies of a list in an order.
#[utoipa::path(put, path = "/api/lists/{id}/order", tag = "lists", params(("id" = String, Path)), request_body = Symbols,
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn order_members(caller: Caller<Write>, Path(id): Path<String>, Body(of): Body<Symbols>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::order_members(ctx, &id, &of.symbols)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Keeps what the caller says of a company on a list.
#[utoipa::path(put, path = "/api/lists/{id}/members/{symbol}", tag = "lists", params(("id" = String, Path), ("symbol" = String, Path)),
    request_body = MemberOwn, responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn save_member(
    caller: Caller<Write>,
    Path((id, symbol)): Path<(String, String)>,
    Body(own): Body<MemberOwn>,
) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::save_member(ctx, &id, &symbol, &own)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Keeps how sound the caller thinks a company is, and why.
#[utoipa::path(put, path = "/api/companies/{symbol}/soundness", tag = "lists", params(("symbol" = String, Path)), request_body = OwnSoundness,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn judge_soundness(
    caller: Caller<Write>,
    Path(symbol): Path<String>,
    Body(own): Body<OwnSoundness>,
) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::judge_soundness(ctx, &symbol, own)).await.map(|_| StatusCode::NO_CONTENT)
}

/// The caller's lists, with what is said there of a company.
#[utoipa::path(get, path = "/api/companies/{symbol}/lists", tag = "lists", params(("symbol" = String, Path), AsOfQuery),
    responses((status = 200, body = Vec<Membership>), (status = 404, body = Problem)))]
pub(crate) async fn company_lists(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<Vec<Membership>> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| app::company_lists(ctx, &symbol, as_of)).await
}

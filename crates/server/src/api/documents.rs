//! Documents: screens, column sets, assumption sets, measures of one's own.

use super::Answer;
use crate::{
    caller::{Caller, MadeTo, Write},
    error::Problem,
    extract::{Body, Path, Query},
};
use artemon_app::{self as app, DocumentAnswer, DocumentEntry, DocumentFile, DocumentKind};
use axum::{
    Json,
    http::{StatusCode, header::ETAG},
    response::{IntoResponse, Response},
};
use serde::Deserialize;
use utoipa::IntoParams;

/// Which documents.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct DocumentsQuery {
    /// What sort.
    kind: DocumentKind,
    /// Those that were deleted and can be restored.
    #[serde(default)]
    deleted: bool,
}

/// Which version.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct VersionQuery {
    /// Counted from 1; the newest when absent.
    version: Option<i32>,
}

/// The documents of a kind, by folder and name.
#[utoipa::path(get, path = "/api/documents", tag = "documents", params(DocumentsQuery),
    responses((status = 200, body = Vec<DocumentEntry>), (status = 400, body = Problem)))]
pub(crate) async fn documents(caller: Caller, Query(query): Query<DocumentsQuery>) -> Answer<Vec<DocumentEntry>> {
    caller.run(move |ctx| app::documents(ctx, query.kind, query.deleted)).await
}

/// Keeps a new document; its entry is the answer.
#[utoipa::path(post, path = "/api/documents", tag = "documents", request_body = DocumentFile,
    responses((status = 201, body = DocumentEntry), (status = 422, body = Problem)))]
pub(crate) async fn add_document(caller: Caller<Write>, Body(new): Body<DocumentFile>) -> Result<Response, Problem> {
    let entry = caller.run(move |ctx| app::add_document(ctx, new)).await?;
    Ok((StatusCode::CREATED, tagged(entry.0.version, entry)).into_response())
}

/// A document with its versions.
#[utoipa::path(get, path = "/api/documents/{id}", tag = "documents", params(("id" = String, Path), VersionQuery),
    responses((status = 200, body = DocumentAnswer), (status = 404, body = Problem)))]
pub(crate) async fn document(caller: Caller, Path(id): Path<String>, Query(query): Query<VersionQuery>) -> Result<Response, Problem> {
    let answer = caller.run(move |ctx| app::document(ctx, &id, query.version)).await?;
    Ok(tagged(answer.0.entry.version, answer))
}

/// Keeps the next version of a document, and its name, folder and note; refused when If-Match is not the newest version.
#[utoipa::path(put, path = "/api/documents/{id}", tag = "documents", request_body = DocumentFile,
    params(("id" = String, Path), ("If-Match" = String, Header, description = "The version that the change was made to")),
    responses((status = 200, body = DocumentEntry), (status = 404, body = Problem), (status = 412, body = Problem),
        (status = 422, body = Problem), (status = 428, body = Problem)))]
pub(crate) async fn save_document(
    caller: Caller<Write>,
    Path(id): Path<String>,
    made_to: MadeTo,
    Body(new): Body<DocumentFile>,
) -> Result<Response, Problem> {
    let made_to = made_to.required()?;
    let entry = caller.run(move |ctx| app::save_document(ctx, &id, made_to, new)).await?;
    Ok(tagged(entry.0.version, entry))
}

/// Deletes a document until it is restored; its entry is the answer.
#[utoipa::path(delete, path = "/api/documents/{id}", tag = "documents", params(("id" = String, Path)),
    responses((status = 200, body = DocumentEntry), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn delete_document(caller: Caller<Write>, Path(id): Path<String>) -> Answer<DocumentEntry> {
    caller.run(move |ctx| app::delete_document(ctx, &id)).await
}

/// Restores a deleted document; its entry is the answer.
#[utoipa::path(post, path = "/api/documents/{id}/restore", tag = "documents", params(("id" = String, Path)),
    responses((status = 200, body = DocumentEntry), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn restore_document(caller: Caller<Write>, Path(id): Path<String>) -> Answer<DocumentEntry> {
    caller.run(move |ctx| app::restore_document(ctx, &id)).await
}

/// A document as a file, which can be kept as a new one elsewhere.
#[utoipa::path(get, path = "/api/documents/{id}/file", tag = "documents", params(("id" = String, Path), VersionQuery),
    responses((status = 200, body = DocumentFile), (status = 404, body = Problem)))]
pub(crate) async fn document_file(caller: Caller, Path(id): Path<String>, Query(query): Query<VersionQuery>) -> Answer<DocumentFile> {
    caller.run(move |ctx| app::document_file(ctx, &id, query.version)).await
}

/// With the version as the entity tag, for If-Match.
fn tagged<T: serde::Serialize>(version: i32, body: Json<T>) -> Response {
    ([(ETAG, format!("\"{version}\""))], body).into_response()
}

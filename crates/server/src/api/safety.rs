//! Keeping it safe: copies of what is the caller's own, and what is damaged.

use super::{Answer, download};
use crate::{
    caller::{Caller, Server, ServerConfirmed},
    error::Problem,
    extract::Path,
};
use artemon_app::{AppError, CopyEntry, Safety, StoreError};
use axum::{Json, body::Bytes, response::Response};

/// How safe it all is: copies, sizes, what is damaged.
#[utoipa::path(get, path = "/api/safety", tag = "data", responses((status = 200, body = Safety)))]
pub(crate) async fn safety(caller: Caller<Server>) -> Answer<Safety> {
    caller.run(artemon_app::safety).await
}

/// Copies what is the caller's own now.
#[utoipa::path(post, path = "/api/copies", tag = "data", responses((status = 200, body = CopyEntry), (status = 507, body = Problem)))]
pub(crate) async fn copy_now(caller: Caller<Server>) -> Answer<CopyEntry> {
    caller.run(artemon_app::copy_now).await
}

/// A copy as a file, to be kept elsewhere.
#[utoipa::path(get, path = "/api/copies/{name}/file", tag = "data", params(("name" = String, Path,)),
    responses((status = 200, content_type = "application/vnd.sqlite3", body = Vec<u8>), (status = 404, body = Problem)))]
pub(crate) async fn copy_file(caller: Caller<Server>, Path(name): Path<String>) -> Result<Response, Problem> {
    let Json(bytes) = caller
        .run(move |ctx| {
            let path = artemon_app::copy_file(ctx, &name)?;
            std::fs::read(&path).map_err(|source| AppError::Store(StoreError::Folder { path, source }))
        })
        .await?;
    Ok(download("application/vnd.sqlite3", "people.sqlite", Bytes::from(bytes)))
}

/// Takes everything of the caller's own back to a copy; what is there now is kept as one.
#[utoipa::path(post, path = "/api/copies/{name}/restore", tag = "data", params(("name" = String, Path,)),
    responses((status = 200, body = Safety), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn restore_copy(caller: Caller<ServerConfirmed>, Path(name): Path<String>) -> Answer<Safety> {
    caller.change(move |ctx| artemon_app::put_back(ctx, &name), artemon_app::safety).await
}

//! What people let each other read.

use super::Answer;
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{self as app, Copied, Share, ShareRequest, SharedAnswer};
use axum::http::StatusCode;

/// What one shares, the newest first.
#[utoipa::path(get, path = "/api/shared", tag = "sharing", responses((status = 200, body = Vec<Share>)))]
pub(crate) async fn shares(caller: Caller) -> Answer<Vec<Share>> {
    caller.run(app::shares).await
}

/// Shares something of one's own, by a link that counts for everybody who can sign in.
#[utoipa::path(post, path = "/api/shared", tag = "sharing", request_body = ShareRequest,
    responses((status = 200, body = Share), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn share(caller: Caller<Write>, Body(request): Body<ShareRequest>) -> Answer<Share> {
    caller.run(move |ctx| app::share(ctx, &request)).await
}

/// What a link leads to.
#[utoipa::path(get, path = "/api/shared/{token}", tag = "sharing", params(("token" = String, Path)),
    responses((status = 200, body = SharedAnswer), (status = 404, body = Problem)))]
pub(crate) async fn shared(caller: Caller, Path(token): Path<String>) -> Answer<SharedAnswer> {
    caller.run(move |ctx| app::shared(ctx, &token)).await
}

/// Takes back what one shares: the link leads nowhere from then on.
#[utoipa::path(delete, path = "/api/shared/{token}", tag = "sharing", params(("token" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn take_share_back(caller: Caller<Write>, Path(token): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::take_share_back(ctx, &token)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Takes a copy of what a link leads to.
#[utoipa::path(post, path = "/api/shared/{token}/copy", tag = "sharing", params(("token" = String, Path)),
    responses((status = 200, body = Copied), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn take_copy(caller: Caller<Write>, Path(token): Path<String>) -> Answer<Copied> {
    caller.run(move |ctx| app::take_copy(ctx, &token)).await
}

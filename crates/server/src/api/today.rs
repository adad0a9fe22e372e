//! The page Today: what happened since one last looked.

use super::{Answer, companies::AsOfQuery};
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Query, day},
};
use artemon_app::{self as app, GaugeAnswer, PutAway, TodayAnswer, TodayLayout, TodayRequest, TradesAnswer, TradesRequest, VisitAnswer};
use axum::http::StatusCode;

/// What happened since the last visit, or another day: a part a section.
#[utoipa::path(post, path = "/api/today", tag = "today", request_body = TodayRequest,
    responses((status = 200, body = TodayAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn today(caller: Caller, Body(request): Body<TodayRequest>) -> Answer<TodayAnswer> {
    caller.run(move |ctx| app::today(ctx, &request)).await
}

/// The caller looks at what happened; since when it is new is the answer. A visit goes on while one looks within four hours.
#[utoipa::path(post, path = "/api/today/visit", tag = "today", responses((status = 200, body = VisitAnswer)))]
pub(crate) async fn visit(caller: Caller<Write>) -> Answer<VisitAnswer> {
    caller.run(app::look).await
}

/// The caller has seen all there is: what comes from now on is new.
#[utoipa::path(post, path = "/api/today/seen", tag = "today", responses((status = 200, body = VisitAnswer)))]
pub(crate) async fn seen(caller: Caller<Write>) -> Answer<VisitAnswer> {
    caller.run(app::seen_all).await
}

/// Puts lines away until they say something else, or takes them back.
#[utoipa::path(put, path = "/api/today/away", tag = "today", request_body = PutAway,
    responses((status = 204), (status = 422, body = Problem)))]
pub(crate) async fn put_away(caller: Caller<Write>, Body(request): Body<PutAway>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::put_away(ctx, request)).await.map(|_| StatusCode::NO_CONTENT)
}

/// The market against its own past ten years. Some months may be missing: they are computed a few at each asking.
#[utoipa::path(get, path = "/api/today/gauge", tag = "today", params(AsOfQuery),
    responses((status = 200, body = GaugeAnswer), (status = 422, body = Problem)))]
pub(crate) async fn gauge(caller: Caller, Query(query): Query<AsOfQuery>) -> Answer<GaugeAnswer> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| app::market_gauge(ctx, as_of)).await
}

/// The trades of all insiders, grants and sales among them, the newest filing first.
#[utoipa::path(post, path = "/api/today/trades", tag = "today", request_body = TradesRequest,
    responses((status = 200, body = TradesAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn trades(caller: Caller, Body(request): Body<TradesRequest>) -> Answer<TradesAnswer> {
    caller.run(move |ctx| app::market_trades(ctx, &request)).await
}

/// How the caller has the page.
#[utoipa::path(get, path = "/api/today/layout", tag = "today", responses((status = 200, body = TodayLayout)))]
pub(crate) async fn layout(caller: Caller) -> Answer<TodayLayout> {
    caller.run(app::layout).await
}

/// Keeps how the caller has the page.
#[utoipa::path(put, path = "/api/today/layout", tag = "today", request_body = TodayLayout,
    responses((status = 204), (status = 422, body = Problem)))]
pub(crate) async fn save_layout(caller: Caller<Write>, Body(layout): Body<TodayLayout>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::save_layout(ctx, layout)).await.map(|_| StatusCode::NO_CONTENT)
}

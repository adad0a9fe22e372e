//! Backtests: asked for, listed, opened; fifths by a measure.

use super::{Answer, Results, named_file};
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path, Query},
};
use artemon_app::{
    self as app, AskBacktest, Backtest, BacktestAnswer, BacktestEntry, BacktestFormat, BacktestList, CalibrationAnswer, MeasureCheckAnswer,
    ProposeBacktest, RunningBacktest,
};
use artemon_core::{
    backtest::{HoldingsAt, ValueCheck},
    domain::Day,
};
use axum::{Json, http::StatusCode, response::Response};
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};

/// The caller's backtests, newest first.
#[utoipa::path(get, path = "/api/backtests", tag = "backtests", responses((status = 200, body = BacktestList)))]
pub(crate) async fn backtests(caller: Caller) -> Answer<BacktestList> {
    caller.run(app::backtests).await
}

/// Those that are being worked on.
#[utoipa::path(get, path = "/api/backtests/running", tag = "backtests", responses((status = 200, body = Vec<RunningBacktest>)))]
pub(crate) async fn running_backtests(caller: Caller) -> Answer<Vec<RunningBacktest>> {
    caller.run(|ctx| Ok(app::running_backtests(ctx))).await
}

/// Asks for a backtest, which is then worked on in the background.
#[utoipa::path(post, path = "/api/backtests", tag = "backtests", request_body = AskBacktest,
    responses((status = 201, body = BacktestEntry), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn ask_backtest(
    caller: Caller<Write>,
    Body(asked): Body<AskBacktest>,
) -> Result<(StatusCode, Json<BacktestEntry>), Problem> {
    let entry = caller.run(move |ctx| app::ask_backtest(ctx, &asked)).await?;
    Ok((StatusCode::CREATED, entry))
}

/// Sensible settings for a screen.
#[utoipa::path(post, path = "/api/backtests/proposed", tag = "backtests", request_body = ProposeBacktest,
    responses((status = 200, body = Backtest), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn proposed_backtest(caller: Caller, Body(asked): Body<ProposeBacktest>) -> Answer<Backtest> {
    caller.run(move |ctx| app::propose_backtest(ctx, &asked)).await
}

/// Does a measure tell what follows? Fifths of a universe by it over past dates.
#[utoipa::path(post, path = "/api/backtests/measure", tag = "backtests", request_body = ValueCheck,
    responses((status = 200, body = MeasureCheckAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn check_measure(caller: Caller, Body(asked): Body<ValueCheck>) -> Answer<MeasureCheckAnswer> {
    caller.run(move |ctx| app::check_measure(ctx, &asked)).await
}

/// One backtest with what came of it.
#[utoipa::path(get, path = "/api/backtests/{id}", tag = "backtests", params(("id" = String, Path)),
    responses((status = 200, body = BacktestAnswer), (status = 404, body = Problem)))]
pub(crate) async fn backtest(caller: Caller, Path(id): Path<String>) -> Answer<BacktestAnswer> {
    caller.run(move |ctx| app::backtest(ctx, &id)).await
}

/// A name for a backtest.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct BacktestName {
    name: String,
}

/// Names a backtest.
#[utoipa::path(put, path = "/api/backtests/{id}", tag = "backtests", params(("id" = String, Path)), request_body = BacktestName,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn name_backtest(
    caller: Caller<Write>,
    Path(id): Path<String>,
    Body(to): Body<BacktestName>,
) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::name_backtest(ctx, &id, &to.name)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Deletes a backtest until it is restored; it still counts as a try.
#[utoipa::path(delete, path = "/api/backtests/{id}", tag = "backtests", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn delete_backtest(caller: Caller<Write>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::delete_backtest(ctx, &id, true)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Restores a deleted backtest.
#[utoipa::path(post, path = "/api/backtests/{id}/restore", tag = "backtests", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn restore_backtest(caller: Caller<Write>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::delete_backtest(ctx, &id, false)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Ends a backtest that waits or runs, or the trying of its variants.
#[utoipa::path(post, path = "/api/backtests/{id}/cancel", tag = "backtests", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn cancel_backtest(caller: Caller<Write>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::cancel_backtest(ctx, &id)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Asks for a backtest with one thing changed at a time: does it hold?
#[utoipa::path(post, path = "/api/backtests/{id}/variants", tag = "backtests", params(("id" = String, Path)),
    responses((status = 202, body = BacktestEntry), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn backtest_variants(caller: Caller<Write>, Path(id): Path<String>) -> Result<(StatusCode, Json<BacktestEntry>), Problem> {
    let entry = caller.run(move |ctx| app::try_variants(ctx, &id)).await?;
    Ok((StatusCode::ACCEPTED, entry))
}

/// How good the values have been: what became of past ones, as far as it is worked out.
#[utoipa::path(get, path = "/api/values-record", tag = "backtests", responses((status = 200, body = CalibrationAnswer), (status = 422, body = Problem)))]
pub(crate) async fn values_record(caller: Caller) -> Answer<CalibrationAnswer> {
    caller.run(app::values_record).await
}

/// Asks for that to be worked out, in the background.
#[utoipa::path(post, path = "/api/values-record", tag = "backtests", responses((status = 202), (status = 422, body = Problem)))]
pub(crate) async fn ask_values_record(caller: Caller<Write>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(app::ask_values_record).await?;
    Ok(StatusCode::ACCEPTED)
}

/// Ends the work on it.
#[utoipa::path(delete, path = "/api/values-record", tag = "backtests", responses((status = 204)))]
pub(crate) async fn give_up_values_record(caller: Caller<Write>) -> Result<StatusCode, Problem> {
    let Json(()) = caller
        .run(|ctx| {
            app::give_up_values_record(ctx);
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Of which day.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct DayQuery {
    #[param(value_type = String)]
    date: Day,
}

/// What a backtest held at the close of a day, or of the last session before it.
#[utoipa::path(get, path = "/api/backtests/{id}/holdings", tag = "backtests", params(("id" = String, Path), DayQuery),
    responses((status = 200, body = HoldingsAt), (status = 400, body = Problem), (status = 404, body = Problem)))]
pub(crate) async fn backtest_holdings(caller: Caller, Path(id): Path<String>, Query(query): Query<DayQuery>) -> Answer<HoldingsAt> {
    caller.run(move |ctx| app::backtest_holdings(ctx, &id, query.date)).await
}

/// In which format.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct FileQuery {
    /// "csv", "xlsx" or "json".
    #[param(value_type = String)]
    format: BacktestFormat,
}

/// A backtest as a file: its trades as CSV, a workbook, or everything as JSON.
#[utoipa::path(get, path = "/api/backtests/{id}/file", tag = "backtests", params(("id" = String, Path), FileQuery),
    responses(Results, (status = 400, body = Problem), (status = 404, body = Problem)))]
pub(crate) async fn backtest_file(caller: Caller, Path(id): Path<String>, Query(query): Query<FileQuery>) -> Result<Response, Problem> {
    let name = match query.format {
        BacktestFormat::Csv => "trades.csv",
        BacktestFormat::Xlsx => "backtest.xlsx",
        BacktestFormat::Json => "backtest.json",
    };
    let Json(bytes) = caller.run(move |ctx| app::backtest_file(ctx, &id, query.format)).await?;
    Ok(named_file(name, bytes))
}

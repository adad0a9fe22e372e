//! Screens.

use super::{Answer, Results, named_file};
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{
    ChangesAnswer, ChangesRequest, CompareScreens, CriterionRequest, MapAnswer, MapRequest, Medians, NumberAnswer, NumberRequest,
    ReadyColumns, ReadyScreen, RowsAnswer, RowsRequest, SavedRun, ScreenAnswer, ScreenFileRequest, ScreenList, ScreenRequest, UsedFormula,
    WallAnswer, WallRequest, YearAnswer, YearRequest, compare_screens, run_saved_screen, screen, screen_changes, screen_map,
    screen_medians, screen_rows, screen_symbols, screen_wall, screen_year,
};
use artemon_core::screening::Criterion;
use axum::{Json, response::Response};

/// Runs a screen: narrowing, what each criterion costs, near misses.
#[utoipa::path(post, path = "/api/screen", tag = "screens", request_body = ScreenRequest,
    responses((status = 200, body = ScreenAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn run_screen(caller: Caller, Body(request): Body<ScreenRequest>) -> Answer<ScreenAnswer> {
    caller.run(move |ctx| screen(ctx, &request.screen)).await
}

/// A page of the companies that pass a screen, in its order.
#[utoipa::path(post, path = "/api/screen/rows", tag = "screens", request_body = RowsRequest,
    responses((status = 200, body = RowsAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn screen_page(caller: Caller, Body(request): Body<RowsRequest>) -> Answer<RowsAnswer> {
    caller.run(move |ctx| screen_rows(ctx, &request)).await
}

/// Some of the companies that pass a screen as charts of price over value.
#[utoipa::path(post, path = "/api/screen/wall", tag = "screens", request_body = WallRequest,
    responses((status = 200, body = WallAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn wall(caller: Caller, Body(request): Body<WallRequest>) -> Answer<WallAnswer> {
    caller.run(move |ctx| screen_wall(ctx, &request)).await
}

/// The companies that pass a screen on a map of two measures.
#[utoipa::path(post, path = "/api/screen/map", tag = "screens", request_body = MapRequest,
    responses((status = 200, body = MapAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn map(caller: Caller, Body(request): Body<MapRequest>) -> Answer<MapAnswer> {
    caller.run(move |ctx| screen_map(ctx, &request)).await
}

/// The medians of a screen's columns over the companies that pass it, and over each group of them.
#[utoipa::path(post, path = "/api/screen/medians", tag = "screens", request_body = ScreenList,
    responses((status = 200, body = Medians), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn medians(caller: Caller, Body(request): Body<ScreenList>) -> Answer<Medians> {
    caller.run(move |ctx| screen_medians(ctx, &request)).await
}

/// The companies that pass a screen, all of them and in full, as a file.
#[utoipa::path(post, path = "/api/screen/file", tag = "screens", request_body = ScreenFileRequest,
    responses(Results, (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn screen_file(caller: Caller, Body(request): Body<ScreenFileRequest>) -> Result<Response, Problem> {
    let format = request.format;
    let Json(bytes) = caller.run(move |ctx| artemon_app::screen_file(ctx, &request)).await?;
    Ok(named_file(&format!("screen.{}", format.ending()), bytes))
}

/// The symbols of all companies that pass a screen, in its order.
#[utoipa::path(post, path = "/api/screen/symbols", tag = "screens", request_body = ScreenList,
    responses((status = 200, body = Vec<String>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn passing_symbols(caller: Caller, Body(request): Body<ScreenList>) -> Answer<Vec<String>> {
    caller.run(move |ctx| screen_symbols(ctx, &request)).await
}

/// How two versions of a screen differ, a sentence each.
#[utoipa::path(post, path = "/api/screens/compare", tag = "screens", request_body = CompareScreens,
    responses((status = 200, body = Vec<String>), (status = 422, body = Problem)))]
pub(crate) async fn compare_versions(caller: Caller, Body(request): Body<CompareScreens>) -> Answer<Vec<String>> {
    caller.run(move |ctx| Ok(compare_screens(ctx, &request))).await
}

/// Who entered and who left a screen since a date, and which criteria turned.
#[utoipa::path(post, path = "/api/screen/changes", tag = "screens", request_body = ChangesRequest,
    responses((status = 200, body = ChangesAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn changes_since(caller: Caller, Body(request): Body<ChangesRequest>) -> Answer<ChangesAnswer> {
    caller.run(move |ctx| screen_changes(ctx, &request)).await
}

/// A screen on the same day of an earlier year, with what came of those that passed; null for a day before the data.
#[utoipa::path(post, path = "/api/screen/year", tag = "screens", request_body = YearRequest,
    responses((status = 200, body = Option<YearAnswer>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn earlier_year(caller: Caller, Body(request): Body<YearRequest>) -> Answer<Option<YearAnswer>> {
    caller.run(move |ctx| screen_year(ctx, &request)).await
}

/// Runs a saved screen for the newest session and remembers it, with what changed since its last run.
#[utoipa::path(post, path = "/api/screens/{id}/runs", tag = "screens", params(("id" = String, Path)),
    responses((status = 200, body = SavedRun), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn run_saved(caller: Caller<Write>, Path(id): Path<String>) -> Answer<SavedRun> {
    caller.run(move |ctx| run_saved_screen(ctx, &id)).await
}

/// The screens that ship with the product.
#[utoipa::path(get, path = "/api/screens/ready", tag = "screens", responses((status = 200, body = Vec<ReadyScreen>)))]
pub(crate) async fn ready_screens(_: Caller) -> Answer<Vec<ReadyScreen>> {
    Ok(Json(artemon_app::ready_screens()))
}

/// The sets of columns that ship with the product.
#[utoipa::path(get, path = "/api/columns/ready", tag = "screens", responses((status = 200, body = Vec<ReadyColumns>)))]
pub(crate) async fn ready_columns(_: Caller) -> Answer<Vec<ReadyColumns>> {
    Ok(Json(artemon_app::ready_columns().to_vec()))
}

/// The criterion that was typed or picked, with a first bound where none was.
#[utoipa::path(post, path = "/api/criteria", tag = "screens", request_body = CriterionRequest,
    responses((status = 200, body = Criterion), (status = 422, body = Problem)))]
pub(crate) async fn read_criterion(caller: Caller, Body(request): Body<CriterionRequest>) -> Answer<Criterion> {
    caller.run(move |ctx| artemon_app::criterion(ctx, &request)).await
}

/// The formulas that the person's screens use most, then those of the ready-made ones.
#[utoipa::path(get, path = "/api/criteria/used", tag = "screens", responses((status = 200, body = Vec<UsedFormula>)))]
pub(crate) async fn used_criteria(caller: Caller) -> Answer<Vec<UsedFormula>> {
    caller.run(artemon_app::used_formulas).await
}

/// A number as it was typed.
#[utoipa::path(post, path = "/api/numbers", tag = "screens", request_body = NumberRequest,
    responses((status = 200, body = NumberAnswer), (status = 422, body = Problem)))]
pub(crate) async fn read_number(_: Caller, Body(request): Body<NumberRequest>) -> Answer<NumberAnswer> {
    Ok(Json(artemon_app::read_number(&request)))
}

//! The evidence on the page of one company, a route a question.

use super::{Answer, companies::AsOfQuery};
use crate::{
    caller::Caller,
    error::Problem,
    extract::{Body, Path, Query, day, required_day},
};
use artemon_app::{
    AfterPurchases, MultiplePath, MultipleRequest, Owners, PeersAnswer, PriceAnswer, PriceRequest, QuartersAnswer, QuartersRequest,
    SolvencyTest, StatementRequest, StatementTable, Stretch, ValueChangeAnswer, after_purchases, cash_picture, company_xlsx, multiple_path,
    owners, peers, price_chart, quarters, solvency, statement, stretch, value_change,
};
use axum::{
    Json,
    http::header,
    response::{IntoResponse, Response},
};
use serde::Deserialize;
use utoipa::IntoParams;

/// The companies of the same industry, and where one stands among them.
#[utoipa::path(get, path = "/api/companies/{symbol}/peers", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = PeersAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_peers(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<PeersAnswer> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| peers(ctx, &symbol, as_of)).await
}

/// A measure of a company over its own years, and where it stands.
#[utoipa::path(post, path = "/api/companies/{symbol}/multiples", tag = "companies", params(("symbol" = String, Path)),
    request_body = MultipleRequest,
    responses((status = 200, body = MultiplePath), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_multiples(
    caller: Caller,
    Path(symbol): Path<String>,
    Body(request): Body<MultipleRequest>,
) -> Answer<MultiplePath> {
    caller.run(move |ctx| multiple_path(ctx, &symbol, &request)).await
}

/// A statement of a company as a table of its items by period.
#[utoipa::path(post, path = "/api/companies/{symbol}/statement", tag = "companies", params(("symbol" = String, Path)),
    request_body = StatementRequest,
    responses((status = 200, body = StatementTable), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_statement(
    caller: Caller,
    Path(symbol): Path<String>,
    Body(request): Body<StatementRequest>,
) -> Answer<StatementTable> {
    caller.run(move |ctx| statement(ctx, &symbol, request)).await
}

/// A company as an XLSX workbook: its answers, its statements with years as columns, formulas for the ratios.
#[utoipa::path(get, path = "/api/companies/{symbol}/workbook", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body = Vec<u8>),
        (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_workbook(
    caller: Caller,
    Path(symbol): Path<String>,
    Query(query): Query<AsOfQuery>,
) -> Result<Response, Problem> {
    let as_of = day(query.as_of.as_deref())?;
    let name = format!("attachment; filename=\"{}.xlsx\"", symbol.replace(|c: char| !c.is_ascii_alphanumeric(), "_"));
    let Json(bytes) = caller.run(move |ctx| company_xlsx(ctx, &symbol, as_of)).await?;
    let sheet = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet".to_owned();
    Ok(([(header::CONTENT_TYPE, sheet), (header::CONTENT_DISPOSITION, name)], bytes).into_response())
}

/// The tests of a company's balance sheet one by one.
#[utoipa::path(get, path = "/api/companies/{symbol}/solvency", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = Vec<SolvencyTest>), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_solvency(
    caller: Caller,
    Path(symbol): Path<String>,
    Query(query): Query<AsOfQuery>,
) -> Answer<Vec<SolvencyTest>> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| solvency(ctx, &symbol, as_of)).await
}

/// Where the cash of each year came from and went.
#[utoipa::path(get, path = "/api/companies/{symbol}/cash", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = StatementTable), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_cash(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<StatementTable> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| cash_picture(ctx, &symbol, as_of)).await
}

/// Who owned a company over time, and what its insiders traded.
#[utoipa::path(get, path = "/api/companies/{symbol}/owners", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = Owners), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_owners(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<Owners> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| owners(ctx, &symbol, as_of)).await
}

/// What the price did after insiders had bought.
#[utoipa::path(get, path = "/api/companies/{symbol}/after-purchases", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = AfterPurchases), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_after_purchases(
    caller: Caller,
    Path(symbol): Path<String>,
    Query(query): Query<AsOfQuery>,
) -> Answer<AfterPurchases> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| after_purchases(ctx, &symbol, as_of)).await
}

/// Reported periods against what had been expected, and what is expected next.
#[utoipa::path(post, path = "/api/companies/{symbol}/quarters", tag = "companies", params(("symbol" = String, Path)),
    request_body = QuartersRequest,
    responses((status = 200, body = QuartersAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_quarters(
    caller: Caller,
    Path(symbol): Path<String>,
    Body(request): Body<QuartersRequest>,
) -> Answer<QuartersAnswer> {
    caller.run(move |ctx| quarters(ctx, &symbol, request)).await
}

/// Since when, and as of which date.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct SinceQuery {
    /// The earlier day; the day before the newest filing when absent.
    since: Option<String>,
    /// The date, like 2024-06-30; the newest session when absent.
    as_of: Option<String>,
}

/// Why the value of a company changed since a day.
#[utoipa::path(get, path = "/api/companies/{symbol}/change", tag = "companies", params(("symbol" = String, Path,), SinceQuery),
    responses((status = 200, body = ValueChangeAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_change(
    caller: Caller,
    Path(symbol): Path<String>,
    Query(query): Query<SinceQuery>,
) -> Answer<ValueChangeAnswer> {
    let (since, as_of) = (day(query.since.as_deref())?, day(query.as_of.as_deref())?);
    caller.run(move |ctx| value_change(ctx, &symbol, since, as_of)).await
}

/// The bars of a company with lines through them, zones, and what happened.
#[utoipa::path(post, path = "/api/companies/{symbol}/price", tag = "companies", params(("symbol" = String, Path)),
    request_body = PriceRequest,
    responses((status = 200, body = PriceAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_price(caller: Caller, Path(symbol): Path<String>, Body(request): Body<PriceRequest>) -> Answer<PriceAnswer> {
    caller.run(move |ctx| price_chart(ctx, &symbol, &request)).await
}

/// Two days, and as of which date.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct StretchQuery {
    /// One end.
    from: String,
    /// The other.
    to: String,
    /// The date, like 2024-06-30; the newest session when absent.
    as_of: Option<String>,
}

/// How price, value, index and sector moved between two days.
#[utoipa::path(get, path = "/api/companies/{symbol}/stretch", tag = "companies", params(("symbol" = String, Path,), StretchQuery),
    responses((status = 200, body = Stretch), (status = 400, body = Problem), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_stretch(caller: Caller, Path(symbol): Path<String>, Query(query): Query<StretchQuery>) -> Answer<Stretch> {
    let as_of = day(query.as_of.as_deref())?;
    let ends = (required_day(&query.from)?, required_day(&query.to)?);
    caller.run(move |ctx| stretch(ctx, &symbol, ends, as_of)).await
}

//! Companies: search, groups, the page of one, its valuation.

use super::Answer;
use crate::{
    caller::Caller,
    error::Problem,
    extract::{Body, Path, Query, day},
};
use artemon_app::{
    AfterPurchases, CompanyHit, CompanyPage, Glance, Groups, Override, PeersAnswer, StatementRequest, StatementTable, ValueAnswer,
    ValueChangeAnswer, ValueRequest, after_purchases, company_page, glance, groups, peers, search, statement, value, value_change,
    value_with,
};
use serde::Deserialize;
use utoipa::IntoParams;

/// A search as of a date.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct SearchQuery {
    /// Part of a name, symbol or ISIN.
    #[serde(default)]
    q: String,
    /// The date, like 2024-06-30; the newest session when absent.
    as_of: Option<String>,
}

/// A date.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct AsOfQuery {
    /// The date, like 2024-06-30; the newest session when absent.
    as_of: Option<String>,
}

/// Companies by name, symbol or ISIN, the closest first.
#[utoipa::path(get, path = "/api/companies", tag = "companies", params(SearchQuery),
    responses((status = 200, body = Vec<CompanyHit>), (status = 422, body = Problem)))]
pub(crate) async fn search_companies(caller: Caller, Query(query): Query<SearchQuery>) -> Answer<Vec<CompanyHit>> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| search(ctx, &query.q, as_of)).await
}

/// Countries, sectors, industries and kinds with their numbers of companies.
#[utoipa::path(get, path = "/api/groups", tag = "companies", params(AsOfQuery),
    responses((status = 200, body = Groups), (status = 422, body = Problem)))]
pub(crate) async fn company_groups(caller: Caller, Query(query): Query<AsOfQuery>) -> Answer<Groups> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| groups(ctx, as_of)).await
}

/// The page of one company.
#[utoipa::path(get, path = "/api/companies/{symbol}", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = CompanyPage), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<CompanyPage> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| company_page(ctx, &symbol, as_of)).await
}

/// The companies of the same industry, and where one stands among them.
#[utoipa::path(get, path = "/api/companies/{symbol}/peers", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = PeersAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_peers(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<PeersAnswer> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| peers(ctx, &symbol, as_of)).await
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

/// A company at a glance: price and value of ten years, the newest headline.
#[utoipa::path(get, path = "/api/companies/{symbol}/glance", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = Glance), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_glance(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<Glance> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| glance(ctx, &symbol, as_of)).await
}

/// The valuation of one company.
#[utoipa::path(get, path = "/api/companies/{symbol}/value", tag = "companies", params(("symbol" = String, Path,), AsOfQuery),
    responses((status = 200, body = ValueAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_value(caller: Caller, Path(symbol): Path<String>, Query(query): Query<AsOfQuery>) -> Answer<ValueAnswer> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| value(ctx, &symbol, as_of)).await
}

/// The valuation of one company as it would be under other assumptions, with one cell year by year when asked; nothing is
/// kept.
#[utoipa::path(post, path = "/api/companies/{symbol}/value", tag = "companies", params(("symbol" = String, Path,)),
    request_body = ValueRequest,
    responses((status = 200, body = ValueAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn company_value_with(
    caller: Caller,
    Path(symbol): Path<String>,
    Body(request): Body<ValueRequest>,
) -> Answer<ValueAnswer> {
    caller.run(move |ctx| value_with(ctx, &symbol, &request)).await
}

/// Keeps what is assumed of a company instead of what the set says; an empty one forgets it. The answer is the valuation.
#[utoipa::path(put, path = "/api/companies/{symbol}/own", tag = "companies", params(("symbol" = String, Path,)),
    request_body = Override,
    responses((status = 200, body = ValueAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn assume_of_company(caller: Caller, Path(symbol): Path<String>, Body(own): Body<Override>) -> Answer<ValueAnswer> {
    let of = symbol.clone();
    caller.change(move |ctx| artemon_app::assume_of_company(ctx, &symbol, &own), move |ctx| value(ctx, &of, None)).await
}

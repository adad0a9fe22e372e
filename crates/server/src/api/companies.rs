//! Companies: search, groups, the page of one, its valuation.

use super::Answer;
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Path, Query, day},
};
use artemon_app::{
    CompanyHit, CompanyPage, Glance, Groups, Override, ValueAnswer, ValueRequest, company_page, glance, groups, search, value, value_with,
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
    pub(super) as_of: Option<String>,
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
pub(crate) async fn assume_of_company(caller: Caller<Write>, Path(symbol): Path<String>, Body(own): Body<Override>) -> Answer<ValueAnswer> {
    let of = symbol.clone();
    caller.change(move |ctx| artemon_app::assume_of_company(ctx, &symbol, &own), move |ctx| value(ctx, &of, None)).await
}

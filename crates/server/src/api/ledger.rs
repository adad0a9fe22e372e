//! Accounts, orders and what came of them.

use super::{Answer, Results, named_file};
use crate::{
    caller::{Caller, Write},
    error::Problem,
    extract::{Body, Form, Path, Query},
};
use artemon_app::{
    self as app, AccountStatement, AccountStatementRequest, Entered, FitAnswer, Given, LedgerFormat, LedgerPage, LedgerRequest,
    LedgerTerms, Made, NewAccount, OrderChange, OrderRequest, OrderSheet, ResultsAnswer, StatementImport,
};
use artemon_core::domain::Day;
use axum::{Json, http::StatusCode, response::Response};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

/// A name for an account.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct AccountName {
    name: String,
}

/// Where something stands in the journal.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Entry {
    n: u64,
}

/// The caller's accounts, holdings and orders, and the whole against an index.
#[utoipa::path(post, path = "/api/ledger", tag = "ledger", request_body = LedgerRequest,
    responses((status = 200, body = LedgerPage), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn ledger(caller: Caller, Body(request): Body<LedgerRequest>) -> Answer<LedgerPage> {
    caller.run(move |ctx| app::ledger_page(ctx, &request)).await
}

/// Opens an account.
#[utoipa::path(post, path = "/api/ledger/accounts", tag = "ledger", request_body = NewAccount,
    responses((status = 201, body = Made), (status = 422, body = Problem)))]
pub(crate) async fn add_account(caller: Caller<Write>, Body(account): Body<NewAccount>) -> Result<(StatusCode, Json<Made>), Problem> {
    let made = caller.run(move |ctx| app::add_account(ctx, &account)).await?;
    Ok((StatusCode::CREATED, made))
}

/// Names an account anew.
#[utoipa::path(put, path = "/api/ledger/accounts/{id}", tag = "ledger", params(("id" = String, Path)), request_body = AccountName,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn rename_account(
    caller: Caller<Write>,
    Path(id): Path<String>,
    Body(to): Body<AccountName>,
) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::rename_account(ctx, &id, &to.name)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Removes an account in which nothing has happened.
#[utoipa::path(delete, path = "/api/ledger/accounts/{id}", tag = "ledger", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn remove_account(caller: Caller<Write>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::remove_account(ctx, &id)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Writes a deposit, a withdrawal or, in an account that is kept by hand, a trade, income or a price down.
#[utoipa::path(post, path = "/api/ledger/accounts/{id}/entries", tag = "ledger", params(("id" = String, Path)), request_body = Entered,
    responses((status = 201, body = Entry), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn write_down(
    caller: Caller<Write>,
    Path(id): Path<String>,
    Body(entered): Body<Entered>,
) -> Result<(StatusCode, Json<Entry>), Problem> {
    let Json(n) = caller.run(move |ctx| app::write_down(ctx, &id, &entered)).await?;
    Ok((StatusCode::CREATED, Json(Entry { n })))
}

/// Takes back what was written down by hand.
#[utoipa::path(delete, path = "/api/ledger/entries/{n}", tag = "ledger", params(("n" = u64, Path)),
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn take_back(caller: Caller<Write>, Path(n): Path<u64>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::take_back(ctx, n)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What an order would come to, and what speaks against it; nothing is changed.
#[utoipa::path(post, path = "/api/ledger/sheet", tag = "ledger", request_body = OrderRequest,
    responses((status = 200, body = OrderSheet), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn order_sheet(caller: Caller, Body(request): Body<OrderRequest>) -> Answer<OrderSheet> {
    caller.run(move |ctx| app::order_sheet(ctx, &request)).await
}

/// Gives an order, which works from the next session on.
#[utoipa::path(post, path = "/api/ledger/orders", tag = "ledger", request_body = OrderRequest,
    responses((status = 201, body = Given), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn place_order(caller: Caller<Write>, Body(request): Body<OrderRequest>) -> Result<(StatusCode, Json<Given>), Problem> {
    let given = caller.run(move |ctx| app::place_order(ctx, &request)).await?;
    Ok((StatusCode::CREATED, given))
}

/// Whether an order would fit what is held; nothing is changed.
#[utoipa::path(post, path = "/api/ledger/fit", tag = "ledger", request_body = OrderRequest,
    responses((status = 200, body = FitAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn order_fit(caller: Caller, Body(request): Body<OrderRequest>) -> Answer<FitAnswer> {
    caller.run(move |ctx| app::order_fit(ctx, &request)).await
}

/// Results by year, sector and screen, and income received and ahead.
#[utoipa::path(post, path = "/api/ledger/results", tag = "ledger", request_body = LedgerRequest,
    responses((status = 200, body = ResultsAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn results(caller: Caller, Body(request): Body<LedgerRequest>) -> Answer<ResultsAnswer> {
    caller.run(move |ctx| app::ledger_results(ctx, &request)).await
}

/// The terms of the simulated broker, and above which weights orders are warned of.
#[utoipa::path(get, path = "/api/ledger/terms", tag = "ledger", responses((status = 200, body = LedgerTerms)))]
pub(crate) async fn terms(caller: Caller) -> Answer<LedgerTerms> {
    caller.run(app::ledger_terms).await
}

/// Sets the terms of the simulated broker and the limits, from the next session on.
#[utoipa::path(put, path = "/api/ledger/terms", tag = "ledger", request_body = LedgerTerms,
    responses((status = 204), (status = 422, body = Problem)))]
pub(crate) async fn save_terms(caller: Caller<Write>, Body(terms): Body<LedgerTerms>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::save_ledger_terms(ctx, terms)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Changes an order that works, from the next session on.
#[utoipa::path(put, path = "/api/ledger/orders/{order}", tag = "ledger", params(("order" = String, Path)), request_body = OrderChange,
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn change_order(
    caller: Caller<Write>,
    Path(order): Path<String>,
    Body(change): Body<OrderChange>,
) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::change_order(ctx, &order, &change)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Cancels an order that works.
#[utoipa::path(delete, path = "/api/ledger/orders/{order}", tag = "ledger", params(("order" = String, Path)),
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn cancel_order(caller: Caller<Write>, Path(order): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::cancel_order(ctx, &order)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A statement of a broker, as a form.
#[derive(ToSchema)]
#[allow(dead_code)] // describes the form
pub(crate) struct StatementForm {
    /// The file: OFX, or CSV.
    #[schema(value_type = String, format = Binary)]
    file: String,
    /// What is wanted of it, as JSON.
    request: AccountStatementRequest,
}

/// Holds a statement against the journal and, if that is wanted, takes in what is new. The form's `request` comes before or after its `file`.
#[utoipa::path(post, path = "/api/ledger/statements", tag = "ledger",
    request_body(content = StatementForm, content_type = "multipart/form-data"),
    responses((status = 200, body = AccountStatement), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn statement(caller: Caller<Write>, Form(mut form): Form) -> Answer<AccountStatement> {
    let broken = |problem: &str| Problem::new(StatusCode::BAD_REQUEST, "malformed-request", &format!("{problem}. Send the file again."));
    let (mut request, mut file) = (AccountStatementRequest::default(), None);
    while let Some(field) = form.next_field().await.map_err(|e| broken(&e.body_text()))? {
        let (part, name) = (field.name().unwrap_or_default().to_owned(), field.file_name().unwrap_or_default().to_owned());
        let bytes = field.bytes().await.map_err(|e| broken(&e.body_text()))?;
        match part.as_str() {
            "request" => request = serde_json::from_slice(&bytes).map_err(|e| broken(&format!("The request cannot be read: {e}")))?,
            "file" => file = Some((name, bytes)),
            other => return Err(broken(&format!("The form has a part \"{other}\" that is not known"))),
        }
    }
    let (name, bytes) = file.ok_or_else(|| broken("The form has no file"))?;
    caller.run(move |ctx| app::account_statement(ctx, &name, &bytes, &request)).await
}

/// The statements that were taken in, newest first.
#[utoipa::path(get, path = "/api/ledger/statements", tag = "ledger", responses((status = 200, body = Vec<StatementImport>)))]
pub(crate) async fn statements(caller: Caller) -> Answer<Vec<StatementImport>> {
    caller.run(app::statement_imports).await
}

/// Takes a whole statement back.
#[utoipa::path(delete, path = "/api/ledger/statements/{id}", tag = "ledger", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn undo_statement(caller: Caller<Write>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(move |ctx| app::undo_statement(ctx, &id)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Which file.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct FileQuery {
    /// "csv", "xlsx" or "json".
    #[param(value_type = String)]
    format: LedgerFormat,
    /// The day; the newest session when absent.
    #[param(value_type = Option<String>)]
    as_of: Option<Day>,
}

/// The ledger as a file: the journal as CSV, a workbook, or everything as JSON.
#[utoipa::path(get, path = "/api/ledger/file", tag = "ledger", params(FileQuery),
    responses(Results, (status = 400, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn file(caller: Caller, Query(query): Query<FileQuery>) -> Result<Response, Problem> {
    let request = LedgerRequest { as_of: query.as_of, ..LedgerRequest::default() };
    let name = match query.format {
        LedgerFormat::Csv => "journal.csv",
        LedgerFormat::Xlsx => "ledger.xlsx",
        LedgerFormat::Json => "ledger.json",
    };
    let Json(bytes) = caller.run(move |ctx| app::ledger_file(ctx, &request, query.format)).await?;
    Ok(named_file(name, bytes))
}

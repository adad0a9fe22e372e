//! What is one's own of a company: a note, and cases of its next years.

use super::{Answer, companies::AsOfQuery};
use crate::{
    caller::{Caller, MadeTo, Write},
    error::Problem,
    extract::{Body, Path, Query, day},
};
use artemon_app::{self as app, Cases, CasesAnswer, CasesRecord, Kept, Note};

/// What the person wrote about a company; version 0 when nothing.
#[utoipa::path(get, path = "/api/companies/{symbol}/note", tag = "companies", params(("symbol" = String, Path)),
    responses((status = 200, body = Kept<Note>), (status = 404, body = Problem)))]
pub(crate) async fn company_note(caller: Caller, Path(symbol): Path<String>) -> Answer<Kept<Note>> {
    caller.run(move |ctx| app::note(ctx, &symbol)).await
}

/// Keeps what the person wrote about a company; refused when If-Match is not the newest version, 0 for the first.
#[utoipa::path(put, path = "/api/companies/{symbol}/note", tag = "companies", request_body = Note,
    params(("symbol" = String, Path), ("If-Match" = String, Header, description = "The version that the change was made to")),
    responses((status = 200, body = Kept<Note>), (status = 404, body = Problem), (status = 412, body = Problem),
        (status = 422, body = Problem), (status = 428, body = Problem)))]
pub(crate) async fn save_company_note(
    caller: Caller<Write>,
    Path(symbol): Path<String>,
    made_to: MadeTo,
    Body(note): Body<Note>,
) -> Answer<Kept<Note>> {
    let made_to = made_to.required()?;
    let of = symbol.clone();
    caller.change(move |ctx| app::save_note(ctx, &symbol, made_to, note), move |ctx| app::note(ctx, &of)).await
}

/// The cases that the person keeps of a company; version 0 when there are none.
#[utoipa::path(get, path = "/api/companies/{symbol}/cases", tag = "companies", params(("symbol" = String, Path)),
    responses((status = 200, body = Kept<Cases>), (status = 404, body = Problem)))]
pub(crate) async fn company_cases(caller: Caller, Path(symbol): Path<String>) -> Answer<Kept<Cases>> {
    caller.run(move |ctx| app::own_cases(ctx, &symbol)).await
}

/// Keeps the cases of a company; refused when If-Match is not the newest version, 0 for the first.
#[utoipa::path(put, path = "/api/companies/{symbol}/cases", tag = "companies", request_body = Cases,
    params(("symbol" = String, Path), ("If-Match" = String, Header, description = "The version that the change was made to")),
    responses((status = 200, body = Kept<Cases>), (status = 404, body = Problem), (status = 412, body = Problem),
        (status = 422, body = Problem), (status = 428, body = Problem)))]
pub(crate) async fn save_company_cases(
    caller: Caller<Write>,
    Path(symbol): Path<String>,
    made_to: MadeTo,
    Body(cases): Body<Cases>,
) -> Answer<Kept<Cases>> {
    let made_to = made_to.required()?;
    let of = symbol.clone();
    caller.change(move |ctx| app::save_cases(ctx, &symbol, made_to, cases), move |ctx| app::own_cases(ctx, &of)).await
}

/// Works out cases of a company; nothing is kept. Those that are absent are filled with what the last years did.
#[utoipa::path(post, path = "/api/companies/{symbol}/cases", tag = "companies", request_body = Cases,
    params(("symbol" = String, Path), AsOfQuery),
    responses((status = 200, body = CasesAnswer), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn work_out_cases(
    caller: Caller,
    Path(symbol): Path<String>,
    Query(query): Query<AsOfQuery>,
    Body(cases): Body<Cases>,
) -> Answer<CasesAnswer> {
    let as_of = day(query.as_of.as_deref())?;
    caller.run(move |ctx| app::work_out(ctx, &symbol, cases, as_of)).await
}

/// How far the person's likely cases were off so far.
#[utoipa::path(get, path = "/api/cases/record", tag = "companies", responses((status = 200, body = CasesRecord)))]
pub(crate) async fn cases_record(caller: Caller) -> Answer<CasesRecord> {
    caller.run(app::cases_record).await
}

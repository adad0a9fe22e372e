//! Alerts, messages and private addresses. An alert itself is made, changed and deleted as a document of the kind `alert`.

use super::Answer;
use crate::{
    AppState,
    assets::with_nonce,
    caller::{Caller, Write, blocking},
    error::Problem,
    extract::{Body, Path},
};
use artemon_app::{self as app, AlertBody, AlertEntry, AlertPreview, DigestSettings, Letter, MailSettings, Outbox, PrivateAddress};
use axum::{
    Json,
    extract::State,
    http::{StatusCode, header},
    response::{IntoResponse, Response},
};
use serde::Deserialize;
use utoipa::ToSchema;

/// Which private address.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Purpose {
    purpose: String,
}

/// The caller's alerts, each with what it waits for.
#[utoipa::path(get, path = "/api/alerts", tag = "alerts", responses((status = 200, body = Vec<AlertEntry>)))]
pub(crate) async fn alerts(caller: Caller) -> Answer<Vec<AlertEntry>> {
    caller.run(app::alerts).await
}

/// When an alert would have said something in the last five years; nothing is kept.
#[utoipa::path(post, path = "/api/alerts/preview", tag = "alerts", request_body = AlertBody,
    responses((status = 200, body = AlertPreview), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn preview_alert(caller: Caller, Body(body): Body<AlertBody>) -> Answer<AlertPreview> {
    caller.run(move |ctx| app::preview_alert(ctx, &body)).await
}

/// How many things that alerts said the caller has not seen.
#[utoipa::path(get, path = "/api/alerts/unseen", tag = "alerts", responses((status = 200, content_type = "application/json", body = usize)))]
pub(crate) async fn unseen_alerts(caller: Caller) -> Answer<usize> {
    caller.run(app::unseen_alerts).await
}

/// The caller has seen what alerts said.
#[utoipa::path(delete, path = "/api/alerts/unseen", tag = "alerts", responses((status = 204)))]
pub(crate) async fn see_alerts(caller: Caller<Write>) -> Result<StatusCode, Problem> {
    caller.run(app::see_alerts).await.map(|_| StatusCode::NO_CONTENT)
}

/// How messages reach the caller; without the password.
#[utoipa::path(get, path = "/api/mail/settings", tag = "alerts", responses((status = 200, body = MailSettings)))]
pub(crate) async fn mail_settings(caller: Caller) -> Answer<MailSettings> {
    caller.run(app::mail_settings).await
}

/// Keeps how messages reach the caller. A password that is absent stays as it was.
#[utoipa::path(put, path = "/api/mail/settings", tag = "alerts", request_body = MailSettings,
    responses((status = 204), (status = 422, body = Problem)))]
pub(crate) async fn save_mail_settings(caller: Caller<Write>, Body(settings): Body<MailSettings>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::save_mail_settings(ctx, settings)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Sends a short message with some settings, which are not kept.
#[utoipa::path(post, path = "/api/mail/test", tag = "alerts", request_body = MailSettings,
    responses((status = 204), (status = 422, body = Problem)))]
pub(crate) async fn test_mail(caller: Caller<Write>, Body(settings): Body<MailSettings>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::test_mail(ctx, settings)).await.map(|_| StatusCode::NO_CONTENT)
}

/// The digest as it would be now.
#[utoipa::path(post, path = "/api/mail/digest", tag = "alerts", request_body = DigestSettings,
    responses((status = 200, body = Letter), (status = 422, body = Problem)))]
pub(crate) async fn preview_digest(caller: Caller, Body(settings): Body<DigestSettings>) -> Answer<Letter> {
    caller.run(move |ctx| app::preview_digest(ctx, &settings)).await
}

/// The caller's messages, the newest first.
#[utoipa::path(get, path = "/api/mail", tag = "alerts", responses((status = 200, body = Outbox)))]
pub(crate) async fn outbox(caller: Caller) -> Answer<Outbox> {
    caller.run(app::outbox).await
}

/// Tries all messages that wait again.
#[utoipa::path(post, path = "/api/mail/again", tag = "alerts", responses((status = 200, body = Outbox)))]
pub(crate) async fn try_mails_now(caller: Caller<Write>) -> Answer<Outbox> {
    caller.change(app::try_mails_now, app::outbox).await
}

/// A message as a file that mail programs open.
#[utoipa::path(get, path = "/api/mail/{id}/file", tag = "alerts", params(("id" = String, Path)),
    responses((status = 200, content_type = "message/rfc822", body = Vec<u8>), (status = 404, body = Problem)))]
pub(crate) async fn mail_file(caller: Caller, Path(id): Path<String>) -> Result<Response, Problem> {
    let Json(bytes) = caller.run(move |ctx| app::mail_file(ctx, &id)).await?;
    Ok(([(header::CONTENT_TYPE, "message/rfc822"), (header::CONTENT_DISPOSITION, "attachment; filename=\"message.eml\"")], bytes)
        .into_response())
}

/// The caller's private addresses: a calendar and feeds that can be read without being signed in.
#[utoipa::path(get, path = "/api/addresses", tag = "alerts", responses((status = 200, body = Vec<PrivateAddress>)))]
pub(crate) async fn addresses(caller: Caller) -> Answer<Vec<PrivateAddress>> {
    caller.run(app::addresses).await
}

/// Gives a new address for a purpose; the one before leads nowhere any more.
#[utoipa::path(post, path = "/api/addresses", tag = "alerts", request_body = Purpose,
    responses((status = 200, body = PrivateAddress), (status = 404, body = Problem)))]
pub(crate) async fn renew_address(caller: Caller<Write>, Body(of): Body<Purpose>) -> Answer<PrivateAddress> {
    caller.run(move |ctx| app::renew_address(ctx, &of.purpose)).await
}

/// The dates ahead of all companies that the caller follows, as an iCalendar file.
#[utoipa::path(get, path = "/api/calendar.ics", tag = "alerts", responses((status = 200, content_type = "text/calendar", body = String)))]
pub(crate) async fn calendar(caller: Caller) -> Result<Response, Problem> {
    let Json(text) = caller.run(app::calendar).await?;
    let headers =
        [(header::CONTENT_TYPE, "text/calendar; charset=utf-8"), (header::CONTENT_DISPOSITION, "attachment; filename=\"artemon.ics\"")];
    Ok((headers, text).into_response())
}

/// What a private address leads to: `/feeds/{token}.ics` or `.atom`. Whoever knows it may read it.
pub(crate) async fn private(State(state): State<AppState>, Path(name): Path<String>) -> Result<Response, Problem> {
    let token = name.rsplit_once('.').map_or(name.clone(), |(token, _)| token.to_owned());
    let (kind, text) = blocking(move || app::read_address(&state.home, &token)).await?;
    Ok(([(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, "private, max-age=300")], text).into_response())
}

/// Offers to end the digest, by the link in it: whatever looks at links ahead ends nothing.
pub(crate) async fn offer_end_of_digest(Path(_): Path<String>) -> Response {
    // Without it a browser would not say that the form is of this page.
    let own = [(header::REFERRER_POLICY, "same-origin")];
    (own, small_page("End the digest?", "<form method=\"post\"><button>End it</button></form>")).into_response()
}

/// Ends the digest, by hand or by the mail program's button (RFC 8058).
pub(crate) async fn end_digest(State(state): State<AppState>, Path(token): Path<String>) -> Result<Response, Problem> {
    let ended = blocking(move || app::end_digest(&state.home, &token)).await?;
    let said = if ended { "The digest has ended." } else { "The digest had ended before." };
    Ok(small_page(said, "<p><a href=\"/today/messages\">Start it again under Messages</a></p>"))
}

/// A page of a sentence and what comes after it.
fn small_page(said: &str, after: &str) -> Response {
    with_nonce(&format!(
        "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>{said}</title><style nonce=\"NONCE\">\
         body{{font-family:Georgia,serif;background:#fbf8f2;color:#1d2733;padding:48px;font-size:18px}}a{{color:#0e6573}}\
         button{{font:inherit;padding:6px 16px;color:#fff;background:#0e6573;border:0;border-radius:4px}}</style></head>\
         <body><p>{said}</p>{after}</body></html>"
    ))
}

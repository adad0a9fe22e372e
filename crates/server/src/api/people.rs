//! Signing in, one's account, access tokens, and who else may sign in.

use super::{Answer, download, streamed::streamed};
use crate::{
    AppState,
    auth::{SIGNED, cookie_of, device_cookie, visitor},
    caller::{Caller, OwnAccount, OwnAccountConfirmed, Server, ServerConfirmed, blocking, unreadable},
    error::Problem,
    extract::{Body, Path, Query},
};
use artemon_app::{
    self as app, Account, AppError, AuditPage, AuditRequest, BeginSecondFactor, ChangePassphrase, Confirm, Invitation, InvitationEntry,
    Invite, Join, Leave, Left, NewToken, Persons, Presence, RecoveryCodes, RoleChange, SignIn, Signed, SignedIn, TokenEntry, TokenMade,
    TurnOn, Visitor, WayBack, Who,
};
use axum::{
    Json,
    extract::FromRequestParts,
    http::{HeaderMap, HeaderValue, StatusCode, header::SET_COOKIE, request::Parts},
    response::{IntoResponse, Response},
};
use serde::Deserialize;
use std::sync::Arc;
use tower_sessions::Session;
use utoipa::{IntoParams, ToSchema};

/// Somebody at the door of a server of several people: not signed in, or it does not matter.
pub(crate) struct AtTheDoor {
    state: AppState,
    visitor: Arc<Visitor>,
    session: Session,
}

impl FromRequestParts<AppState> for AtTheDoor {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<AtTheDoor, Problem> {
        let sentence = "Nobody signs in here: one person uses this server, on this machine.";
        let session = parts.extensions.get::<Session>().cloned();
        let session = session.ok_or_else(|| Problem::new(StatusCode::NOT_FOUND, "missing", sentence))?;
        let visitor = Arc::new(visitor(&state.reach, &parts.headers, &parts.extensions));
        Ok(AtTheDoor { state: state.clone(), visitor, session })
    }
}

impl AtTheDoor {
    /// Runs what takes a passphrase: a few at once, since each takes memory and time.
    async fn hashing<T: Send + 'static>(&self, work: impl FnOnce() -> Result<T, AppError> + Send + 'static) -> Result<T, Problem> {
        let busy = |_| Problem::new(StatusCode::SERVICE_UNAVAILABLE, "busy", "Too many sign in at once. Try again in a moment.");
        let _place = self.state.hashing.acquire().await.map_err(busy)?;
        blocking(work).await
    }

    /// Opens a session under an id that nobody has known before.
    async fn admit(&self, admitted: SignedIn) -> Result<Response, Problem> {
        self.session.cycle_id().await.map_err(unreadable)?;
        self.session.insert(SIGNED, &admitted.signed).await.map_err(unreadable)?;
        let mut headers = HeaderMap::new();
        if let Some(cookie) = admitted.device.and_then(|device| HeaderValue::from_str(&device_cookie(&self.state.reach, &device)).ok()) {
            headers.insert(SET_COOKIE, cookie);
        }
        Ok((headers, Json(admitted.who)).into_response())
    }
}

/// Who is signed in in this browser; nobody where the session has ended.
#[utoipa::path(get, path = "/api/session", tag = "people", responses((status = 200, body = Presence)))]
pub(crate) async fn presence(door: AtTheDoor) -> Answer<Presence> {
    let signed: Option<Signed> = door.session.get(SIGNED).await.map_err(unreadable)?;
    let Some(signed) = signed else { return Ok(Json(Presence { who: None })) };
    Ok(Json(blocking(move || app::presence(&door.state.home, &signed)).await?))
}

/// Signs in; the session is in a cookie.
#[utoipa::path(post, path = "/api/session", tag = "people", request_body = SignIn,
    responses((status = 200, body = Who), (status = 401, body = Problem), (status = 429, body = Problem)))]
pub(crate) async fn sign_in(door: AtTheDoor, Body(request): Body<SignIn>) -> Result<Response, Problem> {
    let (home, visitor) = (door.state.home.clone(), door.visitor.clone());
    let admitted = door.hashing(move || app::sign_in(&home, &visitor, &request)).await?;
    door.admit(admitted).await
}

/// Signs out in this browser.
#[utoipa::path(delete, path = "/api/session", tag = "people", responses((status = 204), (status = 401, body = Problem)))]
pub(crate) async fn sign_out(caller: Caller<OwnAccount>, door: AtTheDoor) -> Result<StatusCode, Problem> {
    let Json(()) = caller.run(app::signed_out).await?;
    door.session.flush().await.map_err(unreadable)?;
    Ok(StatusCode::NO_CONTENT)
}

/// Types the passphrase again, after which what cannot be undone can be done for ten minutes.
#[utoipa::path(post, path = "/api/session/confirm", tag = "people", request_body = Confirm,
    responses((status = 204), (status = 422, body = Problem), (status = 429, body = Problem)))]
pub(crate) async fn confirm(caller: Caller<OwnAccount>, door: AtTheDoor, Body(typed): Body<Confirm>) -> Result<StatusCode, Problem> {
    let signed = caller.signed().cloned().ok_or(AppError::NotSignedIn)?;
    let Json(confirmed) = caller.run(move |ctx| app::confirm(ctx, &signed, &typed)).await?;
    door.session.cycle_id().await.map_err(unreadable)?;
    door.session.insert(SIGNED, confirmed).await.map_err(unreadable)?;
    Ok(StatusCode::NO_CONTENT)
}

/// What stands in a link.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Token {
    #[allow(missing_docs)]
    token: String,
}

/// What an invitation is for.
#[utoipa::path(post, path = "/api/invitation", tag = "people", request_body = Token,
    responses((status = 200, body = InvitationEntry), (status = 404, body = Problem)))]
pub(crate) async fn invitation(door: AtTheDoor, Body(of): Body<Token>) -> Answer<InvitationEntry> {
    let AtTheDoor { state, visitor, .. } = door;
    Ok(Json(blocking(move || app::invitation(&state.home, &visitor, &of.token)).await?))
}

/// Takes an invitation up, and signs in; nobody who has a second factor, which is asked for when they sign in.
#[utoipa::path(post, path = "/api/join", tag = "people", request_body = Join,
    responses((status = 200, body = Who), (status = 204), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn join(door: AtTheDoor, Body(join): Body<Join>) -> Result<Response, Problem> {
    let (home, visitor) = (door.state.home.clone(), door.visitor.clone());
    let joined = move || app::join(&home, &visitor, &join).and_then(|person| app::signed_in_anew(&home, &visitor, &person));
    match door.hashing(joined).await? {
        Some(admitted) => door.admit(admitted).await,
        // Who keeps a second factor signs in with it.
        None => Ok(StatusCode::NO_CONTENT.into_response()),
    }
}

/// Who one is, and where one is signed in.
#[utoipa::path(get, path = "/api/account", tag = "people", responses((status = 200, body = Account), (status = 401, body = Problem)))]
pub(crate) async fn account(caller: Caller<OwnAccount>) -> Answer<Account> {
    let session = caller.signed().map(|signed| signed.id.clone());
    caller.run(move |ctx| app::account(ctx, session.as_deref())).await
}

/// Chooses another passphrase, and signs out everywhere else.
#[utoipa::path(put, path = "/api/account/passphrase", tag = "people", request_body = ChangePassphrase,
    responses((status = 204), (status = 422, body = Problem), (status = 429, body = Problem)))]
pub(crate) async fn change_passphrase(
    caller: Caller<OwnAccount>,
    door: AtTheDoor,
    Body(change): Body<ChangePassphrase>,
) -> Result<StatusCode, Problem> {
    let signed = caller.signed().cloned().ok_or(AppError::NotSignedIn)?;
    let cookie = door.session.id().map(cookie_of).unwrap_or_default();
    let Json(()) = caller.run(move |ctx| app::change_passphrase(ctx, &cookie, &change)).await?;
    door.session.cycle_id().await.map_err(unreadable)?;
    door.session.insert(SIGNED, signed.confirmed_now()).await.map_err(unreadable)?;
    Ok(StatusCode::NO_CONTENT)
}

/// Signs out everywhere else.
#[utoipa::path(delete, path = "/api/account/sessions", tag = "people", responses((status = 204)))]
pub(crate) async fn sign_out_elsewhere(caller: Caller<OwnAccountConfirmed>, door: AtTheDoor) -> Result<StatusCode, Problem> {
    let cookie = door.session.id().map(cookie_of).unwrap_or_default();
    caller.run(move |ctx| app::sign_out_elsewhere(ctx, &cookie)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Signs out in one browser.
#[utoipa::path(delete, path = "/api/account/sessions/{id}", tag = "people", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn end_session(caller: Caller<OwnAccountConfirmed>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::end_session(ctx, &id)).await.map(|_| StatusCode::NO_CONTENT)
}

/// A secret to be told an authenticator. Nothing is kept yet.
#[utoipa::path(post, path = "/api/account/second-factor/begin", tag = "people",
    responses((status = 200, body = BeginSecondFactor), (status = 422, body = Problem)))]
pub(crate) async fn begin_second_factor(caller: Caller<OwnAccountConfirmed>) -> Answer<BeginSecondFactor> {
    caller.run(app::begin_second_factor).await
}

/// Asks for a code at every sign-in from now on; the recovery codes are told this once.
#[utoipa::path(put, path = "/api/account/second-factor", tag = "people", request_body = TurnOn,
    responses((status = 200, body = RecoveryCodes), (status = 422, body = Problem)))]
pub(crate) async fn turn_second_factor_on(caller: Caller<OwnAccountConfirmed>, Body(on): Body<TurnOn>) -> Answer<RecoveryCodes> {
    caller.run(move |ctx| app::turn_second_factor_on(ctx, &on)).await
}

/// Asks for no code any more.
#[utoipa::path(delete, path = "/api/account/second-factor", tag = "people", responses((status = 204)))]
pub(crate) async fn turn_second_factor_off(caller: Caller<OwnAccountConfirmed>) -> Result<StatusCode, Problem> {
    caller.run(app::turn_second_factor_off).await.map(|_| StatusCode::NO_CONTENT)
}

/// Gives other recovery codes; those before do not count any more.
#[utoipa::path(post, path = "/api/account/recovery-codes", tag = "people",
    responses((status = 200, body = RecoveryCodes), (status = 422, body = Problem)))]
pub(crate) async fn new_recovery_codes(caller: Caller<OwnAccountConfirmed>) -> Answer<RecoveryCodes> {
    caller.run(app::new_recovery_codes).await
}

/// One's access tokens.
#[utoipa::path(get, path = "/api/tokens", tag = "people", responses((status = 200, body = Vec<TokenEntry>)))]
pub(crate) async fn tokens(caller: Caller<OwnAccount>) -> Answer<Vec<TokenEntry>> {
    caller.run(app::tokens).await
}

/// Makes an access token; it is told this once.
#[utoipa::path(post, path = "/api/tokens", tag = "people", request_body = NewToken,
    responses((status = 200, body = TokenMade), (status = 422, body = Problem)))]
pub(crate) async fn make_token(caller: Caller<OwnAccountConfirmed>, Body(new): Body<NewToken>) -> Answer<TokenMade> {
    caller.run(move |ctx| app::make_token(ctx, &new)).await
}

/// Ends an access token for good.
#[utoipa::path(delete, path = "/api/tokens/{id}", tag = "people", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn end_token(caller: Caller<OwnAccount>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::end_token(ctx, &id)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Which page of the audit log.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub(crate) struct Before {
    /// Older than the entry of this number.
    before: Option<i64>,
}

/// Leaves the server, with all that is one's own; it cannot be undone.
#[utoipa::path(delete, path = "/api/account", tag = "people", request_body = Leave,
    responses((status = 200, body = Left), (status = 403, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn leave(caller: Caller<OwnAccountConfirmed>, door: AtTheDoor, Body(how): Body<Leave>) -> Answer<Left> {
    let left = caller.run(move |ctx| app::leave(ctx, &how)).await?;
    door.session.flush().await.map_err(unreadable)?;
    Ok(left)
}

/// Everything of one's own as a zip.
#[utoipa::path(get, path = "/api/account/everything", tag = "people",
    responses((status = 200, content_type = "application/zip", body = Vec<u8>)))]
pub(crate) async fn everything(caller: Caller<OwnAccount>) -> Result<Response, Problem> {
    let ctx = caller.ctx()?;
    let body = streamed(move |out| app::everything_into(&ctx, out)).await?;
    Ok(download("application/zip", "artemon-everything.zip", body))
}

/// Removes somebody; it cannot be undone.
#[utoipa::path(delete, path = "/api/people/{id}", tag = "people", params(("id" = String, Path)), request_body = Leave,
    responses((status = 200, body = Left), (status = 403, body = Problem), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn remove_person(caller: Caller<ServerConfirmed>, Path(id): Path<String>, Body(how): Body<Leave>) -> Answer<Left> {
    caller.run(move |ctx| app::remove_person(ctx, &id, &how)).await
}

/// What was done in one's name that may matter: sign-ins, refused ones, changes of the account, sharing.
#[utoipa::path(get, path = "/api/account/log", tag = "people", params(Before), responses((status = 200, body = AuditPage)))]
pub(crate) async fn own_log(caller: Caller<OwnAccount>, Query(of): Query<Before>) -> Answer<AuditPage> {
    caller.run(move |ctx| app::audit_log(ctx, AuditRequest { before: of.before, everybody: false })).await
}

/// The same of everybody.
#[utoipa::path(get, path = "/api/people/log", tag = "people", params(Before),
    responses((status = 200, body = AuditPage), (status = 403, body = Problem)))]
pub(crate) async fn whole_log(caller: Caller<Server>, Query(of): Query<Before>) -> Answer<AuditPage> {
    caller.run(move |ctx| app::audit_log(ctx, AuditRequest { before: of.before, everybody: true })).await
}

/// Who may sign in, and who is invited.
#[utoipa::path(get, path = "/api/people", tag = "people", responses((status = 200, body = Persons), (status = 403, body = Problem)))]
pub(crate) async fn persons(caller: Caller<Server>) -> Answer<Persons> {
    caller.run(app::persons).await
}

/// Invites somebody; the link is told this once.
#[utoipa::path(post, path = "/api/people/invitations", tag = "people", request_body = Invite,
    responses((status = 200, body = Invitation), (status = 403, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn invite(caller: Caller<ServerConfirmed>, Body(invite): Body<Invite>) -> Answer<Invitation> {
    caller.run(move |ctx| app::invite(ctx, &invite)).await
}

/// Withdraws an invitation.
#[utoipa::path(delete, path = "/api/people/invitations/{id}", tag = "people", params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = Problem)))]
pub(crate) async fn withdraw_invitation(caller: Caller<Server>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::withdraw_invitation(ctx, &id)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Makes a link by which somebody chooses another passphrase who has lost theirs; it is told this once.
#[utoipa::path(post, path = "/api/people/{id}/way-back", tag = "people", params(("id" = String, Path)), request_body = WayBack,
    responses((status = 200, body = Invitation), (status = 404, body = Problem)))]
pub(crate) async fn way_back(caller: Caller<ServerConfirmed>, Path(id): Path<String>, Body(lost): Body<WayBack>) -> Answer<Invitation> {
    caller.run(move |ctx| app::way_back(ctx, &id, lost)).await
}

/// Signs somebody out everywhere.
#[utoipa::path(delete, path = "/api/people/{id}/sessions", tag = "people", params(("id" = String, Path)),
    responses((status = 204), (status = 403, body = Problem), (status = 404, body = Problem)))]
pub(crate) async fn sign_person_out(caller: Caller<ServerConfirmed>, Path(id): Path<String>) -> Result<StatusCode, Problem> {
    caller.run(move |ctx| app::sign_person_out(ctx, &id)).await.map(|_| StatusCode::NO_CONTENT)
}

/// Makes somebody an owner or a member.
#[utoipa::path(put, path = "/api/people/{id}/role", tag = "people", params(("id" = String, Path)), request_body = RoleChange,
    responses((status = 200, body = Persons), (status = 404, body = Problem), (status = 422, body = Problem)))]
pub(crate) async fn change_role(
    caller: Caller<ServerConfirmed>,
    Path(id): Path<String>,
    Body(change): Body<RoleChange>,
) -> Answer<Persons> {
    caller.change(move |ctx| app::change_role(ctx, &id, change), app::persons).await
}

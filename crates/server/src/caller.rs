//! Who asks: every handler that touches data takes a caller, so that its signature shows as whom it runs.

use crate::{
    AppState,
    auth::{SIGNED, visitor},
    error::Problem,
};
use artemon_app::{AppError, Cancel, Cancelled, Ctx, PersonId, Scope, Signed, Visitor, admit, token_holder};
use axum::{
    Json,
    extract::FromRequestParts,
    http::{
        HeaderMap, StatusCode,
        header::{AUTHORIZATION, IF_MATCH},
        request::Parts,
    },
};
use std::{marker::PhantomData, sync::Arc, time::Duration};
use tokio::sync::OwnedSemaphorePermit;
use tower_sessions::Session;

/// How long a request may be computed.
const LONGEST: Duration = Duration::from_secs(120);

/// What a request wants to do, and so what it must show.
pub(crate) trait Wants: Send + Sync + 'static {
    /// What a token must be allowed; where there is none, no token may.
    const SCOPE: Option<Scope>;
    /// Whether it concerns what is everybody's, which owners look after.
    const OWNER: bool = false;
    /// Whether it is for one's account alone: somebody who must turn a second factor on first can do that.
    const OF_ACCOUNT: bool = false;
    /// Whether the passphrase must have been typed a moment ago.
    const CONFIRMED: bool = false;
}

/// A want with its scope, and with what else it must show.
macro_rules! wants {
    ($($(#[$doc:meta])* $name:ident: $scope:expr $(, $more:ident)*;)*) => {
        $($(#[$doc])* #[derive(Clone, Copy, Debug)] pub(crate) struct $name;
        impl Wants for $name {
            const SCOPE: Option<Scope> = $scope;
            $(const $more: bool = true;)*
        })*
    };
}

wants! {
    /// To read what one may read, and to have figures worked out.
    Read: Some(Scope::Read);
    /// To change what is one's own.
    Write: Some(Scope::Write);
    /// To bring data.
    Data: Some(Scope::Data), OWNER;
    /// To look after one's account, which no script does.
    OwnAccount: None, OF_ACCOUNT;
    /// The same where it cannot be undone.
    OwnAccountConfirmed: None, OF_ACCOUNT, CONFIRMED;
    /// To look after the server.
    Server: None, OWNER;
    /// The same where it cannot be undone.
    ServerConfirmed: None, OWNER, CONFIRMED;
}

/// The person whose request it is, who may do what it wants.
pub(crate) struct Caller<W = Read> {
    state: AppState,
    person: PersonId,
    visitor: Arc<Visitor>,
    /// Of the session that asks, where it is one.
    signed: Option<Signed>,
    wants: PhantomData<W>,
}

impl<W: Wants> FromRequestParts<AppState> for Caller<W> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Caller<W>, Problem> {
        let visitor = Arc::new(visitor(&state.reach, &parts.headers, &parts.extensions));
        let of = |person, signed| Caller { state: state.clone(), person, visitor, signed, wants: PhantomData };
        if !state.reach.shared {
            return Ok(of(state.home.local(), None));
        }
        if let Some(token) = bearer(&parts.headers) {
            let (person, scopes) = held(state, token).await?.ok_or(AppError::NotSignedIn)?;
            if !W::SCOPE.is_some_and(|scope| scopes.contains(&scope)) {
                let what = "This access token is not for that; make one that is";
                return Err(AppError::NotAllowed { what: what.to_owned() }.into());
            }
            admitted::<W>(state, &person).await?;
            return Ok(of(person, None));
        }
        let signed = signed(parts).await?.ok_or(AppError::NotSignedIn)?;
        let person = signed.person();
        admitted::<W>(state, &person).await?;
        if W::CONFIRMED && !signed.is_confirmed() {
            return Err(AppError::ConfirmFirst.into());
        }
        Ok(of(person, Some(signed)))
    }
}

/// The access token of a script (RFC 6750).
fn bearer(headers: &HeaderMap) -> Option<String> {
    let sent = headers.get(AUTHORIZATION)?.to_str().ok()?;
    let (scheme, token) = sent.split_once(' ')?;
    scheme.eq_ignore_ascii_case("bearer").then(|| token.trim().to_owned())
}

async fn held(state: &AppState, token: String) -> Result<Option<(PersonId, Vec<Scope>)>, Problem> {
    let home = state.home.clone();
    blocking(move || token_holder(&home, &token)).await
}

/// Whoever is signed in with the cookie of a request. That they are there is kept now and then.
async fn signed(parts: &Parts) -> Result<Option<Signed>, Problem> {
    let Some(session) = parts.extensions.get::<Session>() else { return Ok(None) };
    let signed: Option<Signed> = session.get(SIGNED).await.map_err(unreadable)?;
    if let Some(now) = signed.as_ref().and_then(Signed::seen_now) {
        session.insert(SIGNED, now).await.map_err(unreadable)?;
    }
    Ok(signed)
}

/// A session that cannot be read or kept.
#[allow(clippy::needless_pass_by_value)] // the form that map_err asks for
pub(crate) fn unreadable(e: tower_sessions::session::Error) -> Problem {
    tracing::error!("a session cannot be read or kept: {e}");
    Problem::new(StatusCode::SERVICE_UNAVAILABLE, "busy", "It could not be seen who you are. Try again in a moment.")
}

/// Looks at what is known of a person, where it matters.
async fn admitted<W: Wants>(state: &AppState, person: &PersonId) -> Result<(), Problem> {
    let second_factor = state.home.asks_second_factors() && !W::OF_ACCOUNT;
    if !W::OWNER && !second_factor {
        return Ok(());
    }
    let (home, person) = (state.home.clone(), person.clone());
    blocking(move || admit(&home, &person, W::OWNER, second_factor)).await
}

/// Runs something short off the async threads.
pub(crate) async fn blocking<T: Send + 'static>(work: impl FnOnce() -> Result<T, AppError> + Send + 'static) -> Result<T, Problem> {
    let broken = |_| Problem::new(StatusCode::INTERNAL_SERVER_ERROR, "broken", "The computation broke off. Nothing was changed.");
    Ok(tokio::task::spawn_blocking(work).await.map_err(broken)??)
}

/// Gives a computation up when whoever waits for it is gone.
struct Waiting(Cancel);

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.cancel();
    }
}

impl<W: Wants> Caller<W> {
    /// Runs a use case as the caller, off the async threads; given up when it takes too long.
    pub(crate) async fn run<T: Send + 'static>(
        self,
        work: impl FnOnce(&Ctx) -> Result<T, AppError> + Send + 'static,
    ) -> Result<Json<T>, Problem> {
        self.run_for(LONGEST, work).await
    }

    /// The same for what may rightly take long.
    pub(crate) async fn run_at_length<T: Send + 'static>(
        self,
        work: impl FnOnce(&Ctx) -> Result<T, AppError> + Send + 'static,
    ) -> Result<Json<T>, Problem> {
        self.run_for(Duration::MAX, work).await
    }

    async fn run_for<T: Send + 'static>(
        self,
        longest: Duration,
        work: impl FnOnce(&Ctx) -> Result<T, AppError> + Send + 'static,
    ) -> Result<Json<T>, Problem> {
        // Who goes away while waiting for a place leaves the queue.
        let place = self.state.places.take(&self.person).await?;
        let waiting = Waiting(Cancel::default());
        let cancel = waiting.0.clone();
        let work = tokio::task::spawn_blocking(move || {
            // Free once the work has ended, whether or not anybody waited for it.
            let _place = place;
            Cancelled::caught(|| work(&self.state.home.ctx(&self.person, cancel)?.asked_from(self.visitor)))
        });
        let Ok(done) = tokio::time::timeout(longest, work).await else {
            let sentence = "This took longer than two minutes and was given up. Ask for fewer formulas or companies at once.";
            return Err(Problem::new(StatusCode::SERVICE_UNAVAILABLE, "too-long", sentence));
        };
        match done {
            Ok(Ok(answer)) => Ok(Json(answer?)),
            // Nobody is there to read it.
            Ok(Err(Cancelled)) => Err(Problem::new(StatusCode::REQUEST_TIMEOUT, "given-up", "Nobody waited for the answer any more.")),
            Err(_) => Err(Problem::new(
                StatusCode::INTERNAL_SERVER_ERROR,
                "broken",
                "The computation broke off. Nothing was changed; please report it with what you did.",
            )),
        }
    }

    /// Changes something of the caller's own, and answers with what is then.
    pub(crate) async fn change<T: Send + 'static>(
        self,
        change: impl FnOnce(&Ctx) -> Result<(), AppError> + Send + 'static,
        answer: impl FnOnce(&Ctx) -> Result<T, AppError> + Send + 'static,
    ) -> Result<Json<T>, Problem> {
        self.run_at_length(move |ctx| {
            change(ctx)?;
            // A context keeps the settings that it was made with.
            answer(&ctx.anew()?)
        })
        .await
    }

    /// The caller's context, for what goes on after the answer has begun.
    pub(crate) fn ctx(&self) -> Result<Ctx, Problem> {
        Ok(self.state.home.ctx(&self.person, Cancel::default())?.asked_from(self.visitor.clone()))
    }

    /// A place among those who listen to changes.
    pub(crate) fn listens(&self) -> Result<OwnedSemaphorePermit, Problem> {
        self.state.places.listen(&self.person)
    }

    /// Whether others use the server too.
    pub(crate) fn is_among_several(&self) -> bool {
        self.state.reach.shared
    }

    /// The session that asks; none of a person alone on their machine.
    pub(crate) fn signed(&self) -> Option<&Signed> {
        self.signed.as_ref()
    }
}

/// The version that a change was made to, from the header `If-Match`.
pub(crate) struct MadeTo(pub(crate) Option<i32>);

impl<S: Send + Sync> FromRequestParts<S> for MadeTo {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<MadeTo, Problem> {
        let Some(header) = parts.headers.get(IF_MATCH) else { return Ok(MadeTo(None)) };
        let version = header.to_str().ok().and_then(|h| h.trim().trim_matches('"').parse().ok());
        let sentence = "If-Match takes the version that the change was made to, like \"3\".";
        version.map(|v| MadeTo(Some(v))).ok_or_else(|| Problem::new(StatusCode::BAD_REQUEST, "malformed-request", sentence))
    }
}

impl MadeTo {
    /// Refuses a change that does not say what it was made to.
    pub(crate) fn required(self) -> Result<i32, Problem> {
        let sentence = "Say with If-Match which version the change was made to, so that nobody's work is overwritten.";
        self.0.ok_or_else(|| Problem::new(StatusCode::PRECONDITION_REQUIRED, "precondition-required", sentence))
    }
}

//! Who asks: every handler that touches data takes a caller, so that its signature shows as whom it runs.

use crate::{AppState, error::Problem};
use artemon_app::{AppError, Cancel, Cancelled, Ctx, PersonId};
use axum::{
    Json,
    extract::FromRequestParts,
    http::{StatusCode, header::IF_MATCH, request::Parts},
};
use std::time::Duration;

/// How long a request may be computed.
const LONGEST: Duration = Duration::from_secs(120);

/// The person whose request it is.
pub(crate) struct Caller {
    state: AppState,
    person: PersonId,
}

impl FromRequestParts<AppState> for Caller {
    type Rejection = Problem;

    /// The person at this machine: there are no others yet.
    async fn from_request_parts(_: &mut Parts, state: &AppState) -> Result<Caller, Problem> {
        Ok(Caller { person: state.home.local(), state: state.clone() })
    }
}

/// Gives a computation up when whoever waits for it is gone.
struct Waiting(Cancel);

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.cancel();
    }
}

impl Caller {
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
        let place = self.state.places.clone().acquire_owned().await;
        let waiting = Waiting(Cancel::default());
        let cancel = waiting.0.clone();
        let work = tokio::task::spawn_blocking(move || {
            // Free once the work has ended, whether or not anybody waited for it.
            let _place = place;
            Cancelled::caught(|| work(&self.state.home.ctx(&self.person, cancel)?))
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
        Ok(self.state.home.ctx(&self.person, Cancel::default())?)
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

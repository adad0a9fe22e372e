//! Server-sent events: the imports, whenever one of them changes, and that there is news: other data, what alerts said.

use crate::{
    AppState,
    caller::{Caller, blocking},
    error::Problem,
};
use artemon_app::{backtest_changes, job_changes, jobs, running_backtests, session_goes_on};
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures_util::{Stream, StreamExt};
use std::{convert::Infallible, time::Duration};
use tokio_stream::wrappers::WatchStream;

/// The least time between two events.
const PACE: Duration = Duration::from_millis(120);

/// How often it is looked whether whoever listens is still signed in.
const LOOKED_AT: Duration = Duration::from_secs(5);
/// How long a script may listen before it must show its token again.
const OF_A_TOKEN: Duration = Duration::from_secs(10 * 60);

/// Until whoever listens is not signed in any more. A person alone on their machine always is.
async fn signed_out(caller: Caller) {
    if !caller.is_among_several() {
        return std::future::pending().await;
    }
    let Some(session) = caller.signed().map(|signed| signed.id.clone()) else {
        return tokio::time::sleep(OF_A_TOKEN).await;
    };
    let Ok(ctx) = caller.ctx() else { return };
    loop {
        tokio::time::sleep(LOOKED_AT).await;
        let (ctx, session) = (ctx.clone(), session.clone());
        if !matches!(blocking(move || session_goes_on(&ctx, &session)).await, Ok(true)) {
            return;
        }
    }
}

/// The caller's imports and backtests that run as they stand, now and after every change; and a word when the data is another.
#[utoipa::path(get, path = "/api/events", tag = "data",
    responses((status = 200, description = "Events named jobs, each the list of imports; named backtests, each the list of those that run; named news when the data is another", content_type = "text/event-stream")))]
pub(crate) async fn events(
    caller: Caller,
    State(state): State<AppState>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let (ctx, mut stopping, listening) = (caller.ctx()?, state.stopping.clone(), caller.listens()?);
    let end = async move {
        let _listening = listening;
        tokio::select! {
            _ = stopping.wait_for(|s| *s) => {}
            () = signed_out(caller) => {}
        }
    };
    let news = WatchStream::from_changes(state.home.news()).map(|_| Ok(Event::default().event("news").data("data")));
    let working = ctx.clone();
    let backtests = WatchStream::new(backtest_changes(&ctx)).then(move |_| {
        let ctx = working.clone();
        async move {
            tokio::time::sleep(PACE).await;
            let text = serde_json::to_string(&running_backtests(&ctx)).unwrap_or_default();
            Ok(Event::default().event("backtests").data(text))
        }
    });
    let changes = WatchStream::new(job_changes(&ctx)).then(move |_| {
        let ctx = ctx.clone();
        async move {
            tokio::time::sleep(PACE).await;
            let text = serde_json::to_string(&jobs(&ctx)).unwrap_or_default();
            Ok(Event::default().event("jobs").data(text))
        }
    });
    let all = futures_util::stream::select(futures_util::stream::select(news, backtests), changes);
    Ok(Sse::new(all.take_until(Box::pin(end))).keep_alive(KeepAlive::default()))
}

//! Server-sent events: the imports, whenever one of them changes, and that there is news: other data, what alerts said.

use crate::{AppState, caller::Caller, error::Problem};
use artemon_app::{backtest_changes, job_changes, jobs, running_backtests};
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures_util::{Stream, StreamExt};
use std::{convert::Infallible, time::Duration};
use tokio_stream::wrappers::WatchStream;

/// The least time between two events.
const PACE: Duration = Duration::from_millis(120);

/// The imports and the backtests that run as they stand, now and after every change; and a word when the data is another.
#[utoipa::path(get, path = "/api/events", tag = "data",
    responses((status = 200, description = "Events named jobs, each the list of imports; named backtests, each the list of those that run; named news when the data is another", content_type = "text/event-stream")))]
pub(crate) async fn events(
    caller: Caller,
    State(state): State<AppState>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let (ctx, mut stopping) = (caller.ctx()?, state.stopping);
    let end = async move { drop(stopping.wait_for(|s| *s).await) };
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

//! Server-sent events: the imports, whenever one of them changes.

use artemon_app::App;
use axum::{
    extract::State,
    response::sse::{Event, KeepAlive, Sse},
};
use futures_util::{Stream, StreamExt};
use std::{convert::Infallible, sync::Arc, time::Duration};
use tokio_stream::wrappers::WatchStream;

/// The least time between two events.
const PACE: Duration = Duration::from_millis(120);

/// Whether the server is about to stop: open streams must end first.
pub(crate) type Stopping = tokio::sync::watch::Receiver<bool>;

/// The imports as they stand, now and after every change.
#[utoipa::path(get, path = "/api/events", tag = "data",
    responses((status = 200, description = "Events named jobs, each the list of imports", content_type = "text/event-stream")))]
pub(crate) async fn events(State((app, mut stopping)): State<(Arc<App>, Stopping)>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let end = async move { drop(stopping.wait_for(|s| *s).await) };
    let jobs = WatchStream::new(app.job_changes()).then(move |_| {
        let app = app.clone();
        async move {
            tokio::time::sleep(PACE).await;
            let text = serde_json::to_string(&app.jobs()).unwrap_or_default();
            Ok(Event::default().event("jobs").data(text))
        }
    });
    Sse::new(jobs.take_until(Box::pin(end))).keep_alive(KeepAlive::default())
}

//! The server: a thin adapter over the use cases, and the files of the browser's side.

mod api;
mod assets;
mod error;
mod events;
mod guard;
mod router;

pub use router::openapi;

use artemon_app::App;
use std::{future::Future, sync::Arc};
use tokio::net::TcpListener;

/// Serves an open dataset until `shutdown` is done.
///
/// # Errors
/// When the listener fails.
pub async fn serve(listener: TcpListener, app: Arc<App>, shutdown: impl Future<Output = ()> + Send + 'static) -> std::io::Result<()> {
    let (stop, stopping) = tokio::sync::watch::channel(false);
    let router = router::router(app, listener.local_addr()?, stopping);
    let ended = async move {
        shutdown.await;
        stop.send(true).ok();
    };
    axum::serve(listener, router).with_graceful_shutdown(ended).await
}

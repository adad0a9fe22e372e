//! The server: a thin adapter over the use cases, and the files of the browser's side.

mod api;
mod assets;
mod auth;
mod caller;
mod connections;
mod encrypting;
mod error;
mod events;
mod extract;
mod feed;
mod places;
mod rescue;
mod router;
mod watched;

pub use auth::{Encryption, Reach};
pub use feed::serve_feed;
pub use rescue::serve_rescue;
pub use router::openapi;

use artemon_app::{AppError, Home, copy_today, send_due, take_incoming, warm_today, work_on_backtests};
use places::Places;
use std::{future::Future, sync::Arc, time::Duration};
use tokio::{
    net::TcpListener,
    sync::{Semaphore, watch},
};

/// How long requests may go on once the server is to stop.
const GRACE: Duration = Duration::from_secs(4);

/// What every handler can reach.
#[derive(Clone, Debug)]
pub(crate) struct AppState {
    pub(crate) home: Arc<Home>,
    /// A place for each computation that may go on at once.
    pub(crate) places: Arc<Places>,
    /// Passphrases that are looked at at once.
    pub(crate) hashing: Arc<Semaphore>,
    /// How the server is reached.
    pub(crate) reach: Arc<Reach>,
    /// Whether the server is about to stop: open streams must end first.
    pub(crate) stopping: watch::Receiver<bool>,
}

/// Passphrases that are looked at at once: each takes 19 MB.
const HASHING: usize = 2;

/// How often messages that wait are looked for, and packages that a script has put into the folder.
const MAILS_EVERY: Duration = Duration::from_secs(15);
const INCOMING_EVERY: Duration = Duration::from_secs(2);
/// How often it is seen whether the copy of the day has been made.
const COPIES_EVERY: Duration = Duration::from_secs(15 * 60);

/// Does something again and again until the server stops; what fails is tried the next time.
async fn again_and_again(
    what: &'static str,
    every: Duration,
    home: Arc<Home>,
    mut stopping: watch::Receiver<bool>,
    work: fn(&Arc<Home>) -> Result<(), AppError>,
) {
    while tokio::time::timeout(every, stopping.wait_for(|s| *s)).await.is_err() {
        let home = home.clone();
        if let Ok(Err(e)) = tokio::task::spawn_blocking(move || work(&home)).await {
            tracing::warn!("{what}: {}", e.for_log());
        }
    }
}

/// Makes ready what everybody looks at next whenever other data has come, until the server stops.
async fn make_ready(home: Arc<Home>, mut stopping: watch::Receiver<bool>) {
    let mut news = home.news();
    loop {
        tokio::select! {
            changed = news.changed() => if changed.is_err() { return },
            _ = stopping.wait_for(|s| *s) => return,
        }
        let home = home.clone();
        drop(tokio::task::spawn_blocking(move || warm_today(&home)).await);
    }
}

/// Serves an open data folder until `shutdown` is done. Requests that are being answered then have a moment to end.
///
/// # Errors
/// When the listener fails.
pub async fn serve(
    listener: TcpListener,
    home: Arc<Home>,
    reach: Reach,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let (stop, stopping) = watch::channel(false);
    let encryption = encrypting::Encrypting::of(&reach.encryption)?;
    home.listens_at(reach.url().to_owned());
    tokio::spawn(again_and_again("messages were not sent", MAILS_EVERY, home.clone(), stopping.clone(), send_due));
    let incoming = |home: &Arc<Home>| take_incoming(home).map(drop);
    tokio::spawn(again_and_again("incoming packages were not taken", INCOMING_EVERY, home.clone(), stopping.clone(), incoming));
    let copying = home.clone();
    drop(tokio::task::spawn_blocking(move || {
        copy_today(&copying).inspect_err(|e| tracing::warn!("the copy of the day was not made: {}", e.for_log()))
    }));
    tokio::spawn(again_and_again("the copy of the day was not made", COPIES_EVERY, home.clone(), stopping.clone(), copy_today));
    tokio::spawn(make_ready(home.clone(), stopping.clone()));
    // What was asked for before the last stop.
    work_on_backtests(&home);
    let places = Arc::new(Places::new(reach.shared));
    let router = router::router(AppState {
        home,
        places,
        hashing: Arc::new(Semaphore::new(HASHING)),
        reach: Arc::new(reach),
        stopping: stopping.clone(),
    });
    tokio::spawn(async move {
        shutdown.await;
        stop.send(true).ok();
    });
    let mut told = stopping.clone();
    let late = async move {
        if told.wait_for(|s| *s).await.is_err() {
            std::future::pending::<()>().await;
        }
        tokio::time::sleep(GRACE).await;
    };
    tokio::select! {
        served = connections::serve(listener, router, encryption, stopping) => served,
        () = late => Ok(()),
    }
}

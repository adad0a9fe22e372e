//! Connections: as many as the machine's descriptors allow, each with time-outs. When all are taken, the one that has been idle
//! longest makes room, so that nobody is kept out by sockets that say nothing.

use crate::{
    auth::Peer,
    encrypting::{Encrypting, Stream},
};
use axum::{
    Router,
    body::{Body, Bytes, HttpBody},
    extract::Request,
};
use hyper::{
    body::{Frame, Incoming, SizeHint},
    server::conn::http1,
};
use hyper_util::{
    rt::{TokioIo, TokioTimer},
    service::TowerToHyperService,
};
use std::{
    collections::BTreeMap,
    convert::Infallible,
    io,
    pin::{Pin, pin},
    sync::{
        Arc, Mutex, MutexGuard, PoisonError,
        atomic::{AtomicU64, AtomicUsize, Ordering},
    },
    task::{Context, Poll},
    time::Duration,
};
use tokio::{
    net::TcpListener,
    sync::{Notify, watch},
    task::JoinSet,
};
use tokio_io_timeout::TimeoutStream;
use tower::ServiceExt;
use tower_http::timeout::RequestBodyTimeoutLayer;

/// Connections at once, where the machine has descriptors for them.
const MOST: u64 = 2_200;
/// Descriptors that are kept for files.
const FOR_FILES: u64 = 64;
/// How long the head of a request may take, and how long a connection may be idle.
const HEAD: Duration = Duration::from_secs(30);
/// How long a piece of a body may take to come, and how long a reader may take nothing.
const PIECE: Duration = Duration::from_secs(60);
/// The longest head of a request, in bytes.
const LONGEST_HEAD: usize = 64 << 10;
/// How long to wait when no descriptor is left.
const PAUSE: Duration = Duration::from_millis(20);

/// One connection: how many requests of it are being answered, and how it is asked to end.
#[derive(Debug, Default)]
struct Open {
    answering: AtomicUsize,
    end: Notify,
}

/// All that are open, by how long they have been so or have last answered.
#[derive(Debug, Default)]
struct All {
    by_age: Mutex<(u64, BTreeMap<u64, Arc<Open>>)>,
}

impl All {
    fn with(&self) -> MutexGuard<'_, (u64, BTreeMap<u64, Arc<Open>>)> {
        self.by_age.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn add(&self, open: Arc<Open>) -> u64 {
        let mut all = self.with();
        all.0 += 1;
        let age = all.0;
        all.1.insert(age, open);
        age
    }

    fn remove(&self, age: u64) {
        self.with().1.remove(&age);
    }

    /// The same connection as the one that answered last.
    fn renewed(&self, age: u64) -> u64 {
        let open = self.with().1.remove(&age);
        open.map_or(age, |open| self.add(open))
    }

    fn len(&self) -> u64 {
        self.with().1.len() as u64
    }

    /// Asks the connection that has been idle longest to end.
    fn make_room(&self) {
        let mut all = self.with();
        let idle = all.1.iter().find(|(_, open)| open.answering.load(Ordering::Acquire) == 0).map(|(age, _)| *age);
        if let Some(open) = idle.and_then(|age| all.1.remove(&age)) {
            open.end.notify_one();
        }
    }
}

/// How many connections there may be at once: the soft limit on descriptors is raised to the hard one.
fn most() -> u64 {
    let wanted = MOST + FOR_FILES;
    let descriptors = rlimit::increase_nofile_limit(wanted).unwrap_or(wanted);
    descriptors.min(wanted).saturating_sub(FOR_FILES).max(16)
}

/// Answers until `stopping` says so; what is being answered then is answered to its end.
pub(crate) async fn serve(
    listener: TcpListener,
    router: Router,
    encrypting: Encrypting,
    mut stopping: watch::Receiver<bool>,
) -> io::Result<()> {
    let router = router.layer(RequestBodyTimeoutLayer::new(PIECE));
    let (all, most) = (Arc::new(All::default()), most());
    let mut tasks = JoinSet::new();
    loop {
        let (stream, peer) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(accepted) => accepted,
                Err(e) => {
                    // None is left, or the client was gone at once: room is made, and the next one tried.
                    tracing::debug!("a connection was not taken: {e}");
                    all.make_room();
                    tokio::time::sleep(PAUSE).await;
                    continue;
                }
            },
            Some(_) = tasks.join_next() => continue,
            () = stopped(&mut stopping) => break,
        };
        if all.len() >= most {
            all.make_room();
        }
        let (listed, encrypting) = (Arc::new(Listed::of(all.clone())), encrypting.clone());
        let (router, mut stopping) = (router.clone(), stopping.clone());
        tasks.spawn(async move {
            let begun = tokio::select! {
                begun = encrypting.begin(stream) => begun,
                () = ending(&listed.open, &mut stopping) => return,
            };
            match begun {
                Ok(stream) => answer(stream, Peer(peer), router, listed, stopping).await,
                Err(e) => tracing::debug!("a connection was not encrypted: {e}"),
            }
        });
    }
    drop(listener);
    while tasks.join_next().await.is_some() {}
    Ok(())
}

/// A connection's place among all; given up when dropped.
struct Listed {
    all: Arc<All>,
    open: Arc<Open>,
    age: AtomicU64,
}

impl Listed {
    fn of(all: Arc<All>) -> Listed {
        let open = Arc::new(Open::default());
        let age = all.add(open.clone()).into();
        Listed { all, open, age }
    }
}

impl Drop for Listed {
    fn drop(&mut self) {
        self.all.remove(self.age.load(Ordering::Acquire));
    }
}

/// A request that is being answered, until its answer has been sent.
struct Turn(Arc<Listed>);

impl Turn {
    fn of(listed: Arc<Listed>) -> Turn {
        listed.open.answering.fetch_add(1, Ordering::AcqRel);
        Turn(listed)
    }
}

impl Drop for Turn {
    fn drop(&mut self) {
        let Turn(listed) = self;
        listed.open.answering.fetch_sub(1, Ordering::AcqRel);
        let age = listed.all.renewed(listed.age.load(Ordering::Acquire));
        listed.age.store(age, Ordering::Release);
    }
}

/// An answer with its turn, which ends with it.
struct Answer {
    body: Body,
    _turn: Turn,
}

impl HttpBody for Answer {
    type Data = Bytes;
    type Error = axum::Error;

    fn poll_frame(mut self: Pin<&mut Self>, cx: &mut Context<'_>) -> Poll<Option<Result<Frame<Bytes>, axum::Error>>> {
        Pin::new(&mut self.body).poll_frame(cx)
    }

    fn is_end_stream(&self) -> bool {
        self.body.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.body.size_hint()
    }
}

async fn answer(stream: Box<dyn Stream + Unpin>, peer: Peer, router: Router, listed: Arc<Listed>, mut stopping: watch::Receiver<bool>) {
    let open = listed.open.clone();
    let mut stream = TimeoutStream::new(stream);
    stream.set_write_timeout(Some(PIECE));
    let service = tower::service_fn(move |mut request: Request<Incoming>| {
        request.extensions_mut().insert(peer);
        let (turn, router) = (Turn::of(listed.clone()), router.clone());
        async move {
            let answer = router.oneshot(request.map(Body::new)).await?;
            Ok::<_, Infallible>(answer.map(|body| Answer { body, _turn: turn }))
        }
    });
    let mut connection = pin!(
        http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(HEAD)
            .max_buf_size(LONGEST_HEAD)
            .serve_connection(TokioIo::new(Box::pin(stream)), TowerToHyperService::new(service))
    );
    let ended = tokio::select! {
        ended = connection.as_mut() => ended,
        () = ending(&open, &mut stopping) => {
            connection.as_mut().graceful_shutdown();
            connection.await
        }
    };
    if let Err(e) = ended {
        tracing::debug!("a connection broke off: {e}");
    }
}

/// Until the connection is to make room, or the server is to stop.
async fn ending(open: &Open, stopping: &mut watch::Receiver<bool>) {
    tokio::select! {
        () = open.end.notified() => {}
        () = stopped(stopping) => {}
    }
}

async fn stopped(stopping: &mut watch::Receiver<bool>) {
    drop(stopping.wait_for(|s| *s).await);
}

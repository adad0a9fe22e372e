//! `demo` and `serve`: the server for the browser.

use crate::{
    args::{DemoArgs, FeedArgs, Folder, ServeArgs, Shared},
    log,
};
use anyhow::Context;
use artemon_app::{Home, Options, Rescue, log_folder, make_demo, stand_in, warm_up};
use std::{
    io::Write,
    net::SocketAddr,
    sync::Arc,
    time::{Duration, Instant},
};
use tokio::net::TcpListener;

pub(crate) fn demo(shared: &Shared, args: &DemoArgs) -> anyhow::Result<()> {
    let options = shared.options(Folder::Demo)?;
    make_demo(&options.folder, args.companies.map(|n| n as usize), args.reset)?;
    listen(&args.serve, options)
}

pub(crate) fn serve(shared: &Shared, args: &ServeArgs) -> anyhow::Result<()> {
    listen(args, shared.options(Folder::Data)?)
}

/// Hands out sessions; their packages are made at the start.
pub(crate) fn feed(shared: &Shared, args: &FeedArgs) -> anyhow::Result<()> {
    on_this_machine(args.listen)?;
    let sessions = stand_in(&shared.folder(Folder::Demo)?, args.companies.map(|n| n as usize))?;
    tokio::runtime::Runtime::new()?.block_on(async {
        let listener = TcpListener::bind(args.listen).await.map_err(|e| refused(args.listen, &e))?;
        let stopped = stopped()?;
        say(listener.local_addr()?)?;
        artemon_server::serve_feed(listener, sessions, stopped).await.context("The feed stopped")
    })
}

fn on_this_machine(address: SocketAddr) -> anyhow::Result<()> {
    if !address.ip().is_loopback() {
        anyhow::bail!("{address} can be reached by others, and there are no accounts yet. Listen on 127.0.0.1.");
    }
    Ok(())
}

fn listen(args: &ServeArgs, options: Options) -> anyhow::Result<()> {
    let address = args.listen;
    let upload_bytes = Some(args.upload_limit.saturating_mul(1 << 20));
    let options = Options { upload_bytes, daily_copies: Some(args.copies), ..options };
    on_this_machine(address)?;
    let runtime = tokio::runtime::Runtime::new()?;
    let served = runtime.block_on(async {
        // The port first: a second start should not load the panel to find it taken.
        let listener = TcpListener::bind(address).await.map_err(|e| refused(address, &e))?;
        let address = listener.local_addr()?;
        let mut stopped = Box::pin(stopped()?);
        let begun = Instant::now();
        let home = tokio::select! {
            home = opened(options.clone()) => home,
            () = &mut stopped => return Ok(()),
        };
        let (listener, home) = match home {
            Ok(home) => {
                say(address)?;
                (listener, home)
            }
            Err(error) => match rescued(listener, &options, error).await? {
                Some(both) => both,
                None => return Ok(()),
            },
        };
        log::keep(&log_folder(home.folder()));
        tracing::info!("version {} serves, {} ms after its start", env!("CARGO_PKG_VERSION"), begun.elapsed().as_millis());
        // What everybody asks for first is made ready while nobody has asked yet.
        let warming = home.clone();
        std::thread::spawn(move || warm_up(&warming));
        artemon_server::serve(listener, home, stopped).await.context("The server stopped")
    });
    runtime.shutdown_timeout(LAST_MOMENT);
    tracing::info!("it was stopped");
    served
}

async fn opened(options: Options) -> anyhow::Result<Arc<Home>> {
    Ok(tokio::task::spawn_blocking(move || Home::open(options)).await??)
}

/// Lets a copy be put back in the browser where what is one's own cannot be opened, and opens the folder then; nothing when it was
/// stopped before.
async fn rescued(listener: TcpListener, options: &Options, error: anyhow::Error) -> anyhow::Result<Option<(TcpListener, Arc<Home>)>> {
    let Some(rescue) = Rescue::of(&options.folder) else { return Err(error) };
    eprintln!("{error}\nOpen the address in a browser to put a copy back.");
    // Who comes while the folder is opened afterwards waits.
    let listener = listener.into_std()?;
    let again = TcpListener::from_std(listener.try_clone()?)?;
    let listener = TcpListener::from_std(listener)?;
    say(listener.local_addr()?)?;
    if artemon_server::serve_rescue(listener, rescue, self::stopped()?).await? {
        return Ok(Some((again, opened(options.clone()).await?)));
    }
    Ok(None)
}

/// Where it is to be found, as scripts read it.
fn say(address: SocketAddr) -> std::io::Result<()> {
    println!("http://{address}");
    std::io::stdout().flush()
}

/// How long threads may take to end.
const LAST_MOMENT: Duration = Duration::from_secs(1);

fn refused(address: SocketAddr, error: &std::io::Error) -> anyhow::Error {
    match error.kind() {
        std::io::ErrorKind::AddrInUse => anyhow::anyhow!(
            "Port {} is in use, perhaps by another Artemon. Stop that one, or choose another with --listen 127.0.0.1:0.",
            address.port()
        ),
        _ => anyhow::anyhow!("Cannot listen on {address}: {error}. Choose another address with --listen."),
    }
}

/// Ctrl C, or the signal by which services are stopped; listened for from now on, so that neither is missed.
#[cfg(unix)]
fn stopped() -> std::io::Result<impl Future<Output = ()>> {
    use tokio::signal::unix::{SignalKind, signal};
    let (mut interrupt, mut terminate) = (signal(SignalKind::interrupt())?, signal(SignalKind::terminate())?);
    Ok(async move {
        tokio::select! { _ = interrupt.recv() => {}, _ = terminate.recv() => {} }
    })
}

/// Ctrl C.
#[cfg(not(unix))]
fn stopped() -> std::io::Result<impl Future<Output = ()>> {
    Ok(async { drop(tokio::signal::ctrl_c().await) })
}

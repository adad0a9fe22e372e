//! `demo` and `serve`: the server for the browser.

use crate::{
    args::{DemoArgs, FeedArgs, Folder, ServeArgs, Shared, SharingArgs},
    log,
};
use anyhow::Context;
use artemon_app::{Home, Options, Rescue, first_owner, log_folder, make_demo, stand_in, warm_up};
use artemon_server::{Encryption, Reach};
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
        anyhow::bail!("{address} can be reached by others. Listen on 127.0.0.1, or let each sign in with --shared.");
    }
    Ok(())
}

fn listen(args: &ServeArgs, options: Options) -> anyhow::Result<()> {
    let address = args.listen;
    let upload_bytes = Some(args.upload_limit.saturating_mul(1 << 20));
    let options = Options {
        upload_bytes,
        daily_copies: Some(args.copies),
        shared: args.sharing.shared,
        second_factor: args.sharing.second_factor,
        ..options
    };
    reach(address, &args.sharing)?;
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
        let reach = reach(address, &args.sharing)?;
        if tell_first_owner(&home, &reach)? {
            tracing::info!("nobody can sign in yet; a link for the first owner was printed");
        }
        artemon_server::serve(listener, home, reach, stopped).await.context("The server stopped")
    });
    runtime.shutdown_timeout(LAST_MOMENT);
    tracing::info!("it was stopped");
    served
}

/// How the server is to be reached.
fn reach(address: SocketAddr, args: &SharingArgs) -> anyhow::Result<Reach> {
    if !args.shared {
        on_this_machine(address)?;
        return Ok(Reach::local(address));
    }
    let encryption = match (&args.tls_cert, &args.tls_key, args.behind_proxy) {
        (Some(certificate), Some(key), _) => Encryption::Tls { certificate: certificate.clone(), key: key.clone() },
        (_, _, Some(proxy)) => Encryption::Proxy(proxy),
        _ => Encryption::None,
    };
    Reach::shared(address, args.url.as_ref(), encryption, args.unencrypted).map_err(anyhow::Error::msg)
}

/// Tells how the first owner comes in where nobody can sign in yet.
fn tell_first_owner(home: &Arc<Home>, reach: &Reach) -> anyhow::Result<bool> {
    home.listens_at(reach.url().to_owned());
    let link = if home.is_shared() { first_owner(home)? } else { None };
    if let Some(link) = &link {
        eprintln!("Nobody can sign in yet. Whoever opens this link within a week becomes the owner, with all that is here:\n{link}");
    }
    Ok(link.is_some())
}

async fn opened(options: Options) -> anyhow::Result<Arc<Home>> {
    Ok(tokio::task::spawn_blocking(move || Home::open(options)).await??)
}

/// Lets a copy be put back in the browser, by whoever is alone on the machine, where what is one's own cannot be opened, and opens the folder then; nothing when it was
/// stopped before.
async fn rescued(listener: TcpListener, options: &Options, error: anyhow::Error) -> anyhow::Result<Option<(TcpListener, Arc<Home>)>> {
    let Some(rescue) = Rescue::of(&options.folder).filter(|_| !options.shared) else { return Err(error) };
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

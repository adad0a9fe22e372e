//! `demo` and `serve`: the server for the browser.

use crate::args::{DemoArgs, ServeArgs, Shared};
use anyhow::Context;
use artemon_app::{App, Options, make_demo};
use std::{io::Write, net::SocketAddr, sync::Arc};
use tokio::net::TcpListener;

pub(crate) fn demo(shared: &Shared, args: &DemoArgs) -> anyhow::Result<()> {
    let options = shared.options("demo")?;
    make_demo(&options.folder, args.companies.map(|n| n as usize), args.reset)?;
    listen(args.serve.listen, options)
}

pub(crate) fn serve(shared: &Shared, args: &ServeArgs) -> anyhow::Result<()> {
    listen(args.listen, shared.options("data")?)
}

fn listen(address: SocketAddr, options: Options) -> anyhow::Result<()> {
    if !address.ip().is_loopback() {
        anyhow::bail!("{address} can be reached by others, and there are no accounts yet. Listen on 127.0.0.1.");
    }
    tokio::runtime::Runtime::new()?.block_on(async {
        // The port first: a second start should not load the panel to find it taken.
        let listener = TcpListener::bind(address).await.map_err(|e| refused(address, &e))?;
        let app = tokio::task::spawn_blocking(move || App::open(options)).await??;
        println!("http://{}", listener.local_addr()?);
        std::io::stdout().flush()?;
        artemon_server::serve(listener, Arc::new(app), stopped()).await.context("The server stopped")
    })
}

fn refused(address: SocketAddr, error: &std::io::Error) -> anyhow::Error {
    match error.kind() {
        std::io::ErrorKind::AddrInUse => anyhow::anyhow!(
            "Port {} is in use, perhaps by another Artemon. Stop that one, or choose another with --listen 127.0.0.1:0.",
            address.port()
        ),
        _ => anyhow::anyhow!("Cannot listen on {address}: {error}. Choose another address with --listen."),
    }
}

/// Ctrl C, or the signal by which services are stopped.
async fn stopped() {
    let interrupt = async { drop(tokio::signal::ctrl_c().await) };
    #[cfg(unix)]
    let terminate = async {
        if let Ok(mut signal) = tokio::signal::unix::signal(tokio::signal::unix::SignalKind::terminate()) {
            signal.recv().await;
        }
    };
    #[cfg(not(unix))]
    let terminate = std::future::pending::<()>();
    tokio::select! { () = interrupt => {}, () = terminate => {} }
}

//! What the program says of itself: on stderr, and what a server says also in the `log` folder of its data, a file a day.

use artemon_app::LOG_DAYS;
use std::{
    fs::DirBuilder,
    io::{Write, sink, stderr},
    panic,
    path::Path,
    sync::OnceLock,
};
use tracing_appender::rolling::{RollingFileAppender, Rotation};
use tracing_subscriber::{
    filter::{LevelFilter, Targets},
    fmt::{self, MakeWriter},
    prelude::*,
};

/// The file of the day, once a server keeps one.
static KEPT: OnceLock<RollingFileAppender> = OnceLock::new();

/// Warnings go to stderr, or what `ARTEMON_LOG` asks for, such as `info` or `artemon_server=debug`.
pub(crate) fn begin() {
    let asked = std::env::var("ARTEMON_LOG").ok().and_then(|v| v.parse::<Targets>().ok());
    let asked = asked.unwrap_or_else(|| Targets::new().with_default(LevelFilter::WARN));
    let own = ["artemon", "artemon_app", "artemon_server", "artemon_store"].map(|own| (own, LevelFilter::INFO));
    let kept = Targets::new().with_default(LevelFilter::WARN).with_targets(own);
    tracing_subscriber::registry()
        .with(fmt::layer().with_writer(stderr).with_filter(asked))
        .with(fmt::layer().with_ansi(false).log_internal_errors(false).with_writer(file_of_the_day).with_filter(kept))
        .init();
}

fn file_of_the_day() -> Box<dyn Write> {
    KEPT.get().map_or_else(|| Box::new(sink()) as Box<dyn Write>, |kept| Box::new(kept.make_writer()))
}

/// From now on a log is kept in this folder. Where it cannot be, stderr alone has it.
pub(crate) fn keep(folder: &Path) {
    let mut make = DirBuilder::new();
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut make, 0o700);
    if let Err(e) = make.recursive(true).create(folder) {
        return tracing::warn!("no log is kept: {e}");
    }
    let a_file_a_day = RollingFileAppender::builder().rotation(Rotation::DAILY).max_log_files(LOG_DAYS);
    match a_file_a_day.filename_prefix("artemon").filename_suffix("log").build(folder) {
        Ok(kept) => drop(KEPT.set(kept)),
        Err(e) => return tracing::warn!("no log is kept: {e}"),
    }
    // The place alone: what was computed with may be private.
    let before = panic::take_hook();
    panic::set_hook(Box::new(move |info| {
        let place = info.location().map_or_else(String::new, |l| format!(" at {}:{}", l.file(), l.line()));
        tracing::error!("something broke off{place}");
        before(info);
    }));
}

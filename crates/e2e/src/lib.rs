//! The built program and a headless Chromium, driven as a person would.

mod browser;
mod program;

pub use browser::Browser;
pub use program::Program;

use std::{
    future::Future,
    path::{Path, PathBuf},
};

/// Companies of the world in which stories play, unless they ask for more: soon made.
const COMPANIES: usize = 300;

/// Runs a story against a fresh demo world; a console error fails it.
///
/// # Panics
/// When the story does, or the browser's console had errors.
pub fn story<F: Future<Output = ()>>(body: impl FnOnce(Browser, String) -> F) {
    story_among(COMPANIES, body);
}

/// A story in a world of so many companies.
///
/// # Panics
/// As [`story`].
pub fn story_among<F: Future<Output = ()>>(companies: usize, body: impl FnOnce(Browser, String) -> F) {
    run(Program::demo(companies), body);
}

/// A story of somebody who has no data yet.
///
/// # Panics
/// As [`story`].
pub fn story_without_data<F: Future<Output = ()>>(body: impl FnOnce(Browser, String) -> F) {
    run(Program::empty(), body);
}

/// A story after something was done to the folder of a program that had stopped.
///
/// # Panics
/// As [`story`].
pub fn story_after<F: Future<Output = ()>>(meanwhile: impl FnOnce(&Path), body: impl FnOnce(Browser, String) -> F) {
    run(async { Program::demo(COMPANIES).await.restarted(meanwhile).await }, body);
}

/// A server of several people.
#[derive(Clone, Debug)]
pub struct Server {
    /// How its pages begin.
    pub address: String,
    /// By which the first owner comes in.
    pub link: String,
    /// What it keeps.
    pub folder: PathBuf,
}

/// A story of two people on one server, each in a browser of their own. That the server refuses them something is part of it: the
/// browsers' consoles say so.
///
/// # Panics
/// As [`story`].
pub fn story_of_two<F: Future<Output = ()>>(body: impl FnOnce(Browser, Browser, Server) -> F) {
    story_of_two_with(&[], body);
}

/// A story of two on a server that was started with more arguments.
///
/// # Panics
/// As [`story`].
pub fn story_of_two_with<F: Future<Output = ()>>(more: &[&str], body: impl FnOnce(Browser, Browser, Server) -> F) {
    use futures_util::FutureExt;
    use std::panic::{AssertUnwindSafe, resume_unwind};
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    runtime.block_on(async {
        let (program, link) = Program::shared(COMPANIES, more).await;
        let server = Server { address: program.address.clone(), link, folder: program.folder().to_owned() };
        let (one, other) = (Browser::open().await, Browser::open().await);
        let told = AssertUnwindSafe(body(one.clone(), other.clone(), server)).catch_unwind().await;
        let mut errors = Vec::new();
        for browser in [one, other] {
            errors.extend(browser.console_errors().await.into_iter().filter(|error| !error.contains("status of 4")));
            browser.close().await;
        }
        drop(program);
        if let Err(panic) = told {
            resume_unwind(panic);
        }
        assert!(errors.is_empty(), "console errors: {errors:#?}");
    });
}

fn run<F: Future<Output = ()>>(program: impl Future<Output = Program>, body: impl FnOnce(Browser, String) -> F) {
    use futures_util::FutureExt;
    use std::panic::{AssertUnwindSafe, resume_unwind};
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    runtime.block_on(async {
        let program = program.await;
        let browser = Browser::open().await;
        let told = AssertUnwindSafe(body(browser.clone(), program.address.clone())).catch_unwind().await;
        let errors = if told.is_ok() { browser.console_errors().await } else { Vec::new() };
        browser.close().await;
        drop(program);
        if let Err(panic) = told {
            resume_unwind(panic);
        }
        assert!(errors.is_empty(), "console errors: {errors:#?}");
    });
}

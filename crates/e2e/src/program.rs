//! The built program with the demo world, or nothing, in a folder of its own.

use std::{
    path::{Path, PathBuf},
    process::Stdio,
};
use tempfile::TempDir;
use tokio::{
    io::{AsyncBufReadExt, BufReader},
    process::{Child, Command},
};

/// A running `artemon demo`, or `artemon serve` without data; stopped when dropped.
#[derive(Debug)]
pub struct Program {
    /// Where it answers.
    pub address: String,
    child: Child,
    folder: TempDir,
    companies: Option<usize>,
}

impl Program {
    /// Starts the program on a free port with a demo world of so many companies.
    ///
    /// # Panics
    /// When it does not start.
    pub async fn demo(companies: usize) -> Program {
        Program::begin(Some(companies)).await
    }

    /// Starts the program on a free port without any data.
    ///
    /// # Panics
    /// When it does not start.
    pub async fn empty() -> Program {
        Program::begin(None).await
    }

    async fn begin(companies: Option<usize>) -> Program {
        let folder = tempfile::tempdir().expect("a folder");
        let (address, child) = start(folder.path(), companies, &[]).await;
        Program { address, child, folder, companies }
    }

    /// Starts the program for several people, with more arguments; also gives the link by which the first owner comes in.
    ///
    /// # Panics
    /// When it does not start.
    pub async fn shared(companies: usize, more: &[&str]) -> (Program, String) {
        let folder = tempfile::tempdir().expect("a folder");
        let (address, mut child) = start(folder.path(), Some(companies), &[&["--shared"], more].concat()).await;
        let mut said = BufReader::new(child.stderr.take().expect("its errors")).lines();
        let link = loop {
            let line = said.next_line().await.expect("output").expect("the link of the first owner");
            if line.starts_with("http") {
                break line;
            }
        };
        (Program { address, child, folder, companies: Some(companies) }, link)
    }

    /// What it keeps.
    #[must_use]
    pub fn folder(&self) -> &Path {
        self.folder.path()
    }

    /// Bytes of memory that it holds.
    ///
    /// # Panics
    /// When the system does not say.
    #[must_use]
    pub fn memory(&self) -> f64 {
        let id = self.child.id().expect("a running program");
        let pages = std::fs::read_to_string(format!("/proc/{id}/statm")).expect("the system says");
        pages.split(' ').nth(1).and_then(|n| n.parse::<f64>().ok()).expect("a number of pages") * 4096.0
    }

    /// Stops the program, has something done to its folder, and starts it again.
    ///
    /// # Panics
    /// When it does not start again.
    pub async fn restarted(mut self, meanwhile: impl FnOnce(&Path)) -> Program {
        self.child.kill().await.expect("it can be stopped");
        meanwhile(self.folder.path());
        let (address, child) = start(self.folder.path(), self.companies, &[]).await;
        Program { address, child, ..self }
    }
}

async fn start(folder: &Path, companies: Option<usize>, more: &[&str]) -> (String, Child) {
    let world = companies.map(|n| vec!["demo".to_owned(), "--companies".to_owned(), n.to_string()]);
    let mut child = Command::new(binary())
        .args(world.unwrap_or_else(|| vec!["serve".to_owned()]))
        .args(["--listen", "127.0.0.1:0", "--data"])
        .arg(folder)
        .args(more)
        .stdin(Stdio::null())
        .stderr(if more.is_empty() { Stdio::inherit() } else { Stdio::piped() })
        .stdout(Stdio::piped())
        .kill_on_drop(true)
        .spawn()
        .expect("the program starts; build it first");
    let mut lines = BufReader::new(child.stdout.take().expect("its output")).lines();
    let address = lines.next_line().await.expect("output").expect("the address as the first line");
    (address, child)
}

/// The program beside the tests of the same profile.
fn binary() -> PathBuf {
    if let Some(path) = std::env::var_os("ARTEMON_BINARY") {
        return path.into();
    }
    let test = std::env::current_exe().expect("the test's own path");
    test.ancestors().nth(2).expect("the profile's folder").join("artemon")
}

//! A running server: other verbs read beside it, a second one is refused, and it ends when told to, whoever hangs on.
#![allow(clippy::unwrap_used)]
#![cfg(unix)]

use std::{
    io::{BufRead, BufReader, Read, Write},
    net::TcpStream,
    path::Path,
    process::{Child, Command, Output, Stdio},
    time::{Duration, Instant},
};

struct Server {
    child: Child,
    address: String,
}

impl Server {
    fn start(data: &Path, verb: &[&str]) -> Server {
        let mut child = command(data).args(verb).args(["--listen", "127.0.0.1:0"]).stdout(Stdio::piped()).spawn().unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let address = line.trim().strip_prefix("http://").unwrap_or_else(|| panic!("no address: {line}")).to_owned();
        Server { child, address }
    }

    fn get(&self, path: &str) -> TcpStream {
        let mut stream = TcpStream::connect(&self.address).unwrap();
        write!(stream, "GET {path} HTTP/1.1\r\nHost: {}\r\nConnection: close\r\n\r\n", self.address).unwrap();
        stream
    }

    fn answer(&self, path: &str) -> String {
        let mut text = String::new();
        self.get(path).read_to_string(&mut text).unwrap();
        text
    }

    /// How long it takes to end once it is told to.
    fn stop(&mut self) -> Duration {
        let started = Instant::now();
        assert!(Command::new("kill").arg(self.child.id().to_string()).status().unwrap().success());
        assert!(self.child.wait().unwrap().success(), "it ends by itself");
        started.elapsed()
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        self.child.kill().ok();
        self.child.wait().ok();
    }
}

fn command(data: &Path) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_artemon"));
    command.arg("--data").arg(data).stderr(Stdio::piped());
    command
}

fn run(data: &Path, args: &[&str]) -> Output {
    command(data).args(args).output().unwrap()
}

/// As the README has it: the demo runs, and the terminal asks the same folder; what is saved in the browser counts there too.
#[test]
fn reading_verbs_work_beside_a_running_server() {
    let data = tempfile::tempdir().unwrap();
    let mut server = Server::start(data.path(), &["demo", "--companies", "30"]);
    for args in [
        &["rank"][..],
        &["screen", "net-current-assets"],
        &["evaluate", "--formula", "pe", "quality"],
        &["measures"],
        &["export", data.path().join("out").to_str().unwrap()],
    ] {
        let output = run(data.path(), args);
        assert!(output.status.success(), "{args:?}: {}", String::from_utf8_lossy(&output.stderr));
    }
    let second = run(data.path(), &["serve", "--listen", "127.0.0.1:0"]);
    let said = String::from_utf8_lossy(&second.stderr);
    assert!(!second.status.success() && said.contains("is in use by another Artemon"), "{said}");
    let import = run(data.path(), &["import", data.path().join("out").to_str().unwrap()]);
    assert!(String::from_utf8_lossy(&import.stderr).contains("is in use by another Artemon"));
    assert!(server.answer("/api/about").contains("The Meridian Reach"));
    assert!(server.stop() < Duration::from_secs(3));
}

/// Four downloads that nobody reads: others are answered at once, and the program ends all the same.
#[test]
fn it_ends_although_downloads_are_stalled() {
    let data = tempfile::tempdir().unwrap();
    let mut server = Server::start(data.path(), &["demo", "--companies", "150"]);
    let stalled: Vec<TcpStream> = (0..4).map(|_| server.get("/api/export?table=prices")).collect();
    std::thread::sleep(Duration::from_millis(500));
    let started = Instant::now();
    assert!(server.answer("/api/about").contains("200 OK") && server.answer("/api/companies?q=a").contains("200 OK"));
    assert!(started.elapsed() < Duration::from_secs(2), "{:?}", started.elapsed());
    let ended = server.stop();
    assert!(ended < Duration::from_secs(8), "{ended:?}");
    drop(stalled);
}

/// Killed while the world is made, once early and once late: the next start makes it whole.
#[test]
fn a_demo_killed_while_it_is_made_starts_again() {
    let data = tempfile::tempdir().unwrap();
    for after in [150, 600] {
        let mut child =
            command(data.path()).args(["demo", "--companies", "400", "--listen", "127.0.0.1:0"]).stdout(Stdio::null()).spawn().unwrap();
        std::thread::sleep(Duration::from_millis(after));
        child.kill().unwrap();
        child.wait().unwrap();
    }
    let mut server = Server::start(data.path(), &["demo", "--companies", "40"]);
    assert!(server.answer("/api/about").contains("\"companies\":40"));
    server.stop();
}

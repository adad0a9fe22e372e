//! The program as a process, and requests as a plain client sends them.

use serde_json::Value;
use std::{
    io::{BufRead, BufReader, Read, Write},
    net::TcpStream,
    path::Path,
    process::{Child, Command, Output, Stdio},
    time::{Duration, Instant},
};

/// A running server, killed when dropped.
pub(crate) struct Server {
    child: Child,
    pub(crate) address: String,
    /// By what it is called in requests: its address, unless a proxy stands before it.
    host: String,
}

impl Server {
    /// Starts `artemon` with a verb, on a free port.
    pub(crate) fn start(data: &Path, verb: &[&str]) -> Server {
        Server::of(command(data).args(verb))
    }

    /// The same with so many descriptors at most.
    pub(crate) fn with_descriptors(data: &Path, verb: &[&str], most: u32) -> Server {
        let mut shell = Command::new("sh");
        let script = format!("ulimit -n {most}; exec \"$0\" \"$@\"");
        Server::of(shell.arg("-c").arg(script).arg(binary()).arg("--data").arg(data).args(verb))
    }

    /// Starts it, or tells what it said instead.
    pub(crate) fn try_start(data: &Path, verb: &[&str]) -> Result<Server, String> {
        let mut command = command(data);
        let mut child = command.args(verb).args(["--listen", "127.0.0.1:0"]).spawn().unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        match line.trim().strip_prefix("http://") {
            Some(address) => Ok(Server { address: address.to_owned(), host: address.to_owned(), child }),
            None => Err(said(&child.wait_with_output().unwrap())),
        }
    }

    fn of(command: &mut Command) -> Server {
        let mut child = command.args(["--listen", "127.0.0.1:0"]).stdout(Stdio::piped()).stderr(Stdio::null()).spawn().unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let address = line.trim().strip_prefix("http://").unwrap_or_else(|| panic!("it did not start: {line}")).to_owned();
        Server { child, host: address.clone(), address }
    }

    /// Starts it for several people, behind a proxy that calls it by a name; also gives the path by which the first owner comes in.
    pub(crate) fn shared(data: &Path, verb: &[&str], name: &str) -> (Server, String) {
        let url = format!("https://{name}");
        let mut command = command(data);
        command.args(verb).args(["--shared", "--behind-proxy", "127.0.0.1", "--url", &url, "--listen", "127.0.0.1:0"]);
        let mut child = command.spawn().unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
        let address = line.trim().strip_prefix("http://").unwrap_or_else(|| panic!("it did not start: {line}")).to_owned();
        let mut said = BufReader::new(child.stderr.take().unwrap()).lines();
        let link = said.find_map(|line| line.ok()?.strip_prefix(&url).map(str::to_owned)).unwrap();
        // What it says later is read, too, so that it need not wait.
        std::thread::spawn(move || said.for_each(drop));
        (Server { child, address, host: name.to_owned() }, link)
    }

    /// A connection that says nothing yet.
    pub(crate) fn connect(&self) -> TcpStream {
        TcpStream::connect(&self.address).and_then(|s| s.set_read_timeout(Some(Duration::from_secs(60))).map(|()| s)).unwrap()
    }

    /// Sends a request without waiting for its answer.
    pub(crate) fn send(&self, method: &str, path: &str, body: &Value) -> TcpStream {
        self.try_send(method, path, "", body).unwrap()
    }

    fn try_send(&self, method: &str, path: &str, more: &str, body: &Value) -> std::io::Result<TcpStream> {
        let text = if body.is_null() { String::new() } else { body.to_string() };
        let mut stream = TcpStream::connect(&self.address)?;
        stream.set_read_timeout(Some(Duration::from_secs(60)))?;
        let head = format!("{method} {path} HTTP/1.1\r\nHost: {}\r\nConnection: close\r\n{more}", self.host);
        write!(stream, "{head}Content-Type: application/json\r\nContent-Length: {}\r\n\r\n{text}", text.len())?;
        Ok(stream)
    }

    /// Status and body of an answer; the status 0 where the connection was closed before.
    pub(crate) fn answer(&self, method: &str, path: &str, body: &Value) -> (u16, String) {
        self.answer_to(method, path, "", body)
    }

    /// The same with more headers.
    pub(crate) fn answer_to(&self, method: &str, path: &str, more: &str, body: &Value) -> (u16, String) {
        self.try_send(method, path, more, body).map_or_else(|_| (0, String::new()), answered)
    }

    /// Status, headers and body of an answer.
    pub(crate) fn whole_answer(&self, method: &str, path: &str, more: &str, body: &Value) -> (u16, String, String) {
        whole(self.try_send(method, path, more, body).unwrap())
    }

    /// Sends a form of a page.
    pub(crate) fn form(&self, path: &str, more: &str, body: &str) -> (u16, String) {
        let mut stream = self.connect();
        let head = format!("POST {path} HTTP/1.1\r\nHost: {}\r\nConnection: close\r\n{more}", self.address);
        let sort = "Content-Type: application/x-www-form-urlencoded";
        write!(stream, "{head}{sort}\r\nContent-Length: {}\r\n\r\n{body}", body.len()).unwrap();
        answered(stream)
    }

    /// What a request that succeeds answers.
    pub(crate) fn ask(&self, method: &str, path: &str, body: &Value) -> Value {
        let (status, text) = self.answer(method, path, body);
        assert!((200..300).contains(&status), "{method} {path}: {status} {text}");
        serde_json::from_str(&text).unwrap_or(Value::Null)
    }

    pub(crate) fn get(&self, path: &str) -> Value {
        self.ask("GET", path, &Value::Null)
    }

    /// Bytes of memory that it holds, and how many descriptors.
    pub(crate) fn holds(&self) -> (u64, usize) {
        let of = |file: &str| format!("/proc/{}/{file}", self.child.id());
        let pages = std::fs::read_to_string(of("statm")).unwrap();
        let pages: u64 = pages.split(' ').nth(1).unwrap().parse().unwrap();
        (pages * 4096, std::fs::read_dir(of("fd")).unwrap().count())
    }

    /// How long it takes to end once it is told to.
    pub(crate) fn stop(&mut self) -> Duration {
        let started = Instant::now();
        assert!(Command::new("kill").arg(self.child.id().to_string()).status().unwrap().success());
        assert!(self.child.wait().unwrap().success(), "it ends by itself");
        started.elapsed()
    }

    /// Kills it while others still ask it.
    pub(crate) fn kill_now(&self) {
        assert!(Command::new("kill").args(["-9", &self.child.id().to_string()]).status().unwrap().success());
    }

    pub(crate) fn kill(mut self) {
        self.child.kill().unwrap();
        self.child.wait().unwrap();
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        self.child.kill().ok();
        self.child.wait().ok();
    }
}

/// Status and body of what comes.
fn answered(stream: TcpStream) -> (u16, String) {
    let (status, _, body) = whole(stream);
    (status, body)
}

/// Status, headers and body of what comes.
fn whole(mut stream: TcpStream) -> (u16, String, String) {
    let mut bytes = Vec::new();
    stream.read_to_end(&mut bytes).ok();
    let text = String::from_utf8_lossy(&bytes);
    let (head, body) = text.split_once("\r\n\r\n").unwrap_or_default();
    // Bodies may come in pieces, each after its length.
    let chunked = head.to_lowercase().contains("chunked");
    let body = if chunked { body.split("\r\n").skip(1).step_by(2).collect() } else { body.to_owned() };
    (head.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or_default(), head.to_owned(), body)
}

/// The program that is tried: the one just built, or another such as that of a release.
fn binary() -> String {
    std::env::var("ARTEMON_BINARY").unwrap_or_else(|_| env!("CARGO_BIN_EXE_artemon").to_owned())
}

/// How often something is done, so that `make endure` does it more often.
pub(crate) fn number(name: &str, or: u64) -> u64 {
    std::env::var(name).ok().and_then(|n| n.parse().ok()).unwrap_or(or)
}

/// Starts a verb, kills it after so long, and says whether it had ended before.
pub(crate) fn killed(data: &Path, args: &[&str], after: Duration) -> bool {
    let mut child = command(data).args(args).stdout(Stdio::null()).stderr(Stdio::null()).spawn().unwrap();
    std::thread::sleep(after);
    let ended = child.try_wait().unwrap().is_some();
    child.kill().ok();
    child.wait().unwrap();
    ended
}

/// The program on a data folder.
pub(crate) fn command(data: &Path) -> Command {
    let mut command = Command::new(binary());
    command.arg("--data").arg(data).stdout(Stdio::piped()).stderr(Stdio::piped());
    command
}

/// What a verb comes to.
pub(crate) fn run(data: &Path, args: &[&str]) -> Output {
    command(data).args(args).output().unwrap()
}

/// What it said on stderr.
pub(crate) fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stderr).into_owned()
}

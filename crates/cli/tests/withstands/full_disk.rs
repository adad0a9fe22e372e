//! A disk that is full at every single write of what somebody does: it is refused in words, nothing of it is there, and it goes on
//! once there is room. And one that can only be read. For both a small file system is made, for which one must be root:
//! `make endure`, or under `unshare -rm`.

use crate::server::{Server, number, run, said};
use serde_json::{Value, json};
use std::{
    fs::{self, File},
    io::Write,
    path::{Path, PathBuf},
    process::Command,
};

/// What a file system of memory gives out at once.
const PAGE: usize = 4096;

/// A file system of so many megabytes, taken down when dropped.
struct Disk(tempfile::TempDir);

impl Disk {
    fn new(megabytes: u64) -> Disk {
        let folder = tempfile::tempdir().unwrap();
        let size = format!("size={megabytes}m");
        let made = Command::new("mount").args(["-t", "tmpfs", "-o", &size, "tmpfs"]).arg(folder.path()).status();
        assert!(made.is_ok_and(|m| m.success()), "no file system can be made: run it as root, or under unshare -rm");
        Disk(folder)
    }

    fn ballast(&self) -> PathBuf {
        self.0.path().join("ballast")
    }

    /// Leaves so many pages of room.
    fn leave(&self, pages: usize) {
        self.empty();
        let mut ballast = File::create(self.ballast()).unwrap();
        let page = [1; PAGE];
        let mut size = 0;
        while ballast.write_all(&page).is_ok() {
            size += PAGE;
        }
        ballast.set_len(size.saturating_sub(pages * PAGE) as u64).unwrap();
    }

    fn empty(&self) {
        fs::remove_file(self.ballast()).ok();
    }
}

impl Drop for Disk {
    fn drop(&mut self) {
        Command::new("umount").arg("-l").arg(self.0.path()).status().ok();
    }
}

/// Something that somebody does, what is asked to see what came of it, and what undoes it.
struct Deed {
    what: &'static str,
    method: &'static str,
    path: String,
    body: Value,
    seen: (&'static str, String, Value),
    undo: Option<fn(&Server, &Value)>,
}

fn deeds(server: &Server) -> Vec<Deed> {
    let account = json!({ "name": "Main", "currency": "ZOC", "kind": "simulated", "deposit": 1e9 });
    let account = server.ask("POST", "/api/ledger/accounts", &account)["id"].clone();
    let symbols = server.ask("POST", "/api/screen/symbols", &json!({ "screen": { "blocks": [] } }));
    let symbol = symbols[0].as_str().unwrap();
    let get = |path: &str| ("GET", path.to_owned(), Value::Null);
    let ledger = ("POST", "/api/ledger".to_owned(), json!({}));
    let order = json!({ "account": account, "symbol": symbol, "side": "buy", "at": "market", "amount": 1e5, "good": "until_cancelled" });
    let screen = json!({ "kind": "screen", "name": "Sound and cheap", "body": { "blocks": [] } });
    let list = json!({ "kind": "list", "name": "Watched", "body": {} });
    let delete = |server: &Server, made: &Value| {
        server.ask("DELETE", &format!("/api/documents/{}", made["id"].as_str().unwrap()), &Value::Null);
    };
    let deed = |what, method, path: &str, body, seen, undo| Deed { what, method, path: path.to_owned(), body, seen, undo };
    vec![
        deed("a screen is saved", "POST", "/api/documents", screen, get("/api/documents?kind=screen"), Some(delete)),
        deed("a list is begun", "POST", "/api/documents", list, get("/api/documents?kind=list"), Some(delete)),
        deed("an order is placed", "POST", "/api/ledger/orders", order, ledger.clone(), None),
        deed("assumptions are kept", "PUT", "/api/assumptions", json!({ "name": "Careful" }), get("/api/assumptions"), None),
        deed("a copy is made", "POST", "/api/copies", Value::Null, get("/api/safety"), None),
        deed("a session comes", "POST", "/api/feed", json!({ "sessions": 1 }), get("/api/feed"), None),
    ]
}

/// What is looked at without what changes by itself.
fn look(server: &Server, (method, path, body): &(&str, String, Value)) -> Value {
    let mut seen = server.ask(method, path, body);
    if let Some(all) = seen.as_object_mut() {
        // Jobs that failed are listed, and the size of files changes.
        ["size", "files", "jobs", "last"].iter().for_each(|key| drop(all.remove(*key)));
    }
    seen
}

fn start(data: &Path) -> Server {
    Server::start(data, &["demo", "--companies", "10", "--copies", "0"])
}

#[test]
#[ignore = "it makes a file system: make endure"]
fn a_disk_that_is_full_at_any_write_loses_nothing() {
    let disk = Disk::new(number("MEGABYTES", 96));
    let data = disk.0.path().join("data");
    let server = start(&data);
    // The first session makes the year to come.
    server.ask("POST", "/api/feed", &json!({ "sessions": 1 }));
    for deed in deeds(&server) {
        let (mut pages, mut refused) = (0, 0);
        loop {
            let before = look(&server, &deed.seen);
            disk.leave(pages);
            let (status, text) = server.answer(deed.method, &deed.path, &deed.body);
            let full = look(&server, &deed.seen);
            disk.empty();
            if (200..300).contains(&status) {
                assert!(deed.what == "a copy is made" || full != before, "{}: {pages} pages, confirmed and not there", deed.what);
                break println!("{}: refused {refused} times, done with {pages} pages of room", deed.what);
            }
            refused += 1;
            assert_eq!(status, 507, "{}, {pages} pages: {text}", deed.what);
            assert!(text.contains("room"), "{text}");
            assert_eq!(full, before, "{}, {pages} pages: something of it is there", deed.what);
            assert_eq!(look(&server, &deed.seen), before, "{}, {pages} pages: nor afterwards", deed.what);
            // It goes on at once.
            let done = server.ask(deed.method, &deed.path, &deed.body);
            if let Some(undo) = deed.undo {
                undo(&server, &done);
            }
            pages += if pages < 64 { 1 } else { pages / 8 };
        }
    }
    drop(server);
    verbs_on_a_full_disk(&disk, &data);
    let server = start(&data);
    assert_eq!(server.get("/api/about")["damaged"], 0);
}

/// The same at the terminal, with what writes much.
fn verbs_on_a_full_disk(disk: &Disk, data: &Path) {
    let out = disk.0.path();
    let (package, at) = (out.join("package"), |name: &str| out.join(name).to_str().unwrap().to_owned());
    assert!(run(data, &["export", &at("package")]).status.success());
    for (args, made) in [
        (["import".to_owned(), at("package")], None),
        (["export".to_owned(), at("other")], Some(at("other"))),
        (["export".to_owned(), at("other.zip")], Some(at("other.zip"))),
        (["backup".to_owned(), at("backup")], Some(at("backup"))),
    ] {
        let args: Vec<&str> = args.iter().map(String::as_str).collect();
        let (mut pages, mut refused) = (0, 0);
        loop {
            disk.leave(pages);
            let done = run(data, &args);
            disk.empty();
            if done.status.success() {
                break println!("{}: refused {refused} times, done with {pages} pages of room", args.join(" "));
            }
            refused += 1;
            let words = said(&done).to_lowercase();
            assert!(words.contains("room") || words.contains("no space left"), "{args:?}, {pages} pages: {words}");
            assert!(made.as_ref().is_none_or(|path| !Path::new(path).exists()), "{args:?}: a part is left");
            pages += 1 + pages / 4;
        }
        assert!(refused > 0);
        if let Some(made) = made.filter(|made| !made.ends_with("zip")) {
            fs::remove_dir_all(made).unwrap();
        }
        let checked = run(data, &["check"]);
        assert!(checked.status.success(), "{}", said(&checked));
    }
    let left: Vec<PathBuf> = fs::read_dir(out).unwrap().map(|f| f.unwrap().path()).collect();
    assert_eq!(left.len(), 3, "data, the package and the zip: {left:?} {package:?}");
}

/// A folder on a disk that can only be read, such as a backup: it is read, and what would write says why it does not.
#[test]
#[ignore = "it makes a file system: make endure"]
fn a_folder_that_can_only_be_read_is_read() {
    let (disk, out) = (Disk::new(96), tempfile::tempdir().unwrap());
    let data = disk.0.path().join("data");
    start(&data).stop();
    let asked = ["evaluate", "--formula", "price", "quality", "--format", "csv"];
    let before = run(&data, &asked).stdout;
    let again = Command::new("mount").args(["-o", "remount,ro"]).arg(disk.0.path()).status();
    assert!(again.is_ok_and(|m| m.success()));
    let after = run(&data, &asked);
    assert!(after.status.success() && after.stdout == before, "{}", said(&after));
    for (verb, name) in [("export", "package"), ("backup", "copy")] {
        let done = run(&data, &[verb, out.path().join(name).to_str().unwrap()]);
        assert!(done.status.success(), "{verb}: {}", said(&done));
    }
    for args in [&["check"][..], &["doctor"], &["rank"], &["screen", "net-current-assets"]] {
        let done = run(&data, args);
        assert!(done.status.success(), "{args:?}: {}", said(&done));
    }
    let package = out.path().join("package");
    for args in [&["serve", "--listen", "127.0.0.1:0"][..], &["import", package.to_str().unwrap()]] {
        let refused = run(&data, args);
        let words = said(&refused);
        assert!(!refused.status.success() && words.contains("can be written"), "{args:?}: {words}");
    }
}

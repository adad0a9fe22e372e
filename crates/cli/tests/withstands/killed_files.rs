//! What makes files and folders, killed at any moment: they are there whole or not at all, and the next try makes them.

use crate::server::{Server, killed, number, run, said};
use std::{
    collections::BTreeMap,
    fs,
    path::{Path, PathBuf},
    time::{Duration, Instant},
};

const DEMO: [&str; 3] = ["demo", "--companies", "40"];

fn demo(data: &Path) {
    Server::start(data, &DEMO).stop();
}

/// The bytes of a file, or of all files in a folder.
fn contents(path: &Path) -> BTreeMap<PathBuf, Vec<u8>> {
    if path.is_file() {
        return BTreeMap::from([(PathBuf::new(), fs::read(path).unwrap())]);
    }
    fs::read_dir(path)
        .unwrap()
        .map(|f| f.unwrap().path())
        .map(|f| (f.strip_prefix(path).unwrap().to_owned(), fs::read(f).unwrap()))
        .collect()
}

/// How long a verb takes.
fn time(data: &Path, args: &[&str]) -> Duration {
    let begun = Instant::now();
    let done = run(data, args);
    assert!(done.status.success(), "{args:?}: {}", said(&done));
    begun.elapsed()
}

#[test]
fn a_killed_export_is_whole_or_not_there() {
    let (data, out) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    demo(data.path());
    let kills = number("KILLS", 8);
    for (name, more) in [("folder", &[][..]), ("whole.zip", &[]), ("prices.csv", &["--table", "prices"])] {
        let path = out.path().join(name);
        let args = [&["export", path.to_str().unwrap()], more].concat();
        let whole = time(data.path(), &args);
        let wanted = contents(&path);
        let remove = || if path.is_dir() { fs::remove_dir_all(&path).unwrap() } else { fs::remove_file(&path).unwrap() };
        remove();
        let mut in_time = 0;
        for n in 0..kills {
            killed(data.path(), &args, whole.mul_f64(1.1 * n as f64 / kills as f64));
            if !path.exists() {
                in_time += 1;
                time(data.path(), &args);
            }
            assert!(contents(&path) == wanted, "{name}, kill {n}");
            remove();
        }
        assert!(in_time > 0, "no kill came in time");
    }
    assert_eq!(fs::read_dir(out.path()).unwrap().count(), 0, "nothing is left behind");
}

/// A backup that is there can be put back; what was there before is kept.
#[test]
fn a_killed_backup_or_restore_leaves_everything_usable() {
    let (data, out) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    demo(data.path());
    let path = out.path().join("backup");
    let (backup, restore) = (["backup", path.to_str().unwrap()], ["restore", path.to_str().unwrap()]);
    let whole = time(data.path(), &backup);
    let of = |args: &[&str]| String::from_utf8_lossy(&run(data.path(), args).stdout).into_owned();
    let asked = ["evaluate", "--formula", "price", "pe", "--format", "csv"];
    let figures = of(&asked);
    assert!(figures.lines().count() > 30, "{figures}");
    let kills = number("KILLS", 8);
    for n in 0..kills {
        fs::remove_dir_all(&path).ok();
        killed(data.path(), &backup, whole.mul_f64(1.1 * n as f64 / kills as f64));
        if !path.exists() {
            time(data.path(), &backup);
        }
        killed(data.path(), &restore, whole.mul_f64(1.5 * n as f64 / kills as f64));
        assert!(run(data.path(), &["check"]).status.success(), "kill {n}");
        assert_eq!(of(&asked), figures, "kill {n}");
        time(data.path(), &restore);
    }
    assert_eq!(fs::read_dir(out.path()).unwrap().count(), 1, "nothing is left behind");
}

/// Killed while the world is made: the next start makes it whole.
#[test]
fn a_killed_demo_starts_again() {
    let kills = number("KILLS", 8);
    let whole = tempfile::tempdir().unwrap();
    let begun = Instant::now();
    demo(whole.path());
    let whole = begun.elapsed();
    let data = tempfile::tempdir().unwrap();
    for n in 0..kills {
        if n % 8 == 0 {
            fs::remove_dir_all(data.path()).unwrap();
        }
        let again = if n % 3 == 2 { &["--reset"][..] } else { &[] };
        killed(data.path(), &[&DEMO, again, &["--listen", "127.0.0.1:0"]].concat(), whole.mul_f64((n % 97) as f64 / 97.0));
        if n % 8 == 7 {
            let mut server = Server::start(data.path(), &DEMO);
            assert_eq!(server.get("/api/about")["companies"], 40, "kill {n}");
            assert_eq!(server.get("/api/about")["damaged"], 0, "kill {n}");
            server.stop();
        }
    }
}

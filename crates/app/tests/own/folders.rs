//! Data folders: what is a person's own outlives every dataset, and nothing that is interrupted leaves a folder unusable.

use crate::{golden, now, open};
use artemon_app::{
    Assumptions, Cancel, Cancelled, ExportRequest, ImportRequest, OwnMeasure, RankRequest, Source, about, assumption_sets, export_into,
    import_here, make_demo, own_measures, rank, save_assumptions, save_own_measure,
};
use std::{
    fs,
    io::{self, Write},
    ops::ControlFlow,
    path::Path,
    sync::mpsc,
    time::{Duration, Instant},
};

fn keep_something(folder: &Path) {
    let home = open(folder);
    save_assumptions(&now(&home), &Assumptions { name: "Careful".to_owned(), margin: 0.5, ..Assumptions::standard() }, None).unwrap();
    let mine =
        OwnMeasure { id: "mine".to_owned(), label: "Mine".to_owned(), note: String::new(), unit: None, formula: "eps / price".to_owned() };
    save_own_measure(&now(&home), &mine).unwrap();
}

fn kept(folder: &Path) -> (Vec<String>, Vec<String>, usize) {
    let home = open(folder);
    let sets = assumption_sets(&now(&home)).unwrap().into_iter().map(|s| s.assumptions.name).collect();
    let measures = own_measures(&now(&home)).into_iter().map(|m| m.id).collect();
    (sets, measures, about(&now(&home)).companies)
}

/// Another size is refused, with `--reset` the world is made anew; either way what is one's own stays.
#[test]
fn another_demo_world_leaves_what_is_ones_own() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(20), false).unwrap();
    keep_something(folder.path());
    let own = |companies| (vec!["Standard".to_owned(), "Careful".to_owned()], vec!["mine".to_owned()], companies);
    make_demo(folder.path(), Some(20), false).unwrap();
    make_demo(folder.path(), None, false).unwrap();
    let said = make_demo(folder.path(), Some(21), false).unwrap_err().to_string();
    assert!(said.contains("20 companies") && said.contains("--reset"), "{said}");
    assert_eq!(kept(folder.path()), own(20));
    make_demo(folder.path(), Some(21), true).unwrap();
    assert_eq!(kept(folder.path()), own(21));
}

/// What a killed start leaves beside, or an older version left in place, is no dataset: the next start makes the world.
#[test]
fn an_interrupted_demo_is_made_again() {
    let folder = tempfile::tempdir().unwrap();
    fs::create_dir(folder.path().join("making")).unwrap();
    fs::write(folder.path().join("making/dataset.sqlite"), "half of a wor").unwrap();
    make_demo(folder.path(), Some(20), false).unwrap();
    assert!(!folder.path().join("making").exists());
    assert_eq!(kept(folder.path()).2, 20);

    let emptied = tempfile::tempdir().unwrap();
    drop(open(emptied.path()));
    make_demo(emptied.path(), Some(20), false).unwrap();
    assert_eq!(kept(emptied.path()).2, 20);
}

/// A client that takes so much and is then gone, as a closed connection is.
struct Gone {
    left: usize,
}

impl Write for Gone {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.left = self.left.checked_sub(bytes.len()).ok_or(io::ErrorKind::BrokenPipe)?;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

/// A client that waits for a word before it takes anything more.
struct Stalled(mpsc::Receiver<()>, mpsc::Sender<()>);

impl Write for Stalled {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.1.send(()).ok();
        self.0.recv().ok();
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

#[test]
fn an_export_ends_with_its_client() {
    let (_folder, home) = golden();
    let started = Instant::now();
    let everything = || export_into(&now(&home), &ExportRequest::default(), io::sink()).unwrap();
    let rows = everything().rows;
    let whole = started.elapsed();
    assert!(rows > 10_000);
    let started = Instant::now();
    assert!(export_into(&now(&home), &ExportRequest::default(), Gone { left: 100 }).is_err());
    assert!(started.elapsed() < whole / 2, "{:?} of {whole:?}", started.elapsed());
}

/// Four stalled downloads hold up nobody: others read, save and are told to wait for a fifth; then they all end.
#[test]
fn stalled_exports_hold_nobody_up() {
    let (_folder, home) = golden();
    std::thread::scope(|s| {
        let mut words = Vec::new();
        for _ in 0..4 {
            let ((word, wait), (stalled, is_stalled)) = (mpsc::channel(), mpsc::channel());
            let home = &home;
            s.spawn(move || export_into(&now(home), &ExportRequest::default(), Stalled(wait, stalled)).map(drop).unwrap());
            is_stalled.recv().unwrap();
            words.push(word);
        }
        let started = Instant::now();
        save_assumptions(&now(&home), &Assumptions { name: "Careful".to_owned(), ..Assumptions::standard() }, None).unwrap();
        assert_eq!(assumption_sets(&now(&home)).unwrap().len(), 2);
        let fifth = export_into(&now(&home), &ExportRequest::default(), io::sink()).unwrap_err();
        assert_eq!((fifth.kind(), fifth.is_ours()), ("busy", false));
        assert!(started.elapsed() < Duration::from_secs(2), "{:?}", started.elapsed());
        drop(words);
    });
    assert!(export_into(&now(&home), &ExportRequest::default(), io::sink()).is_ok());
}

/// While rows come in, what is one's own is saved at once.
#[test]
fn one_saves_while_a_package_comes_in() {
    let (_folder, home) = golden();
    let (running, is_running) = mpsc::channel();
    std::thread::scope(|s| {
        let importing = home.clone();
        let source = vec![Source::Package(crate::package())];
        s.spawn(move || {
            let request = ImportRequest { title: "again".to_owned(), sources: source, ..ImportRequest::default() };
            let report = import_here(&now(&importing), &request, &|_| {
                running.send(()).ok();
                std::thread::sleep(Duration::from_millis(30));
                ControlFlow::Continue(())
            });
            report.unwrap();
        });
        is_running.recv().unwrap();
        let started = Instant::now();
        save_assumptions(&now(&home), &Assumptions { name: "Careful".to_owned(), ..Assumptions::standard() }, None).unwrap();
        assert!(started.elapsed() < Duration::from_secs(1), "{:?}", started.elapsed());
    });
    assert_eq!(assumption_sets(&now(&home)).unwrap().len(), 2);
}

/// Whoever stops waiting stops what is computed for them, and others get their answer all the same.
#[test]
fn what_nobody_awaits_is_given_up() {
    let (_folder, home) = golden();
    let cancel = Cancel::default();
    cancel.cancel();
    let gone = home.ctx(&home.local(), cancel).unwrap();
    assert_eq!(Cancelled::caught(|| rank(&gone, &RankRequest::default()).is_ok()), Err(Cancelled));
    assert!(rank(&now(&home), &RankRequest::default()).is_ok());
}

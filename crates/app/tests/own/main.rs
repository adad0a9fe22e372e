//! What is a person's own: kept, used for every figure that depends on it and for no other, never lost without a word.
#![allow(clippy::unwrap_used)]

mod account_statements;
mod assumptions;
mod backtests;
mod caches;
mod decisions;
mod documents;
mod evidence;
mod folders;
mod following;
mod judgement;
mod ledger;
mod lists;
mod mail_server;
mod measures;
mod pages;
mod peers;
mod repairs;
mod safety;
mod statements;
mod tables;
mod workbook;

use artemon_app::{Ctx, Home, ImportRequest, Options, Source};
use std::{
    fs,
    ops::ControlFlow,
    path::{Path, PathBuf},
    sync::{Arc, OnceLock},
};
use tempfile::TempDir;

fn now(home: &Arc<Home>) -> Ctx {
    home.local_ctx().unwrap()
}

fn options(folder: &Path) -> Options {
    Options { folder: folder.to_owned(), ..Options::default() }
}

fn open(folder: &Path) -> Arc<Home> {
    Home::open(options(folder)).unwrap()
}

fn package() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package")
}

/// A folder of its own with the golden dataset, which is imported once.
fn golden_folder() -> TempDir {
    static IMPORTED: OnceLock<TempDir> = OnceLock::new();
    let imported = IMPORTED.get_or_init(|| {
        let folder = tempfile::tempdir().unwrap();
        let request = ImportRequest { title: String::new(), sources: vec![Source::Package(package())], ..ImportRequest::default() };
        artemon_app::import(folder.path(), &request, &|_| ControlFlow::Continue(())).unwrap();
        folder
    });
    let folder = tempfile::tempdir().unwrap();
    for file in fs::read_dir(imported.path()).unwrap().map(|e| e.unwrap().path()) {
        fs::copy(&file, folder.path().join(file.file_name().unwrap())).unwrap();
    }
    folder
}

fn golden() -> (TempDir, Arc<Home>) {
    let folder = golden_folder();
    let home = open(folder.path());
    (folder, home)
}

//! Back to a copy while the program runs: whatever was worked out from what is one's own follows.

use crate::{
    golden,
    ledger::{account, demo, page, sessions},
    now, open,
};
use artemon_app::{
    Assumptions, Home, Options, assumption_sets, copy_file, copy_now, copy_today, put_back, safety, save_assumptions, value,
};
use artemon_core::valuation::RequiredReturn;
use std::sync::Arc;

fn save(home: &Arc<Home>, name: &str, required: f64) {
    let set = Assumptions { name: name.to_owned(), required_return: RequiredReturn::Fixed(required), ..Assumptions::standard() };
    save_assumptions(&now(home), &set, None).unwrap();
}

/// Values go back with the assumptions that they were computed with, and forward again.
#[test]
fn values_follow_the_copy() {
    let (folder, home) = golden();
    let worth =
        |home: &Arc<Home>| serde_json::to_value(value(&now(home), "DRUA", None).unwrap().intrinsic_value).unwrap()["value"].as_f64();
    save(&home, "Careful", 0.10);
    let careful = worth(&home);
    let copy = copy_now(&now(&home)).unwrap().name;
    save(&home, "Bold", 0.06);
    let bold = worth(&home);
    assert!(bold > careful, "{bold:?} {careful:?}");
    put_back(&now(&home), &copy).unwrap();
    assert_eq!((worth(&home), assumption_sets(&now(&home)).unwrap().len()), (careful, 2));
    let copies = safety(&now(&home)).unwrap().copies;
    let replaced = copies.iter().find(|c| c.reason == "replaced").expect("what was there is kept");
    put_back(&now(&home), &replaced.name).unwrap();
    assert_eq!(worth(&home), bold);
    drop(home);
    assert_eq!(worth(&open(folder.path())), bold, "and stays so");
}

/// A journal goes back too; the sessions that came since are worked again, once.
#[test]
fn the_ledger_follows_the_copy() {
    let (_folder, home) = demo();
    account(&home, "Main", "simulated", 1_000_000.0);
    let copy = copy_now(&now(&home)).unwrap().name;
    let before = serde_json::to_value(page(&home)).unwrap();
    account(&home, "Other", "simulated", 5.0);
    assert_eq!(page(&home).accounts.len(), 2);
    put_back(&now(&home), &copy).unwrap();
    assert_eq!(serde_json::to_value(page(&home)).unwrap(), before);
    account(&home, "Other", "by_hand", 7.0);
    sessions(&home, 2);
    assert_eq!(page(&home).accounts.len(), 2);
}

/// One a day, as many as are to be kept; none of what is not there.
#[test]
fn the_copy_of_the_day_is_made_once() {
    let (folder, home) = golden();
    for _ in 0..3 {
        copy_today(&home).unwrap();
    }
    let copies = safety(&now(&home)).unwrap().copies;
    assert_eq!(copies.iter().map(|c| c.reason.as_str()).collect::<Vec<_>>(), ["daily"]);
    assert!(copy_file(&now(&home), "../people.sqlite").is_err() && put_back(&now(&home), "no such copy").is_err());
    drop(home);
    let none = Home::open(Options { folder: folder.path().to_owned(), daily_copies: Some(0), ..Options::default() }).unwrap();
    std::fs::remove_dir_all(folder.path().join("copies")).unwrap();
    copy_today(&none).unwrap();
    assert!(safety(&now(&none)).unwrap().copies.is_empty());
}

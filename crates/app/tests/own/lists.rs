//! Lists: who is on them, what is said of each, and that nothing of it is lost.

use crate::{golden, now};
use artemon_app::{
    AddMembers, Ctx, DocumentFile, Home, ListFormat, ListRowsRequest, MemberOwn, MoveMembers, OwnSoundness, RankRequest, RestoreMembers,
    add_document, add_members, company_lists, delete_document, judge_soundness, list_file, list_rows, lists, match_pasted, move_members,
    order_members, rank, remove_members, restore_members, save_member, whole_screen,
};
use artemon_core::screening::{Screen, ScreenUniverse};
use serde_json::json;
use std::sync::Arc;

fn made(home: &Arc<Home>, name: &str, symbols: &[&str]) -> String {
    let file: DocumentFile = serde_json::from_value(json!({ "kind": "list", "name": name, "body": {} })).unwrap();
    let id = add_document(&now(home), file).unwrap().id;
    put(home, &id, symbols);
    id
}

fn put(home: &Arc<Home>, id: &str, symbols: &[&str]) -> artemon_app::Added {
    let request = AddMembers { symbols: symbols.iter().map(|s| (*s).to_owned()).collect(), from: "a screen".to_owned(), own: Vec::new() };
    add_members(&now(home), id, &request).unwrap()
}

fn on(home: &Arc<Home>, id: &str) -> Vec<String> {
    lists(&now(home)).into_iter().find(|l| l.id == id).unwrap().symbols
}

fn names(all: &[&str]) -> Vec<String> {
    all.iter().map(|s| (*s).to_owned()).collect()
}

#[test]
fn companies_come_onto_a_list_once_and_leave_it_until_they_are_put_back() {
    let (_folder, home) = golden();
    let id = made(&home, "Watch", &["DRUA", "TORD", "NEVN"]);
    let again = put(&home, &id, &["tord", "HALB"]);
    assert_eq!((again.added, again.already), (names(&["HALB"]), names(&["TORD"])));
    save_member(&now(&home), &id, "TORD", &MemberOwn { note: "no debt".to_owned(), price: Some(40.0) }).unwrap();
    let left = remove_members(&now(&home), &id, &names(&["TORD", "NEVN"])).unwrap();
    assert_eq!(on(&home, &id), names(&["DRUA", "HALB"]));
    // What is put back stands where it stood, with all that was said of it.
    restore_members(&now(&home), &id, &RestoreMembers { version: left.before, symbols: names(&["TORD"]) }).unwrap();
    assert_eq!(on(&home, &id), names(&["DRUA", "TORD", "HALB"]));
    let rows = list_rows(&now(&home), &id, &ListRowsRequest::default()).unwrap().rows;
    assert_eq!((rows[1].own.note.as_str(), rows[1].pay, rows[1].from.as_str()), ("no debt", Some(40.0), "a screen"));
    order_members(&now(&home), &id, &names(&["HALB", "TORD", "DRUA"])).unwrap();
    assert_eq!(on(&home, &id), names(&["HALB", "TORD", "DRUA"]));
    let unknown = AddMembers { symbols: names(&["DRUB"]), from: String::new(), own: Vec::new() };
    let refused = add_members(&now(&home), &id, &unknown).unwrap_err().to_string();
    assert!(refused.contains("DRUB") && refused.contains("DRUA"), "{refused}");
}

#[test]
fn companies_move_with_what_is_said_of_them() {
    let (_folder, home) = golden();
    let (watch, later) = (made(&home, "Watch", &["DRUA", "TORD"]), made(&home, "Later", &["TORD"]));
    save_member(&now(&home), &watch, "DRUA", &MemberOwn { note: "mine".to_owned(), price: None }).unwrap();
    let moving = |copy, symbols: &[&str]| MoveMembers { from: watch.clone(), to: later.clone(), symbols: names(symbols), copy };
    let moved = move_members(&now(&home), &moving(false, &["DRUA", "TORD"])).unwrap();
    assert_eq!((&moved.there.added, moved.there.already), (&names(&["DRUA"]), names(&["TORD"])));
    assert_eq!((on(&home, &watch), on(&home, &later)), (Vec::new(), names(&["TORD", "DRUA"])));
    let lists_of = company_lists(&now(&home), "DRUA", None).unwrap();
    let notes: Vec<Option<&str>> = lists_of.iter().map(|l| l.member.as_ref().map(|m| m.note.as_str())).collect();
    assert_eq!(notes, [Some("mine"), None], "Later before Watch, by name");
    // Taken back, both are on the first again, and who was on the second stays there.
    let back = RestoreMembers { version: moved.left.unwrap(), symbols: names(&["DRUA", "TORD"]) };
    restore_members(&now(&home), &watch, &back).unwrap();
    remove_members(&now(&home), &later, &moved.there.added).unwrap();
    assert_eq!((on(&home, &watch), on(&home, &later)), (names(&["DRUA", "TORD"]), names(&["TORD"])));
    let copied = move_members(&now(&home), &moving(true, &["DRUA", "TORD"])).unwrap();
    assert_eq!((copied.there.added, copied.left), (names(&["DRUA"]), None));
}

/// How the price went since a company was added is that of the share, over splits: HALB split 2:1 in January 2024.
#[test]
fn since_added_is_on_one_split_basis() {
    let (_folder, home) = golden();
    let id = made(&home, "Watch", &["HALB"]);
    let mut body = artemon_app::document(&now(&home), &id, None).unwrap().body;
    body["members"][0]["added_on"] = json!("2023-11-15");
    let file =
        DocumentFile { kind: artemon_app::DocumentKind::List, folder: String::new(), name: "Watch".to_owned(), note: String::new(), body };
    artemon_app::save_document(&now(&home), &id, 2, file).unwrap();
    let rows = list_rows(&now(&home), &id, &ListRowsRequest { as_of: Some("2024-02-20".parse().unwrap()), columns: None }).unwrap().rows;
    // 32.72 before the split in two is 16.36, and it cost 29.13 on the later day... of the dataset's own bars, read off the two days.
    let price = |t: &str| {
        let request =
            artemon_app::EvaluateRequest { formulas: vec!["price".to_owned()], symbols: names(&["HALB"]), as_of: Some(t.parse().unwrap()) };
        serde_json::to_value(artemon_app::evaluate(&now(&home), &request).unwrap()).unwrap()[0]["values"][0]["value"].as_f64().unwrap()
    };
    let since = price("2024-02-20") / (price("2023-11-15") / 2.0) - 1.0;
    assert!((rows[0].since.unwrap() - since).abs() < 1e-5, "{:?} {since}", rows[0].since);
    assert!(rows[0].universe_since.is_some_and(|u| u.abs() < 0.5));
}

#[test]
fn what_is_pasted_is_understood_or_named() {
    let (_folder, home) = golden();
    let found = |text: &str| match_pasted(&now(&home), text).unwrap();
    let matched = |text: &str| found(text).matched.into_iter().map(|m| m.company.symbol).collect::<Vec<_>>();
    assert_eq!(matched("drua, TORD;NEVN\nHALB  DRUX"), ["DRUA", "TORD", "NEVN", "HALB", "DRUX"]);
    let name = list_name(&home, "NEVN");
    assert_eq!(matched(&format!("{name}\nDRUA")), ["NEVN", "DRUA"], "a name of several words is one company");
    let mixed = found("DRUA\nNOSUCH\nDRUA\nTORDX");
    assert_eq!((mixed.matched.len(), mixed.repeated), (1, 1));
    assert_eq!(mixed.unknown.iter().map(|u| u.text.as_str()).collect::<Vec<_>>(), ["NOSUCH", "TORDX"]);
    let table = found("\u{feff}Ticker;Name;Note;Price to pay\nDRUA;whatever;\"good; cheap\";12,5\nNOSUCH;x;;\n");
    assert_eq!((table.matched[0].own.note.as_str(), table.matched[0].own.price), ("good; cheap", Some(12.5)));
    assert_eq!(table.unknown[0].text, "NOSUCH");
    assert!(match_pasted(&now(&home), &"x".repeat(1_000_001)).is_err());
}

fn list_name(home: &Arc<Home>, symbol: &str) -> String {
    artemon_app::search(&now(home), symbol, None).unwrap()[0].name.clone()
}

/// A list as a file, brought back through what is pasted, is the list.
#[test]
fn a_list_goes_out_and_comes_back() {
    let (_folder, home) = golden();
    let id = made(&home, "Watch", &["DRUA", "TORD"]);
    save_member(&now(&home), &id, "TORD", &MemberOwn { note: "=1+1, said\nin two lines".to_owned(), price: Some(40.5) }).unwrap();
    judge_soundness(&now(&home), "TORD", OwnSoundness { soundness: Some(1), reason: "I know them".to_owned() }).unwrap();
    let csv = String::from_utf8(list_file(&now(&home), &id, ListFormat::Csv).unwrap()).unwrap();
    assert!(csv.contains("'=1+1"), "no spreadsheet calculates a note: {csv}");
    let back = match_pasted(&now(&home), &csv).unwrap();
    assert_eq!(back.matched.iter().map(|m| m.company.symbol.as_str()).collect::<Vec<_>>(), ["DRUA", "TORD"]);
    assert_eq!(back.matched[1].own.price, Some(40.5));
    assert!(list_file(&now(&home), &id, ListFormat::Xlsx).unwrap().starts_with(b"PK"));
    let rows = list_rows(&now(&home), &id, &ListRowsRequest::default()).unwrap().rows;
    assert_eq!((rows[1].mine, rows[1].reason.as_str()), (Some(1), "I know them"));
}

fn passing(ctx: &Ctx, universe: ScreenUniverse) -> Result<Vec<String>, String> {
    let screen = Screen { universe, ..Screen::default() };
    let whole = whole_screen(ctx, &screen).map_err(|e| e.to_string())?;
    Ok(whole.rows.into_iter().map(|r| r.symbol).collect())
}

/// A screen and a ranking look among a list as it is now; one that is gone is named.
#[test]
fn a_list_is_a_universe() {
    let (_folder, home) = golden();
    let id = made(&home, "Watch", &["DRUA", "TORD"]);
    let among = || ScreenUniverse { list: Some("Watch".to_owned()), ..ScreenUniverse::default() };
    assert_eq!(passing(&now(&home), among()).unwrap(), ["DRUA", "TORD"]);
    put(&home, &id, &["NEVN"]);
    assert_eq!(passing(&now(&home), among()).unwrap(), ["DRUA", "NEVN", "TORD"]);
    let ranked = rank(&now(&home), &RankRequest { universe: among(), ..RankRequest::default() }).unwrap();
    assert_eq!(ranked.ranked, 3);
    delete_document(&now(&home), &id).unwrap();
    assert_eq!(passing(&now(&home), among()).unwrap_err(), "There is no list \"Watch\". Choose one of your lists, or leave the list out.");
}

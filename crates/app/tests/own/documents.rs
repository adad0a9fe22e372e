//! Documents: one mechanism for screens, columns, sets and measures.

use crate::{golden, now, open};
use artemon_app::{
    AppError, Assumptions, Ctx, DocumentFile, DocumentKind, add_document, delete_document, document, document_file, documents,
    restore_document, save_assumptions, save_document, used_formulas,
};
use serde_json::{Value, json};

fn screen(name: &str, least: f64) -> DocumentFile {
    let body = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "quality", "min": least }] }] });
    DocumentFile { kind: DocumentKind::Screen, folder: " Slow / steady ".to_owned(), name: name.to_owned(), note: String::new(), body }
}

fn names(ctx: &Ctx, deleted: bool) -> Vec<String> {
    let all = documents(ctx, DocumentKind::Screen, deleted).unwrap();
    all.into_iter().filter(|d| d.deleted_at.is_some() == deleted).map(|d| format!("{} in {}", d.name, d.folder)).collect()
}

/// Saved, saved again, looked at as it was, deleted, restored, and there after a start; as a file it goes out and comes in.
#[test]
fn every_version_of_a_screen_is_kept() {
    let (folder, home) = golden();
    let first = add_document(&now(&home), screen("Steady", 60.0)).unwrap();
    assert_eq!((first.version, first.folder.as_str()), (1, "Slow/steady"));
    let second =
        save_document(&now(&home), &first.id, 1, DocumentFile { note: "stricter".to_owned(), ..screen("Steadier", 70.0) }).unwrap();
    assert_eq!((second.version, second.name.as_str()), (2, "Steadier"));
    drop(home);

    let home = open(folder.path());
    let least = |version| document(&now(&home), &first.id, version).unwrap().body["blocks"][0]["criteria"][0]["min"].as_f64();
    assert_eq!((least(None), least(Some(1)), least(Some(2))), (Some(70.0), Some(60.0), Some(70.0)));
    let versions = document(&now(&home), &first.id, None).unwrap().versions;
    assert_eq!(versions.iter().map(|v| (v.version, v.note.as_str())).collect::<Vec<_>>(), [(1, ""), (2, "stricter")]);
    assert!(document(&now(&home), &first.id, Some(3)).is_err());

    delete_document(&now(&home), &first.id).unwrap();
    assert_eq!((names(&now(&home), false), names(&now(&home), true)), (vec![], vec!["Steadier in Slow/steady".to_owned()]));
    restore_document(&now(&home), &first.id).unwrap();
    assert_eq!(names(&now(&home), false), ["Steadier in Slow/steady"]);
    assert_eq!(least(Some(1)), Some(60.0), "its versions came back with it");

    let file: Value = serde_json::to_value(document_file(&now(&home), &first.id, None).unwrap()).unwrap();
    let again: DocumentFile = serde_json::from_value(file).unwrap();
    let copy = add_document(&now(&home), DocumentFile { name: "A copy".to_owned(), ..again }).unwrap();
    assert_eq!(document(&now(&home), &copy.id, None).unwrap().body, document(&now(&home), &first.id, None).unwrap().body);
}

/// Of two who change one version the second is told, and nothing of the first is lost.
#[test]
fn the_second_of_two_changers_is_told() {
    let (_folder, home) = golden();
    let kept = add_document(&now(&home), screen("Steady", 60.0)).unwrap();
    save_document(&now(&home), &kept.id, 1, screen("Steady", 65.0)).unwrap();
    let late = save_document(&now(&home), &kept.id, 1, screen("Steady", 10.0)).unwrap_err();
    assert!(matches!(&late, AppError::ChangedSince { version: 2, .. }), "{late}");
    let now_kept = document(&now(&home), &kept.id, None).unwrap();
    assert_eq!((now_kept.entry.version, &now_kept.body["blocks"][0]["criteria"][0]["min"]), (2, &json!(65.0)));

    let set = Assumptions { name: "Mine".to_owned(), ..Assumptions::standard() };
    save_assumptions(&now(&home), &set, None).unwrap();
    save_assumptions(&now(&home), &set, Some(1)).unwrap();
    assert!(matches!(save_assumptions(&now(&home), &set, Some(1)), Err(AppError::ChangedSince { version: 2, .. })));
}

/// Forty savers at once make forty versions, none twice.
#[test]
fn savers_at_once_follow_one_another() {
    let (_folder, home) = golden();
    let kept = add_document(&now(&home), screen("Steady", 1.0)).unwrap();
    std::thread::scope(|s| {
        for n in 0..40 {
            let (home, kept) = (&home, &kept);
            s.spawn(move || {
                loop {
                    let made_to = document(&now(home), &kept.id, None).unwrap().entry.version;
                    match save_document(&now(home), &kept.id, made_to, screen("Steady", f64::from(n))) {
                        Err(AppError::ChangedSince { .. }) => {}
                        other => break assert!(other.is_ok(), "{other:?}"),
                    }
                }
            });
        }
    });
    let versions = document(&now(&home), &kept.id, None).unwrap().versions;
    assert_eq!(versions.iter().map(|v| v.version).collect::<Vec<_>>(), (1..=41).collect::<Vec<_>>());
}

/// What is no document of its kind is refused in words, and so is a name that is taken, until its owner is deleted.
#[test]
fn what_is_not_sound_is_refused() {
    let (_folder, home) = golden();
    let kept = add_document(&now(&home), screen("Steady", 60.0)).unwrap();
    let columns = |body| DocumentFile { kind: DocumentKind::ColumnSet, body, ..screen("Columns", 0.0) };
    let refused = [
        DocumentFile { name: "  ".to_owned(), ..screen("", 1.0) },
        DocumentFile { name: "two\nlines".to_owned(), ..screen("", 1.0) },
        DocumentFile { folder: "x".repeat(81), ..screen("Long", 1.0) },
        DocumentFile { note: "x".repeat(4_001), ..screen("Wordy", 1.0) },
        DocumentFile { body: json!({ "blocks": 3 }), ..screen("No screen", 1.0) },
        columns(json!(["price", "net_magin"])),
        columns(json!("price")),
        screen(" Steady ", 61.0),
    ];
    let said: Vec<String> = refused.into_iter().map(|d| add_document(&now(&home), d).unwrap_err().to_string()).collect();
    insta::assert_snapshot!(said.join("\n"));
    assert_eq!(names(&now(&home), false).len(), 1);
    delete_document(&now(&home), &kept.id).unwrap();
    add_document(&now(&home), screen("Steady", 61.0)).unwrap();
    let said = restore_document(&now(&home), &kept.id).unwrap_err().to_string();
    assert!(said.contains("another screen has it"), "{said}");
    assert!(matches!(delete_document(&now(&home), "nothing"), Err(AppError::Missing { .. })));
}

/// What one's own screens ask comes first, each screen counted once however often it asks; deleted ones and those of nobody do not
/// count; what only ready-made ones ask follows, most asked first.
#[test]
fn what_is_used_most_comes_first() {
    let (_folder, home) = golden();
    let asking = |name: &str, formulas: &[&str]| {
        let criteria: Vec<Value> = formulas.iter().map(|f| json!({ "formula": f })).collect();
        DocumentFile { body: json!({ "blocks": [{ "need": "all", "criteria": criteria }] }), ..screen(name, 0.0) }
    };
    let add = |file| add_document(&now(&home), file).unwrap();
    add(asking("One", &["beta", "eps_growth(7)", "beta"]));
    add(asking("Two", &[" eps_growth(7) ", "no_such_measure"]));
    let gone = add(asking("Three", &["drawdown", "beta"]));
    delete_document(&now(&home), &gone.id).unwrap();
    let used = used_formulas(&now(&home)).unwrap();
    let said: Vec<(&str, usize)> = used.iter().map(|u| (u.formula.as_str(), u.screens)).collect();
    assert_eq!(said[..3], [("eps_growth(7)", 2), ("beta", 1), ("no_such_measure", 1)]);
    assert_eq!((used[0].label.as_str(), used[1].label.as_str()), ("EPS growth, 7 years", "Beta"));
    assert!(used.len() == 12 && said[3..].iter().all(|(formula, own)| *own == 0 && *formula != "drawdown"), "{said:?}");
}

//! Copies of what belongs to persons, and the notice of damage to it.
#![allow(clippy::unwrap_used)]

use artemon_store::{
    Kept, NewDocument, People, Saved, StoreError, copy, copy_people, examine, newest_sound_copy, people_copies, people_copy, put_back,
};
use diesel::{connection::SimpleConnection, prelude::*, sqlite::SqliteConnection};
use std::{fs, path::Path};

fn document<'d>(name: &'d str, body: &'d str) -> NewDocument<'d> {
    NewDocument { kind: "screen", folder: "", name, note: "", body }
}

fn add(people: &People, name: &str, body: &str) -> String {
    match people.add_document(&people.local(), document(name, body)).unwrap() {
        Saved::As(head) => head.id,
        other => panic!("{other:?}"),
    }
}

fn names(people: &People) -> Vec<String> {
    people.documents(&people.local(), "screen", false).unwrap().into_iter().map(|d| d.name).collect()
}

fn change(folder: &Path, sql: &str) {
    let mut c = SqliteConnection::establish(&folder.join("people.sqlite").to_string_lossy()).unwrap();
    c.batch_execute(&format!("PRAGMA foreign_keys = OFF; {sql}")).unwrap();
}

/// Whatever the program itself does, the sums follow: saved, saved again within a while, replaced, deleted with what hangs on it.
#[test]
fn what_the_program_writes_is_never_taken_for_damage() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let person = people.local();
    let id = add(&people, "One", "{}");
    for n in 1..5 {
        let body = format!("{{\"n\": {n}}}");
        people.save_apart(&person, &id, n, document("One", &body), std::time::Duration::from_secs(600)).unwrap();
    }
    people.remember_mapping(&person, "a;b", "{}").unwrap();
    people.remember_mapping(&person, "a;b", "{\"again\": true}").unwrap();
    people.delete_document(&person, &id, true).unwrap();
    people.delete_document(&person, &id, false).unwrap();
    drop(people);
    assert_eq!(People::open(folder.path()).unwrap().damaged(), Vec::<String>::new());
    assert_eq!(examine(&folder.path().join("people.sqlite"), Kept::People).unwrap(), Vec::<String>::new());
}

/// One value changed behind the program's back is named by its table, and stays named although others of it are saved.
#[test]
fn damage_to_ones_own_is_named() {
    for (table, sql) in [
        ("document_versions", "UPDATE document_versions SET body = replace(body, '0.25', '0.52')"),
        ("document_versions", "DELETE FROM document_versions"),
        ("documents", "UPDATE documents SET name = 'Other'"),
        ("persons", "UPDATE persons SET revision = revision + 1"),
        ("mappings", "INSERT INTO mappings SELECT person_id, signature || 'x', mapping FROM mappings"),
    ] {
        let folder = tempfile::tempdir().unwrap();
        let people = People::open(folder.path()).unwrap();
        add(&people, "Careful", "{\"margin\": 0.25}");
        people.remember_mapping(&people.local(), "a", "{}").unwrap();
        drop(people);
        change(folder.path(), sql);
        let people = People::open(folder.path()).unwrap();
        assert!(people.damaged().iter().any(|t| t == table), "{sql}: {:?}", people.damaged());
        add(&people, "Another", "{}");
        drop(people);
        assert!(People::open(folder.path()).unwrap().damaged().iter().any(|t| t == table), "{sql}: not forgotten");
        let said = examine(&folder.path().join("people.sqlite"), Kept::People).unwrap().join(" ");
        assert!(said.contains(table), "{said}");
        // What is damaged is not copied as if it were sound.
        assert!(matches!(copy_people(folder.path(), "daily", 3), Err(StoreError::Damaged { .. })));
        assert_eq!(people_copies(folder.path()), []);
    }
}

/// A copy is of one moment, made beside a writer; the oldest of its reason makes room for it.
#[test]
fn copies_are_whole_and_few() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let writing = std::thread::spawn({
        let people = people.clone();
        move || (0..200).for_each(|n| drop(add(&people, &format!("Screen {n}"), "{}")))
    });
    for _ in 0..5 {
        copy_people(folder.path(), "daily", 3).unwrap();
    }
    copy_people(folder.path(), "by hand", 3).unwrap();
    writing.join().unwrap();
    let all = people_copies(folder.path());
    assert_eq!(all.iter().map(|c| c.reason.as_str()).collect::<Vec<_>>(), ["by hand", "daily", "daily", "daily"]);
    assert!(all.iter().all(|c| c.size > 0 && c.made_at.ends_with('Z')));
    for one in &all {
        let path = people_copy(folder.path(), &one.name).unwrap();
        assert_eq!(examine(&path, Kept::People).unwrap(), Vec::<String>::new());
        use std::os::unix::fs::PermissionsExt;
        assert_eq!(fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o600, "nobody else reads it");
    }
    assert_eq!(people_copy(folder.path(), "../people.sqlite"), None);
    assert_eq!(fs::read_dir(folder.path().join("copies")).unwrap().count(), 4, "nothing half made is left");
}

/// Back to a copy while the file is in use, and while it is not; what was there is kept.
#[test]
fn a_copy_is_put_back() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    add(&people, "Before", "{}");
    let kept = copy_people(folder.path(), "by hand", 3).unwrap();
    let path = people_copy(folder.path(), &kept.name).unwrap();
    add(&people, "After", "{}");
    let revision = people.revision(&people.local()).unwrap();

    people.take_back(folder.path(), &path).unwrap();
    assert_eq!(names(&people), ["Before"]);
    assert!(people.revision(&people.local()).unwrap() > revision, "whoever computed with what was there reads anew");
    add(&people, "Later", "{}");
    drop(people);
    let people = People::open(folder.path()).unwrap();
    assert_eq!((names(&people).len(), people.damaged().len()), (2, 0));
    drop(people);

    let before = put_back(folder.path(), Kept::People, &path).unwrap().unwrap();
    assert_eq!(names(&People::open(folder.path()).unwrap()), ["Before"]);
    put_back(folder.path(), Kept::People, &before).unwrap();
    assert_eq!(names(&People::open(folder.path()).unwrap()), ["Before", "Later"]);
}

/// What cannot be put back changes nothing: a copy cut off, one of something else, one of the other file.
#[test]
fn what_is_not_sound_is_not_put_back() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    (0..50).for_each(|n| drop(add(&people, &format!("Screen {n}"), &"x".repeat(4_000))));
    let sound = copy_people(folder.path(), "daily", 3).unwrap();
    let bytes = fs::read(people_copy(folder.path(), &sound.name).unwrap()).unwrap();
    let bad = folder.path().join("bad.sqlite");
    let other = tempfile::tempdir().unwrap();
    fs::write(other.path().join("people.sqlite"), &bytes).unwrap();
    change(other.path(), "UPDATE document_versions SET body = replace(body, 'xxxx', 'xxyx') WHERE rowid = 7");
    let changed = fs::read(other.path().join("people.sqlite")).unwrap();
    for damaged in [bytes[..bytes.len() / 2].to_vec(), changed.clone(), b"My notes of many years, and more".to_vec(), Vec::new()] {
        fs::write(&bad, damaged).unwrap();
        assert!(people.take_back(folder.path(), &bad).is_err());
        assert!(put_back(folder.path(), Kept::People, &bad).is_err());
        assert!(put_back(folder.path(), Kept::Dataset, &people_copy(folder.path(), &sound.name).unwrap()).is_err(), "of the other sort");
    }
    assert_eq!(names(&people).len(), 50);
    assert!(matches!(copy(folder.path(), Kept::People, &bad), Err(StoreError::Exists { .. })));
    // The newest that is sound is found among others.
    fs::write(folder.path().join("copies/20990101T000000.000 daily.sqlite"), &changed).unwrap();
    assert_eq!(newest_sound_copy(folder.path()).unwrap().name, sound.name);
}

//! What belongs to persons: apart from the dataset, moved there from older folders whole, one person's never another's.
#![allow(clippy::unwrap_used)]

use artemon_core::domain::{Record, Table};
use artemon_demo::World;
use artemon_store::{
    Dataset, EndedBacktest, FolderLock, Joined, Joining, Kept, KeptInvitation, KeptSession, KeptToken, NewDocument, NewEntry, People,
    PersonId, Saved, Selection, StoreError, copy_people, examine, has_dataset, swap_dataset,
};
use diesel::{
    connection::SimpleConnection,
    prelude::*,
    sql_types::Integer,
    sqlite::{Sqlite, SqliteConnection},
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::{fs, ops::ControlFlow, path::Path};

const DATASET: EmbeddedMigrations = embed_migrations!("migrations/dataset");

fn connection(file: &Path) -> SqliteConnection {
    SqliteConnection::establish(&file.to_string_lossy()).unwrap()
}

fn count(folder: &Path, file: &str, what: &str) -> i32 {
    #[derive(QueryableByName)]
    struct Count {
        #[diesel(sql_type = Integer)]
        n: i32,
    }
    let query = format!("SELECT count(*) AS n FROM {what}");
    diesel::sql_query(query).get_result::<Count>(&mut connection(&folder.join(file))).unwrap().n
}

/// A folder as older versions left it, with its migrations up to and without the one named: everything in one file.
fn older(folder: &Path, without: &str, rows: &str) {
    use diesel::migration::{Migration, MigrationSource};
    let mut c = connection(&folder.join("artemon.sqlite"));
    c.batch_execute("PRAGMA journal_mode = WAL;").unwrap();
    assert!(c.has_pending_migration(DATASET).unwrap());
    let mut all: Vec<Box<dyn Migration<Sqlite>>> = DATASET.migrations().unwrap();
    all.sort_by_key(|m| m.name().to_string());
    all.iter().take_while(|m| !m.name().to_string().contains(without)).for_each(|m| drop(c.run_migration(&**m).unwrap()));
    c.batch_execute(rows).unwrap();
}

const COMPANY: &str = "
    INSERT INTO companies (id, name, country, sector, industry, currency, fiscal_year_end_month, kind, description, lei)
      VALUES ('C1', 'Arden Mills', 'XA', 'Industry', 'Mills', 'XFA', 12, 'operating', '', '');
    INSERT INTO listings (symbol, company_id, mic, isin, currency, shares_per_unit, is_primary)
      VALUES ('ARDN', 'C1', 'XA1', 'XA1111111111', 'XFA', 1, 1);
    INSERT INTO settings (key, value) VALUES ('name', 'Mine'), ('assumptions', 'Careful');
    INSERT INTO mappings (signature, mapping) VALUES ('date|close', '{\"table\": \"prices\"}');";

const OWN: &str = "
    INSERT INTO own_measures (id, label, note, unit, formula) VALUES ('profit_yield', 'Yield', 'mine', 'percent', 'eps / price');
    INSERT INTO assumption_sets (name, version, body, saved_at) VALUES
      ('Careful', 1, '{\"a\": 1}', '2026-01-01T00:00:00Z'), ('Careful', 2, '{\"a\": 2}', '2026-02-01T00:00:00Z'),
      ('Bold', 1, '{\"b\": 1}', '2026-03-01T00:00:00Z');
    INSERT INTO overrides (company_id, body, saved_at) VALUES ('C1', '{\"r\": 9}', '2026-04-01T00:00:00Z'), ('C9', '{}', '2026-04-02T00:00:00Z');";

/// Everything that was one's own is there after the move, under its names, versions and times; the dataset stays where it is.
#[test]
fn an_older_folder_is_parted_without_loss() {
    let folder = tempfile::tempdir().unwrap();
    older(folder.path(), "people_apart", &format!("{COMPANY}{OWN}"));
    assert!(has_dataset(folder.path()));
    let (dataset, people) = (Dataset::open(folder.path()).unwrap(), People::open(folder.path()).unwrap());
    assert!(!folder.path().join("artemon.sqlite").exists() && !folder.path().join("moving").exists());
    let me = people.local();
    let sets = people.whole_documents(&me, "assumption_set").unwrap();
    assert_eq!(sets.iter().map(|s| (s.head.name.as_str(), s.head.version)).collect::<Vec<_>>(), [("Bold", 1), ("Careful", 2)]);
    let careful = &sets[1];
    assert_eq!((careful.body.as_str(), careful.head.saved_at.as_str()), ("{\"a\": 2}", "2026-02-01T00:00:00Z"));
    assert_eq!(people.document(&me, &careful.head.id, Some(1)).unwrap().unwrap().body, "{\"a\": 1}");
    let measures = people.whole_documents(&me, "measure").unwrap();
    let body: serde_json::Value = serde_json::from_str(&measures[0].body).unwrap();
    assert_eq!(
        body,
        serde_json::json!({"id": "profit_yield", "label": "Yield", "note": "mine", "unit": "percent", "formula": "eps / price"})
    );
    let overrides: Vec<_> = people.overrides(&me).unwrap().into_iter().map(|o| (o.company_id, o.symbol, o.isin, o.name, o.body)).collect();
    let text = |all: [&str; 5]| <[String; 5]>::into(all.map(str::to_owned));
    assert_eq!(overrides, [text(["C1", "ARDN", "XA1111111111", "Arden Mills", "{\"r\": 9}"]), text(["C9", "", "", "", "{}"])]);
    assert_eq!(people.preference(&me, "assumptions").unwrap().as_deref(), Some("Careful"));
    assert_eq!(people.mapping(&me, "date|close").unwrap().as_deref(), Some("{\"table\": \"prices\"}"));
    assert_eq!(dataset.setting("name").unwrap().as_deref(), Some("Mine"));
    assert_eq!(dataset.find_companies(&["ARDN".to_owned()]).unwrap(), [Some("C1".to_owned())]);
    assert_eq!(dataset.setting("assumptions").unwrap(), None, "it belongs to the person now");
}

/// The oldest layout had no sets, and the one after it no forgotten ones.
#[test]
fn the_oldest_folders_are_parted_too() {
    for (without, rows) in [("own_measures", COMPANY.to_owned()), ("forgotten", format!("{COMPANY}{OWN}"))] {
        let folder = tempfile::tempdir().unwrap();
        older(folder.path(), without, &rows);
        let people = People::open(folder.path()).unwrap();
        Dataset::open(folder.path()).unwrap();
        let sets = people.whole_documents(&people.local(), "assumption_set").unwrap().len();
        assert_eq!(sets, if rows.contains("Bold") { 2 } else { 0 });
        assert_eq!(people.preference(&people.local(), "assumptions").unwrap().as_deref(), Some("Careful"));
    }
}

/// Killed half way, with what was copied lying beside or in place already, the move is done again or gone on with.
#[test]
fn a_move_that_was_interrupted_is_finished() {
    let half = tempfile::tempdir().unwrap();
    older(half.path(), "people_apart", &format!("{COMPANY}{OWN}"));
    fs::create_dir(half.path().join("moving")).unwrap();
    fs::write(half.path().join("moving/people.sqlite"), "half of i").unwrap();
    let people = People::open(half.path()).unwrap();
    assert_eq!(people.documents(&people.local(), "assumption_set", false).unwrap().len(), 2);

    let nearly = tempfile::tempdir().unwrap();
    older(nearly.path(), "people_apart", &format!("{COMPANY}{OWN}"));
    fs::copy(half.path().join("people.sqlite"), nearly.path().join("people.sqlite")).unwrap();
    let people = People::open(nearly.path()).unwrap();
    assert_eq!(people.documents(&people.local(), "assumption_set", false).unwrap().len(), 2);
    assert!(nearly.path().join("dataset.sqlite").exists());
    Dataset::open(nearly.path()).unwrap();
    assert_eq!(count(nearly.path(), "dataset.sqlite", "sqlite_master WHERE name IN ('own_measures', 'overrides', 'mappings')"), 0);
}

/// Another dataset takes the place of the old one whole; one that cannot be made leaves it; what is one's own stays.
#[test]
fn a_dataset_is_swapped_while_ones_own_stays() {
    let folder = tempfile::tempdir().unwrap();
    let _lock = FolderLock::take(folder.path()).unwrap();
    let people = People::open(folder.path()).unwrap();
    let new = NewDocument { kind: "screen", folder: "", name: "Steady", note: "", body: "{}" };
    assert!(matches!(people.add_document(&people.local(), new), Ok(Saved::As(_))));
    let fill = |companies: usize| {
        move |made: &Dataset| made.write::<(), StoreError>(|batch| World { companies, seed: 3 }.make(|record| batch.put(record)))
    };
    let companies = || {
        let mut found = 0;
        let asked = Selection { tables: Some(vec![Table::Companies]), ..Selection::default() };
        let count = |r: Record| {
            found += usize::from(r.table() == Table::Companies);
            ControlFlow::Continue(())
        };
        Dataset::open(folder.path()).unwrap().read(&asked, count).unwrap();
        found
    };
    swap_dataset(folder.path(), fill(4)).unwrap();
    assert_eq!(companies(), 4);
    let failed = swap_dataset(folder.path(), |made| fill(9)(made).and(Err(StoreError::BrokenOff)));
    assert!(failed.is_err() && companies() == 4);
    swap_dataset(folder.path(), fill(9)).unwrap();
    assert_eq!(companies(), 9);
    assert_eq!(people.documents(&people.local(), "screen", false).unwrap().len(), 1);
    assert!(!folder.path().join("making").exists());
}

/// Neither file can be read by anybody else, nor can the folder be entered.
#[cfg(unix)]
#[test]
fn nobody_else_may_look() {
    use std::os::unix::fs::PermissionsExt;
    let outer = tempfile::tempdir().unwrap();
    let folder = outer.path().join("data");
    fs::create_dir(&folder).unwrap();
    fs::set_permissions(&folder, fs::Permissions::from_mode(0o755)).unwrap();
    let (_lock, _dataset, _people) = (FolderLock::take(&folder).unwrap(), Dataset::open(&folder).unwrap(), People::open(&folder).unwrap());
    let mode = |path: &Path| fs::metadata(path).unwrap().permissions().mode() & 0o777;
    assert_eq!(mode(&folder), 0o700);
    let files: Vec<_> = fs::read_dir(&folder).unwrap().map(|e| e.unwrap().path()).collect();
    assert!(files.len() >= 3, "{files:?}");
    files.iter().for_each(|f| assert_eq!(mode(f), 0o600, "{}", f.display()));
}

/// A file of another program, or of a version to come, is refused with a word and not touched.
#[test]
fn foreign_and_newer_files_are_left_alone() {
    let open = |folder: &Path| {
        let dataset = Dataset::open(folder).map(drop).map_err(|e| e.to_string());
        (dataset, People::open(folder).map(drop).map_err(|e| e.to_string()))
    };
    let foreign = tempfile::tempdir().unwrap();
    for file in ["dataset.sqlite", "people.sqlite"] {
        connection(&foreign.path().join(file))
            .batch_execute("CREATE TABLE recipes (name TEXT); INSERT INTO recipes VALUES ('bread');")
            .unwrap();
    }
    let before = fs::read(foreign.path().join("dataset.sqlite")).unwrap();
    let (dataset, people) = open(foreign.path());
    let (dataset, people) = (dataset.unwrap_err(), people.unwrap_err());
    assert!(dataset.contains("not a database of Artemon") && people.contains("not a database of Artemon"), "{dataset}\n{people}");
    assert!(fs::read(foreign.path().join("dataset.sqlite")).unwrap() == before, "not one byte is another");
    assert_eq!(count(foreign.path(), "people.sqlite", "sqlite_master"), 1);

    let newer = tempfile::tempdir().unwrap();
    open(newer.path()).0.unwrap();
    for file in ["dataset.sqlite", "people.sqlite"] {
        let step = "INSERT INTO __diesel_schema_migrations (version) VALUES ('20990101000000')";
        connection(&newer.path().join(file)).batch_execute(step).unwrap();
    }
    let (dataset, people) = open(newer.path());
    let (dataset, people) = (dataset.unwrap_err(), people.unwrap_err());
    assert!(dataset.contains("newer version") && people.contains("newer version"), "{dataset}\n{people}");
    let read = Dataset::open_to_read(newer.path()).unwrap_err().to_string();
    assert!(read.contains("newer version"), "{read}");
}

/// The counter by which settings are read again grows with every change that matters and with no other.
#[test]
fn every_change_counts() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let me = people.local();
    let mut last = people.revision(&me).unwrap();
    let mut grown = |what: &str, expected: bool| {
        let now = people.revision(&me).unwrap();
        assert_eq!(now > last, expected, "{what}");
        last = now;
    };
    let new = |name: &'static str| NewDocument { kind: "measure", folder: "", name, note: "", body: "{}" };
    let Ok(Saved::As(kept)) = people.add_document(&me, new("mine")) else { panic!("it is kept") };
    grown("added", true);
    people.save_document(&me, &kept.id, 1, new("mine")).unwrap();
    grown("saved again", true);
    people.save_document(&me, &kept.id, 1, new("mine")).unwrap();
    grown("refused", false);
    people.delete_document(&me, &kept.id, true).unwrap();
    grown("deleted", true);
    people.prefer(&me, "assumptions", "Standard").unwrap();
    grown("preferred", true);
    people.remember_mapping(&me, "a|b", "{}").unwrap();
    grown("a mapping", false);
    people.documents(&me, "measure", true).unwrap();
    grown("looked", false);
}

const AUDITED: NewEntry<'static> = NewEntry { person: "local", name: "Anna", what: "tried", about: "", address: "" };

/// Somebody who takes an invitation up that was made at the terminal, or a way back (`back` with whether the second factor is lost).
fn comes(people: &People, name: &str, role: &str, back: Option<(&PersonId, bool)>) -> PersonId {
    let invitation = KeptInvitation {
        hash: format!("of a link for {name}"),
        id: format!("for {name}"),
        person: back.map(|back| back.0.clone()),
        role: role.to_owned(),
        second_factor_lost: back.is_some_and(|back| back.1),
        note: String::new(),
        made_by: None,
        made_at: "2026-01-01T00:00:00Z".to_owned(),
        ends_at: "2999-01-01T00:00:00Z".to_owned(),
    };
    people.add_invitation(&invitation, &AUDITED).unwrap();
    let joining = Joining { hash: &invitation.hash, name, key: &name.to_lowercase(), passphrase: "first", address: "" };
    let Joined::As(person) = people.join(&joining).unwrap() else { panic!("{name} comes in") };
    assert_eq!(people.join(&joining).unwrap(), Joined::Ended, "once");
    person
}

/// Anna, the first owner.
fn anna(people: &People) -> PersonId {
    comes(people, "Anna", "owner", None)
}

/// The first owner goes on with what the person had who worked here alone; nobody else does, whatever they are, and a way back leads to
/// what was there.
#[test]
fn the_first_owner_has_what_was_there() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let screen = NewDocument { kind: "screen", folder: "", name: "Before", note: "", body: "{}" };
    people.add_document(&people.local(), screen).unwrap();
    let anna = anna(&people);
    assert_eq!(anna, people.local());
    assert!(people.document_named(&anna, "screen", "Before").unwrap().is_some());
    let (bert, carla) = (comes(&people, "Bert", "owner", None), comes(&people, "Carla", "member", None));
    assert!(bert != anna && carla != anna && carla != bert);
    assert_eq!(people.credentials().unwrap().iter().map(|k| k.role.as_str()).collect::<Vec<_>>(), ["owner", "owner", "member"]);
    for (who, name) in [(&anna, "Anna"), (&carla, "Carla")] {
        people.set_second_factor(who, "a secret", 0, &["a code".to_owned()], &AUDITED).unwrap();
        let factor = || people.credential(who).unwrap().unwrap().second_factor;
        assert_eq!(&comes(&people, name, "member", Some((who, false))), who);
        assert_eq!((factor().as_str(), people.recovery_codes_left(who).unwrap()), ("a secret", 1), "it stays, with its codes");
        comes(&people, name, "member", Some((who, true)));
        assert_eq!((factor().as_str(), people.recovery_codes_left(who).unwrap()), ("", 0), "unless it is lost");
    }
    assert_eq!(people.credential(&anna).unwrap().unwrap().role, "owner", "a way back makes nobody something else");
}

/// Browsers are known of one person alone, and the oldest are forgotten.
#[test]
fn thirty_browsers_are_known() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let (anna, bert) = (anna(&people), comes(&people, "Bert", "member", None));
    people.add_device(&anna, "the first").unwrap();
    connection(&folder.path().join("people.sqlite")).batch_execute("UPDATE devices SET made_at = '2020-01-01T00:00:00Z'").unwrap();
    for n in 1..30 {
        people.add_device(&anna, &format!("browser {n}")).unwrap();
    }
    assert!(people.is_device_of(&anna, "the first").unwrap() && !people.is_device_of(&bert, "the first").unwrap());
    people.add_device(&anna, "one more").unwrap();
    assert!(!people.is_device_of(&anna, "the first").unwrap() && people.is_device_of(&anna, "one more").unwrap());
    assert_eq!(count(folder.path(), "people.sqlite", "devices"), 30);
}

fn session(of: &PersonId, hash: &str) -> KeptSession {
    let at = || "2026-01-01T00:00:00Z".to_owned();
    let text = |text: &str| text.to_owned();
    KeptSession {
        hash: text(hash),
        id: text(hash),
        person: of.clone(),
        made_at: at(),
        seen_at: at(),
        confirmed_at: at(),
        address: String::new(),
        browser: String::new(),
    }
}

/// A copy that is put back brings work back, and opens no door: neither a session, a passphrase nor a token from then, nor what was
/// shared; and the audit log does not begin anew.
#[test]
fn a_copy_brings_work_back_and_lets_nobody_in() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let anna = anna(&people);
    let screen = |name: &'static str| NewDocument { kind: "screen", folder: "", name, note: "", body: "{}" };
    people.add_document(&anna, screen("Then")).unwrap();
    let then = people.document_named(&anna, "screen", "Then").unwrap().unwrap();
    people.add_session(&session(&anna, "stolen"), "").unwrap();
    let token = KeptToken {
        hash: "script".to_owned(),
        id: "script".to_owned(),
        person: anna.clone(),
        name: "script".to_owned(),
        scopes: "read".to_owned(),
        made_at: "2026-01-01T00:00:00Z".to_owned(),
        ends_at: "2999-01-01T00:00:00Z".to_owned(),
        used_at: None,
    };
    people.add_token(&token, &AUDITED).unwrap();
    let share = people.share(&anna, "document", &then.id, &AUDITED).unwrap();
    let copy = copy_people(folder.path(), "by hand", 3).unwrap();
    let copy = folder.path().join("copies").join(copy.name);
    assert_eq!(count(folder.path(), "people.sqlite", "sessions"), 1);
    assert_eq!(count(folder.path(), &format!("copies/{}", copy.file_name().unwrap().to_string_lossy()), "sessions"), 0);
    // Afterwards everything that was a way in is ended, and another person comes.
    people.change_passphrase(&anna, "second", "", &AUDITED).unwrap();
    assert!(people.session("stolen").unwrap().is_none());
    assert!(people.end_token(&anna, "script", &AUDITED).unwrap());
    assert!(people.take_share_back(&anna, &share.token, &AUDITED).unwrap());
    people.delete_document(&anna, &then.id, true).unwrap();
    people.add_document(&anna, screen("Since")).unwrap();
    let entries = people.entries(None, i64::MAX, 100).unwrap().len();
    people.take_back(folder.path(), &copy).unwrap();
    assert!(people.document_named(&anna, "screen", "Then").unwrap().is_some(), "her work is back");
    assert!(people.document_named(&anna, "screen", "Since").unwrap().is_none());
    assert!(people.session("stolen").unwrap().is_none() && people.token("script").unwrap().is_none());
    assert!(people.shared(&share.token).unwrap().is_none());
    assert_eq!(people.credential(&anna).unwrap().unwrap().passphrase, "second");
    assert_eq!(people.entries(None, i64::MAX, 100).unwrap().len(), entries);
    drop(people);
    assert!(People::open(folder.path()).unwrap().damaged().is_empty());
}

#[test]
fn the_audit_log_is_only_added_to() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    people.add_entry(&AUDITED).unwrap();
    drop(people);
    let mut c = connection(&folder.path().join("people.sqlite"));
    for sql in ["UPDATE audit SET name = 'Bert'", "DELETE FROM audit", "REPLACE INTO audit SELECT * FROM audit"] {
        let refused = c.batch_execute(&format!("PRAGMA recursive_triggers = ON; {sql}")).unwrap_err().to_string();
        assert!(refused.contains("the audit log is not"), "{sql}: {refused}");
    }
    assert_eq!(count(folder.path(), "people.sqlite", "audit"), 1);
}

/// Whose last backtest ended longest ago comes first: many of one person do not keep another's waiting.
#[test]
fn backtests_take_turns_among_people() {
    let folder = tempfile::tempdir().unwrap();
    let people = People::open(folder.path()).unwrap();
    let anna = anna(&people);
    let mut c = connection(&folder.path().join("people.sqlite"));
    c.batch_execute("INSERT INTO persons (id, name, created_at) VALUES ('bert', 'Bert', '2026-01-01T00:00:00Z')").unwrap();
    let bert = PersonId::known("bert");
    for name in ["a1", "a2", "a3"] {
        people.ask_backtest(&anna, name, "", "{}").unwrap();
    }
    people.ask_backtest(&bert, "b1", "", "{}").unwrap();
    let ended = EndedBacktest { state: "done", message: "", dataset: "", assumptions: "", version: "", summary: None, outcome: None };
    let mut turns = Vec::new();
    while let Some((person, next)) = people.next_backtest().unwrap() {
        assert!(people.end_backtest(&person, &next.id, &ended).unwrap());
        turns.push(next.name);
    }
    let turns: String = turns.iter().filter_map(|name| name.chars().next()).collect();
    assert_eq!(turns, "abaa");
}

/// How many documents another program finds.
fn found_by_another_program(folder: &Path) -> i32 {
    let program = "import sqlite3,sys\nprint(sqlite3.connect(sys.argv[1]).execute('SELECT count(*) FROM documents').fetchone()[0])";
    let ran = std::process::Command::new("python3").args(["-c", program]).arg(folder.join("people.sqlite")).output().unwrap();
    String::from_utf8(ran.stdout).unwrap().trim().parse().unwrap()
}

/// Whoever opens the file with another program, while it is open here, takes nothing away: neither what is saved then is lost, nor is
/// what the other saves overlooked.
#[test]
fn another_program_may_look_at_any_time() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("people.sqlite");
    let people = People::open(folder.path()).unwrap();
    let dataset = Dataset::open(folder.path()).unwrap();
    let saved = |n: i32| {
        let name = format!("measure {n}");
        let new = NewDocument { kind: "measure", folder: "", name: &name, note: "", body: "{}" };
        assert!(matches!(people.add_document(&people.local(), new).unwrap(), Saved::As(_)));
    };
    let looks: [(&str, &dyn Fn()); 6] = [
        ("nothing", &|| {}),
        ("it is examined", &|| assert!(examine(&file, Kept::People).unwrap().is_empty())),
        ("it is copied", &|| drop(copy_people(folder.path(), "by hand", 5).unwrap())),
        ("it is opened again", &|| drop(People::open(folder.path()).unwrap())),
        ("it is read", &|| drop(People::open_to_read(folder.path()).unwrap())),
        ("the dataset is opened again", &|| drop(Dataset::open(folder.path()).unwrap())),
    ];
    for (n, (what, look)) in (1..).zip(looks) {
        look();
        found_by_another_program(folder.path());
        saved(n);
        assert_eq!(found_by_another_program(folder.path()), n, "after {what}");
    }
    drop((people, dataset));
    assert_eq!(found_by_another_program(folder.path()), 6);
}

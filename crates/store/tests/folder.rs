//! A data folder: what goes in comes out, whole or not at all.
#![allow(clippy::unwrap_used)]

mod world;

use artemon_core::domain::{Record, Table};
use artemon_store::{Dataset, FolderLock, Selection, StoreError};
use diesel::{prelude::*, sql_types::Text, sqlite::SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::{ops::ControlFlow, path::Path};
use world::records;

fn filled(folder: &Path) -> Dataset {
    let store = Dataset::open(folder).unwrap();
    store.write::<(), StoreError>(|batch| records().iter().try_for_each(|r| batch.put(r.clone()))).unwrap();
    store
}

fn read(store: &Dataset, selection: &Selection) -> Result<Vec<Record>, StoreError> {
    let mut all = Vec::new();
    let damaged = store.read(selection, |record| {
        all.push(record);
        ControlFlow::Continue(())
    })?;
    assert_eq!(damaged, []);
    Ok(all)
}

/// In an order of their own, since tables come back in that of their keys.
fn sorted(records: impl IntoIterator<Item = Record>) -> Vec<String> {
    let mut all: Vec<String> = records.into_iter().map(|r| format!("{r:?}")).collect();
    all.sort_unstable();
    all
}

fn connection(folder: &Path) -> SqliteConnection {
    SqliteConnection::establish(&folder.join("dataset.sqlite").to_string_lossy()).unwrap()
}

/// Every column of every table, to the last bit.
#[test]
fn every_record_comes_back_as_it_went_in() {
    let folder = tempfile::tempdir().unwrap();
    drop(filled(folder.path()));
    let store = Dataset::open(folder.path()).unwrap();
    let back = read(&store, &Selection::default()).unwrap();
    let tables: Vec<Table> = Table::ALL.iter().copied().filter(|t| back.iter().any(|r| r.table() == *t)).collect();
    assert!(tables.len() >= Table::ALL.len() - 1, "all but the user's own words: {tables:?}");
    assert_eq!(sorted(back), sorted(records().iter().cloned()));
}

#[test]
fn a_selection_gives_its_companies_and_tables_alone() {
    let folder = tempfile::tempdir().unwrap();
    let store = filled(folder.path());
    let company = records().iter().find_map(|r| if let Record::Company(c) = r { Some(c.id.to_string()) } else { None }).unwrap();
    let of_one = Selection { companies: Some(vec![company.clone()]), ..Selection::default() };
    let found = read(&store, &of_one).unwrap();
    let expected = records().iter().filter(|r| match r {
        Record::Statement(s) => *s.company_id == *company,
        Record::Estimate(e) => *e.company_id == *company,
        _ => false,
    });
    let filings_and_estimates = |r: &Record| matches!(r, Record::Statement(_) | Record::Estimate(_));
    assert_eq!(sorted(found.iter().filter(|r| filings_and_estimates(r)).cloned()), sorted(expected.cloned()));
    assert!(found.iter().all(|r| !matches!(r.table(), Table::Fx | Table::Rates | Table::Indexes)));
    let rates = Selection { tables: Some(vec![Table::Rates]), ..Selection::default() };
    assert!(read(&store, &rates).unwrap().iter().all(|r| r.table() == Table::Rates));
}

/// Work that fails leaves nothing behind, and readers see nothing of work that goes on.
#[test]
fn work_lands_whole_or_not_at_all() {
    let folder = tempfile::tempdir().unwrap();
    let store = Dataset::open(folder.path()).unwrap();
    let count = || read(&store, &Selection::default()).unwrap().len();
    let failed = store.write::<(), StoreError>(|batch| {
        records().iter().take(5_000).try_for_each(|r| batch.put(r.clone()))?;
        batch.set("base", "ZOC")?;
        assert_eq!(count(), 0, "a reader beside the writer");
        Err(StoreError::Damaged { what: "a reason to stop".to_owned() })
    });
    assert!(failed.unwrap_err().to_string().contains("a reason to stop"));
    assert_eq!((count(), store.setting("base").unwrap()), (0, None));
    store.write::<(), StoreError>(|batch| records().iter().take(5_000).try_for_each(|r| batch.put(r.clone()))).unwrap();
    assert_eq!(count(), 5_000);
}

/// A row that comes again replaces the one of its key; what did not come stays.
#[test]
fn the_same_rows_again_change_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let store = filled(folder.path());
    let before = sorted(read(&store, &Selection::default()).unwrap());
    let some = || records().iter().rev().step_by(7);
    store.write::<(), StoreError>(|batch| some().try_for_each(|r| batch.put(r.clone()))).unwrap();
    assert_eq!(sorted(read(&store, &Selection::default()).unwrap()), before);
}

#[test]
fn a_file_of_something_else_is_refused_and_left_alone() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("dataset.sqlite");
    std::fs::write(&file, "My notes of many years").unwrap();
    let said = Dataset::open(folder.path()).unwrap_err().to_string();
    assert!(said.contains("is not a database of Artemon") && said.contains("left as it is"), "{said}");
    assert_eq!(std::fs::read_to_string(&file).unwrap(), "My notes of many years");
    std::fs::write(&file, "").unwrap();
    assert!(Dataset::open(folder.path()).is_ok(), "an empty file is a new dataset");
}

#[test]
fn one_program_a_folder() {
    let folder = tempfile::tempdir().unwrap();
    let inside = folder.path().join("deep/inside");
    let held = FolderLock::take(&inside).unwrap();
    assert!(matches!(FolderLock::take(&inside), Err(StoreError::InUse { path }) if path == inside));
    drop(held);
    assert!(FolderLock::take(&inside).is_ok());
}

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations/dataset");

#[derive(QueryableByName)]
struct Made {
    #[diesel(sql_type = Text)]
    sql: String,
}

/// All tables and indexes as they were made, but for the migrations' own record.
fn layout(c: &mut SqliteConnection) -> Vec<String> {
    let made = "SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND tbl_name NOT LIKE '__diesel%' ORDER BY name";
    diesel::sql_query(made).load::<Made>(c).unwrap().into_iter().map(|m| m.sql).collect()
}

/// Each step of the layout can be undone, and done again with the same outcome.
#[test]
fn migrations_go_up_and_down() {
    let folder = tempfile::tempdir().unwrap();
    let mut c = connection(folder.path());
    let steps = c.run_pending_migrations(MIGRATIONS).unwrap().len();
    let whole = layout(&mut c);
    assert!(steps >= 5 && whole.len() > 20);
    for depth in 1..=steps {
        (0..depth).for_each(|_| drop(c.revert_last_migration(MIGRATIONS).unwrap()));
        assert!(layout(&mut c) != whole, "{depth} steps back");
        c.run_pending_migrations(MIGRATIONS).unwrap();
        assert_eq!(layout(&mut c), whole);
    }
    c.revert_all_migrations(MIGRATIONS).unwrap();
    assert_eq!(layout(&mut c), Vec::<String>::new(), "nothing is left");
}

//! Damage on the disk: what is damaged is named and set aside, everything else is as it was, and importing again heals it.
#![allow(clippy::unwrap_used)]

mod world;

use artemon_core::{
    domain::{Action, Bar, Rate, Record, Table},
    panel::{AsOf, Snapshot},
};
use artemon_store::{Dataset, People, Selection, SetAside, StoreError};
use diesel::{connection::SimpleConnection, prelude::*, sqlite::SqliteConnection};
use rand::{RngExt, SeedableRng, rngs::StdRng};
use std::{
    collections::HashSet,
    fs,
    ops::ControlFlow,
    path::Path,
    sync::atomic::{AtomicBool, Ordering},
};
use world::records;

fn filled(folder: &Path) {
    let store = Dataset::open(folder).unwrap();
    store.write::<(), StoreError>(|batch| records().iter().try_for_each(|r| batch.put(r.clone()))).unwrap();
}

/// All rows that can be read, and what is left out.
fn read(store: &Dataset) -> Result<(HashSet<String>, Vec<SetAside>), StoreError> {
    let mut all = HashSet::new();
    let damaged = store.read(&Selection::default(), |record| {
        all.insert(format!("{record:?}"));
        ControlFlow::Continue(())
    })?;
    Ok((all, damaged))
}

fn written() -> HashSet<String> {
    records().iter().map(|r| format!("{r:?}")).collect()
}

fn change(folder: &Path, sql: &str) {
    let mut c = SqliteConnection::establish(&folder.join("dataset.sqlite").to_string_lossy()).unwrap();
    c.batch_execute(&format!("PRAGMA foreign_keys = OFF; {sql}")).unwrap();
}

/// One value changed in one row of each table, behind the program's back, as a flipped bit does.
const CHANGES: &[(Table, &str)] = &[
    (Table::Companies, "UPDATE companies SET sector = 'Sectur' WHERE id = (SELECT max(id) FROM companies)"),
    (Table::Companies, "UPDATE companies SET id = 'nobody' WHERE id = (SELECT max(id) FROM companies)"),
    (Table::Listings, "UPDATE listings SET shares_per_unit = 3 WHERE symbol = (SELECT max(symbol) FROM listings)"),
    (Table::Listings, "DELETE FROM listings WHERE symbol = (SELECT max(symbol) FROM listings)"),
    (Table::Statements, "UPDATE statements SET filed_on = filed_on + 1 WHERE company_id = (SELECT max(company_id) FROM statements)"),
    (
        Table::Statements,
        "UPDATE statements SET items = CAST(substr(items, 1, 20) || x'FF' || substr(items, 22) AS BLOB) \
         WHERE company_id = (SELECT max(company_id) FROM statements) AND fiscal_year = (SELECT max(fiscal_year) FROM statements)",
    ),
    (
        Table::Prices,
        "UPDATE price_chunks SET bars = CAST(substr(bars, 1, 40) || x'FF' || substr(bars, 42) AS BLOB) \
         WHERE rowid = (SELECT min(rowid) FROM price_chunks)",
    ),
    (
        Table::Prices,
        "UPDATE price_chunks SET bars = CAST(substr(bars, 1, 1) || x'01' || substr(bars, 3) AS BLOB) \
         WHERE rowid = (SELECT min(rowid) FROM price_chunks)",
    ),
    (Table::Prices, "UPDATE price_chunks SET year = 1900 WHERE rowid = (SELECT max(rowid) FROM price_chunks)"),
    (Table::Prices, "DELETE FROM price_chunks WHERE rowid = (SELECT max(rowid) FROM price_chunks)"),
    (Table::Actions, "UPDATE actions SET amount = amount * 1.0000001 WHERE symbol = (SELECT max(symbol) FROM actions WHERE amount > 0)"),
    (Table::Estimates, "UPDATE estimates SET high = NULL WHERE company_id = (SELECT max(company_id) FROM estimates WHERE high > 0)"),
    (
        Table::InsiderTrades,
        "UPDATE insider_trades SET planned = NOT planned WHERE company_id = (SELECT max(company_id) FROM insider_trades)",
    ),
    (Table::Ownership, "UPDATE ownership SET pledged = 0.5 WHERE company_id = (SELECT max(company_id) FROM ownership)"),
    (Table::Rates, "UPDATE rates SET value = -value WHERE date = (SELECT max(date) FROM rates WHERE value <> 0)"),
    (Table::Fx, "DELETE FROM fx WHERE date = (SELECT max(date) FROM fx)"),
    (Table::Officers, "UPDATE officers SET name = name || ' ' WHERE company_id = (SELECT max(company_id) FROM officers)"),
    (Table::Events, "UPDATE events SET confirmed = NOT confirmed WHERE company_id = (SELECT max(company_id) FROM events)"),
    (Table::News, "UPDATE news SET headline = headline || '!' WHERE id = (SELECT max(id) FROM news WHERE company_id IS NOT NULL)"),
    (Table::Indexes, "UPDATE indexes SET currency = 'XXX' WHERE id = (SELECT max(id) FROM indexes)"),
    (Table::IndexMembers, "UPDATE index_members SET from_day = from_day - 1 WHERE index_id = (SELECT max(index_id) FROM index_members)"),
    (Table::IndexLevels, "UPDATE index_levels SET level = level + 1 WHERE date = (SELECT max(date) FROM index_levels)"),
];

#[test]
fn whatever_is_changed_is_set_aside_and_healed_by_importing_again() {
    let whole = tempfile::tempdir().unwrap();
    filled(whole.path());
    for (table, sql) in CHANGES {
        let folder = tempfile::tempdir().unwrap();
        fs::copy(whole.path().join("dataset.sqlite"), folder.path().join("dataset.sqlite")).unwrap();
        change(folder.path(), sql);
        let store = Dataset::open(folder.path()).unwrap();
        store.load_panel().unwrap();
        let aside = store.set_aside();
        assert!(!aside.is_empty() && aside.iter().all(|a| a.table == *table), "{sql}: {aside:?}");
        let (rows, left_out) = read(&store).unwrap();
        assert!(rows.is_subset(&written()), "{sql}: {:?}", rows.difference(&written()).next());
        let missing: Vec<_> = records().iter().filter(|r| !rows.contains(&format!("{r:?}"))).collect();
        assert!(!missing.is_empty() && missing.iter().all(|r| r.table() == *table), "{sql}");
        assert!(left_out.iter().any(|a| a.table == *table), "{sql}: {left_out:?}");
        // All at a glance finds the same.
        assert_eq!(Dataset::open(folder.path()).unwrap().check().unwrap().len(), aside.len(), "{sql}");

        // A session that comes in does not make it trusted.
        let one = records().iter().find(|r| r.table() == *table).unwrap();
        store.write::<(), StoreError>(|batch| batch.put(one.clone())).unwrap();
        store.load_panel().unwrap();
        assert_eq!(store.set_aside(), aside, "{sql}: not healed by a row");

        store.write_anew::<(), StoreError>(|batch| records().iter().try_for_each(|r| batch.put(r.clone()))).unwrap();
        store.load_panel().unwrap();
        assert_eq!(store.set_aside(), [], "{sql}: healed");
        let (rows, left_out) = read(&store).unwrap();
        assert!(rows == written() && left_out.is_empty(), "{sql}");
    }
}

/// One day's prices, or one year's statement, would hide that the rest is gone: what is damaged stays as it was until as much comes.
#[test]
fn a_part_of_what_is_damaged_does_not_heal_it() {
    let whole = tempfile::tempdir().unwrap();
    filled(whole.path());
    let several =
        [Table::Statements, Table::Prices, Table::Actions, Table::Estimates, Table::InsiderTrades, Table::Rates, Table::IndexLevels];
    for (table, sql) in CHANGES.iter().filter(|(table, _)| several.contains(table)) {
        let folder = tempfile::tempdir().unwrap();
        fs::copy(whole.path().join("dataset.sqlite"), folder.path().join("dataset.sqlite")).unwrap();
        change(folder.path(), sql);
        let store = Dataset::open(folder.path()).unwrap();
        let aside = store.check().unwrap();
        let (before, _) = read(&store).unwrap();
        let mut parts: Vec<&Record> = records().iter().filter(|r| r.table() == *table).collect();
        // The first row of every owner alone.
        let mut seen = HashSet::new();
        parts.retain(|r| seen.insert(owner(r)));
        store.write_anew::<(), StoreError>(|batch| parts.iter().try_for_each(|r| batch.put((*r).clone()))).unwrap();
        assert_eq!(store.check().unwrap(), aside, "{sql}");
        assert!(read(&store).unwrap().0 == before, "{sql}: everything else is as it was");
        store.write_anew::<(), StoreError>(|batch| records().iter().try_for_each(|r| batch.put(r.clone()))).unwrap();
        assert!(store.check().unwrap().is_empty() && read(&store).unwrap().0 == written(), "{sql}");
    }
}

fn owner(record: &Record) -> String {
    match record {
        Record::Statement(x) => x.company_id.to_string(),
        Record::Price { symbol, .. } => symbol.to_string(),
        Record::Action(x) => x.symbol.to_string(),
        Record::Estimate(x) => x.company_id.to_string(),
        Record::InsiderTrade(x) => x.company_id.to_string(),
        Record::Rate(x) => x.currency.to_string(),
        Record::IndexLevel(x) => x.index_id.to_string(),
        other => panic!("{other:?}"),
    }
}

/// A company of which something is damaged has no figures; the others have all of theirs.
#[test]
fn a_company_is_set_aside_as_a_whole() {
    let folder = tempfile::tempdir().unwrap();
    filled(folder.path());
    let store = Dataset::open(folder.path()).unwrap();
    let before = store.load_panel().unwrap();
    change(
        folder.path(),
        "DELETE FROM actions WHERE symbol = (SELECT max(symbol) FROM actions) AND ex_date = (SELECT max(ex_date) FROM actions)",
    );
    change(folder.path(), "UPDATE actions SET amount = 99 WHERE symbol = (SELECT max(symbol) FROM actions)");
    let after = store.load_panel().unwrap();
    let [SetAside { table: Table::Actions, owner, company: Some(company) }] = &store.set_aside()[..] else {
        panic!("{:?}", store.set_aside())
    };
    assert_eq!(after.company_count(), before.company_count(), "who it is is known");
    let t = before.sessions().unwrap().1;
    let days = |snapshot: &Snapshot, key: &str| {
        let view = AsOf { snapshot, base: "ZOC".parse().unwrap(), t };
        view.company(snapshot.find(key).unwrap()).bars().len()
    };
    assert!(days(&before, company) > 1_000 && days(&after, company) == 0);
    let others = records().iter().filter_map(|r| if let Record::Listing(l) = r { Some(&l.symbol) } else { None });
    for other in others.filter(|symbol| ***symbol != **owner) {
        assert!(days(&after, other) > 0 && days(&after, other) == days(&before, other), "{other}");
    }
}

/// Bytes changed anywhere in the file, pages zeroed, the end cut off: no row is read that was not written, and what is missing is told.
#[test]
fn no_damage_makes_a_row_that_was_never_written() {
    let whole = tempfile::tempdir().unwrap();
    filled(whole.path());
    let bytes = fs::read(whole.path().join("dataset.sqlite")).unwrap();
    let written = written();
    let mut random = StdRng::seed_from_u64(7);
    let (mut unnoticed, mut aside, mut healed, mut refused) = (0, 0, 0, 0);
    let damages = std::env::var("DAMAGES").ok().and_then(|n| n.parse().ok()).unwrap_or(60usize);
    for n in 0..damages {
        let folder = tempfile::tempdir().unwrap();
        let mut damaged = bytes.clone();
        let at = random.random_range(0..damaged.len());
        match n % 4 {
            0 | 1 => damaged[at] ^= 1 << (n % 8),
            2 => damaged[at / 16_384 * 16_384..][..16_384].fill(0),
            _ => damaged.truncate(at),
        }
        let path = folder.path().join("dataset.sqlite");
        fs::write(&path, damaged).unwrap();
        let found = Dataset::open(folder.path()).and_then(|store| store.load_panel().and_then(|_| read(&store)));
        // Importing again is a way back where the file as such is in order; otherwise a backup is.
        let imported = || {
            let store = Dataset::open(folder.path())?;
            store.check()?;
            store.write_anew::<(), StoreError>(|batch| records().iter().try_for_each(|r| batch.put(r.clone())))?;
            assert_eq!(store.check()?, [], "damage {n} at {at} is healed");
            assert!(read(&store)?.0 == written, "damage {n} at {at} is healed");
            Ok::<(), StoreError>(())
        };
        match found {
            Ok((rows, left_out)) => {
                let extra: Vec<_> = rows.difference(&written).take(1).collect();
                assert!(extra.is_empty(), "damage {n} at {at}: {extra:?}");
                if left_out.is_empty() {
                    assert_eq!(rows.len(), written.len(), "damage {n} at {at} went unnoticed");
                    unnoticed += 1;
                } else {
                    aside += 1;
                    healed += i32::from(imported().is_ok());
                }
            }
            Err(e) => {
                let said = e.to_string();
                assert!(
                    said.contains("damaged") || said.contains("cannot be read") || said.contains("not a database"),
                    "damage {n} at {at}: {said}"
                );
                refused += 1;
            }
        }
    }
    println!("{unnoticed} where nothing is kept, {aside} set aside and {healed} of them healed by importing again, {refused} refused");
    assert!(aside > 10 && healed > 10, "{aside} {healed}");
    // A file that was cut off is no database any more; a page that cannot be read is only that.
    assert!(refused <= damages / 4 + damages / 10, "{refused} refused");
}

/// Whoever reads while another program writes finds nothing damaged, and the rows of one moment.
#[test]
fn writing_is_never_taken_for_damage() {
    let folder = tempfile::tempdir().unwrap();
    filled(folder.path());
    let (writer, reader) = (Dataset::open(folder.path()).unwrap(), Dataset::open_to_read(folder.path()).unwrap());
    let last = records().iter().filter_map(|r| if let Record::Price { symbol, bar } = r { Some((symbol, bar)) } else { None });
    let (symbol, bar) = last.max_by_key(|(symbol, bar)| (*symbol, bar.date)).unwrap();
    let changed = Record::Price { symbol: symbol.clone(), bar: Bar { volume: bar.volume + 1.0, ..*bar } };
    let mut written = false;
    let mut rows = HashSet::new();
    let damaged = reader.read(&Selection::default(), |record| {
        // Amid the prices, of which the last symbol's are still to come.
        if record.table() == Table::Prices && !written {
            writer.write::<(), StoreError>(|batch| batch.put(changed.clone())).unwrap();
            written = true;
        }
        rows.insert(format!("{record:?}"));
        ControlFlow::Continue(())
    });
    assert_eq!(damaged.unwrap(), []);
    assert!(written && rows == self::written(), "as it was when the reading began");
    assert!(read(&reader).unwrap().0.contains(&format!("{changed:?}")));

    // A panel that is loaded while actions and rates change all the time.
    let done = AtomicBool::new(false);
    let some: Vec<&Record> = records().iter().filter(|r| matches!(r.table(), Table::Actions | Table::Rates)).take(400).collect();
    let changed = |record: &Record, n: f64| match record.clone() {
        Record::Action(a) => Record::Action(Action { amount: Some(n), ..a }),
        Record::Rate(r) => Record::Rate(Rate { value: n, ..r }),
        other => other,
    };
    std::thread::scope(|s| {
        s.spawn(|| {
            let mut n = 1.0;
            while !done.load(Ordering::SeqCst) {
                n += 1.0;
                writer.write::<(), StoreError>(|batch| some.iter().try_for_each(|r| batch.put(changed(r, n)))).unwrap();
            }
        });
        let looked: Vec<_> = (0..12).map(|_| reader.load_panel().map(|_| reader.set_aside())).collect();
        let checked = reader.check();
        done.store(true, Ordering::SeqCst);
        assert!(looked.into_iter().all(|aside| aside.unwrap().is_empty()) && checked.unwrap().is_empty());
    });
}

/// A program that is killed between an update of the layout and its sums makes them at its next start; older files have none yet.
#[test]
fn what_has_no_sums_yet_gets_them() {
    let folder = tempfile::tempdir().unwrap();
    filled(folder.path());
    drop(People::open(folder.path()).unwrap());
    for file in ["dataset.sqlite", "people.sqlite"] {
        let mut c = SqliteConnection::establish(&folder.path().join(file).to_string_lossy()).unwrap();
        c.batch_execute("DELETE FROM checksums; PRAGMA user_version = 3;").unwrap();
    }
    assert!(matches!(Dataset::open_to_read(folder.path()), Err(StoreError::Older { .. })));
    let store = Dataset::open(folder.path()).unwrap();
    store.load_panel().unwrap();
    assert_eq!((store.set_aside(), store.check().unwrap()), (Vec::new(), Vec::new()));
    assert_eq!(People::open(folder.path()).unwrap().damaged(), Vec::<String>::new());
    change(folder.path(), CHANGES[0].1);
    assert_eq!(Dataset::open(folder.path()).unwrap().check().unwrap().len(), 1, "and they are kept");
}

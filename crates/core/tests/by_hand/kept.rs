//! What is computed once is kept: for whom, how much of it, how long, and what becomes of it when nobody waits any more.

use crate::world::{World, currency, day};
use artemon_core::{
    domain::{Item, Period},
    engine::{Cache, Cancel, Cancelled, Context, Engine, Keep, Section, Settings},
    valuation::{Assumptions, RequiredReturn},
};
use std::{
    sync::{
        Arc, Barrier,
        atomic::{AtomicUsize, Ordering},
    },
    thread,
    time::Duration,
};

const T: &str = "2024-03-01";

fn world() -> World {
    let items = [(Item::EpsDiluted, 2.0), (Item::NetIncome, 200.0), (Item::Equity, 1000.0), (Item::SharesOutstanding, 100.0)];
    World::new().filed((2023, Period::FY), "2023-12-31", "2024-02-20", &items).price(T, 30.0)
}

fn settings(r: f64) -> Arc<Settings> {
    let standard = Settings::standard(currency("XFA"));
    let assumptions = Assumptions { required_return: RequiredReturn::Fixed(r), ..Assumptions::standard() };
    Arc::new(Settings { assumptions, ..standard })
}

/// Something that takes a megabyte and says when it was made.
#[derive(Debug)]
struct Heavy(usize);

impl Keep for Heavy {
    fn bytes(&self) -> usize {
        1 << 20
    }
}

/// Findings and coverage of a dataset: a change of settings leaves them, other data does not.
#[test]
fn what_is_of_the_data_alone_outlives_settings() {
    let engine = Engine::new(world().snapshot());
    let made = engine.context(settings(0.09)).engine().whole(|| Heavy(1));
    let under_others = engine.context(settings(0.12)).engine().whole(|| Heavy(2));
    assert!(Arc::ptr_eq(&made, &under_others));
    let next = engine.next(world().price("2024-03-04", 31.0).snapshot());
    assert_eq!(next.whole(|| Heavy(3)).0, 3);
    assert_eq!(next.whole(|| Heavy(4)).0, 3);
}

/// Values are those of a set: of two sets both stay, and each is found again.
#[test]
fn values_of_two_sets_are_both_kept() {
    let engine = Engine::new(world().snapshot());
    let [nine, twelve] = [0.09, 0.12].map(|r| engine.context(settings(r)));
    let (first, second) = (nine.valuations(day(T)), twelve.valuations(day(T)));
    let by_earnings = |all: &[artemon_core::valuation::Valuation]| all[0].cells[0].value.or(all[0].cells[4].value).unwrap();
    assert!(by_earnings(&first) > by_earnings(&second));
    assert!(Arc::ptr_eq(&first, &nine.valuations(day(T))) && Arc::ptr_eq(&second, &twelve.valuations(day(T))));
    assert!(Arc::ptr_eq(&first, &engine.context(settings(0.09)).valuations(day(T))), "the same settings once more");
    assert!(!Arc::ptr_eq(&first, &engine.next(world().snapshot()).context(settings(0.09)).valuations(day(T))), "other data");
}

/// However many ask at once, one computes.
#[test]
fn one_computes_for_all_who_ask() {
    let engine = Engine::new(world().snapshot());
    let (made, all) = (AtomicUsize::new(0), Barrier::new(8));
    let answers: Vec<Arc<Heavy>> = thread::scope(|s| {
        let ask = || {
            all.wait();
            engine.whole(|| {
                thread::sleep(Duration::from_millis(50));
                Heavy(made.fetch_add(1, Ordering::SeqCst))
            })
        };
        let asking: Vec<_> = (0..8).map(|_| s.spawn(ask)).collect();
        asking.into_iter().map(|t| t.join().unwrap()).collect()
    });
    assert_eq!(made.load(Ordering::SeqCst), 1);
    assert!(answers.iter().all(|a| Arc::ptr_eq(a, &answers[0])));
}

/// The first who asks goes away in the middle: the others are not left waiting, one of them computes.
#[test]
fn who_goes_away_leaves_nobody_waiting() {
    let engine = Engine::new(world().snapshot());
    let cancel = Cancel::default();
    let begun = Barrier::new(2);
    thread::scope(|s| {
        let first = s.spawn(|| {
            Cancelled::caught(|| {
                engine.whole(|| {
                    begun.wait();
                    while !cancel.is_cancelled() {
                        thread::yield_now();
                    }
                    cancel.check();
                    Heavy(1)
                })
            })
        });
        begun.wait();
        let second = s.spawn(|| engine.whole(|| Heavy(2)).0);
        thread::sleep(Duration::from_millis(20));
        cancel.cancel();
        assert_eq!(first.join().unwrap().map(|h| h.0), Err(Cancelled));
        assert_eq!(second.join().unwrap(), 2);
    });
    assert_eq!(engine.whole(|| Heavy(3)).0, 2);
}

/// A bound in bytes: what was used longest ago goes, what is used stays.
#[test]
fn what_was_used_longest_ago_goes_first() {
    struct Of<const N: u8>;
    impl<const N: u8> Keep for Of<N> {
        fn bytes(&self) -> usize {
            400 << 10
        }
    }
    let engine = Engine::with_cache(world().snapshot(), Cache::bounded(1 << 20));
    let made = AtomicUsize::new(0);
    let count = || made.fetch_add(1, Ordering::SeqCst);
    let (a, b, c) = (
        || drop(engine.whole(|| (count(), Of::<1>).1)),
        || drop(engine.whole(|| (count(), Of::<2>).1)),
        || drop(engine.whole(|| (count(), Of::<3>).1)),
    );
    // Two fit, a third does not; the cache tidies up after itself a little later.
    a();
    b();
    for _ in 0..2_000 {
        a();
    }
    c();
    for _ in 0..2_000 {
        a();
        c();
    }
    assert_eq!(made.load(Ordering::SeqCst), 3);
    b();
    assert_eq!(made.load(Ordering::SeqCst), 4, "the second was let go");
}

/// A column is kept by what it depends on: another margin leaves values alone and changes what follows from it, another
/// required return changes both, and neither touches what prices and filings say.
#[test]
fn a_column_depends_on_what_it_is_made_of() {
    let engine = Engine::new(world().snapshot());
    let with = |change: fn(&mut Assumptions)| {
        let mut assumptions = Assumptions::standard();
        change(&mut assumptions);
        engine.context(Arc::new(Settings { assumptions, ..Settings::standard(currency("XFA")) }))
    };
    let column = |context: &Context, formula: &str| {
        let section = Section::new(context, day(T));
        section.column(&section.compile(formula).unwrap())
    };
    let standard = with(|_| {});
    type Case = (fn(&mut Assumptions), [bool; 5]);
    let cases: [Case; 5] = [
        (|_| {}, [true; 5]),
        (|a| a.margin = 0.4, [true, true, false, true, true]),
        (|a| a.required_return = RequiredReturn::Fixed(0.12), [true, false, false, true, false]),
        (|a| a.draws = 2_000, [true; 5]),
        (|a| a.quiet_months = [1, 2, 3], [true, true, true, false, true]),
    ];
    for (i, (change, same)) in cases.into_iter().enumerate() {
        let changed = with(change);
        for (formula, same) in ["pe", "intrinsic_value", "buy_below", "red_flags", "value_high"].into_iter().zip(same) {
            let equal = Arc::ptr_eq(&column(&standard, formula), &column(&changed, formula));
            assert_eq!(equal, same, "{formula} after change {i}");
        }
    }
}

//! What the dataset holds, who is found in it, and the next snapshot after a day more.

use crate::world::{World, currency, day, estimate, officer, trade};
use artemon_core::{
    domain::{
        Action, ActionKind, Bar, Company, Event, EventKind, Index, IndexLevel, IndexMember, Item, Listing, Metric, News, Ownership, Period,
        Rate, RateSeries, Record, Table,
    },
    panel::{BarStanding, Changes, Extent, PanelBuilder, Snapshot},
};
use std::{
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

fn bar(on: &str, price: f64) -> Bar {
    Bar { date: day(on), open: price, high: price + 1.0, low: price - 1.0, close: price + 0.5, volume: 100.0 }
}

fn news(company: Option<&str>, published_at: &str) -> Record {
    let (headline, summary, source) = ("Headline".to_owned(), String::new(), String::new());
    Record::News(Box::new(News { company_id: company.map(Into::into), published_at: published_at.to_owned(), headline, summary, source }))
}

/// Some rows of every table, all of one company; a second company, "D", has no listing and no rows.
fn every_table() -> World {
    let owned = |as_of| Ownership {
        company_id: "C".into(),
        as_of: day(as_of),
        filed_on: day("2024-02-01"),
        insiders: None,
        controlling: None,
        institutions: None,
        pledged: None,
    };
    let member = |company: &str, from| IndexMember { index_id: "I".into(), company_id: company.into(), from: day(from), to: None };
    let level = |on, level| Record::IndexLevel(IndexLevel { index_id: "I".into(), date: day(on), level });
    let rate = |on| Record::Rate(Rate { date: day(on), currency: currency("XFA"), series: RateSeries::ALL[0], value: 0.02 });
    let w = World::new();
    let second = Company { id: "D".into(), name: "Second".to_owned(), ..w.company.clone() };
    w.row(Record::Company(second))
        .filed((2022, Period::FY), "2022-12-31", "2023-03-01", &[(Item::Revenue, 1.0)])
        .filed((2023, Period::FY), "2023-12-31", "2024-03-02", &[(Item::Revenue, 2.0)])
        .filed((2023, Period::FY), "2023-12-31", "2024-05-02", &[(Item::Revenue, 3.0)])
        .price("2022-12-30", 10.0)
        .price("2023-01-02", 11.0)
        .price("2024-01-02", 12.0)
        .price("2024-01-03", 13.0)
        .split("2024-01-03", 2.0)
        .dividend("2021-06-01", 1.0)
        .row(estimate("2024-02-01", Metric::Eps, Some(2024), 1.0))
        .row(Record::InsiderTrade(Box::new(trade("A", "2024-01-10", true))))
        .row(Record::Ownership(owned("2023-12-31")))
        .row(officer("First", "chief_executive", "2010-05-01", None))
        .row(Record::Event(Event {
            company_id: "C".into(),
            date: day("2024-08-01"),
            kind: EventKind::ALL[0],
            confirmed: true,
            announced_on: None,
        }))
        .row(news(Some("C"), "2024-01-05T09:00:00Z"))
        .row(news(None, "2024-01-06T09:00:00Z"))
        .row(rate("2023-05-01"))
        .row(rate("2024-05-01"))
        .fx("2024-01-02", "XFA", "XFB", 1.5)
        .row(Record::Index(Index { id: "I".into(), name: "Index".to_owned(), currency: currency("XFA") }))
        .row(Record::IndexMember(member("C", "2020-01-10")))
        .row(Record::IndexMember(member("D", "2021-01-10")))
        .row(level("2023-12-29", 100.0))
        .row(level("2024-01-02", 101.0))
        .row(level("2024-01-03", 102.0))
}

/// Rows, companies and days of each table, and by year the companies with rows, or the rows of tables that belong to none.
#[test]
fn coverage_counts_what_is_there() {
    let coverage = every_table().snapshot().coverage();
    let all: BTreeMap<Table, _> = coverage.iter().map(|c| (c.table, c)).collect();
    assert_eq!(all.len(), coverage.len(), "a table once");
    let of = |table: Table, rows, companies, days: Option<(&str, &str)>, years: &[(i32, usize)]| {
        let got = all[&table];
        assert_eq!((got.rows, got.companies), (rows, companies), "{table:?}");
        assert_eq!(got.first.zip(got.last), days.map(|(a, b)| (day(a), day(b))), "{table:?}");
        assert_eq!(got.years, years.iter().copied().collect(), "{table:?}");
    };
    of(Table::Companies, 2, 2, None, &[]);
    of(Table::Listings, 1, 1, None, &[]);
    of(Table::Statements, 3, 1, Some(("2023-03-01", "2024-05-02")), &[(2023, 1), (2024, 1)]);
    of(Table::Prices, 4, 1, Some(("2022-12-30", "2024-01-03")), &[(2022, 1), (2023, 1), (2024, 1)]);
    of(Table::Actions, 2, 1, Some(("2021-06-01", "2024-01-03")), &[(2021, 1), (2024, 1)]);
    of(Table::Estimates, 1, 1, Some(("2024-02-01", "2024-02-01")), &[(2024, 1)]);
    of(Table::InsiderTrades, 1, 1, Some(("2024-01-12", "2024-01-12")), &[(2024, 1)]);
    of(Table::Ownership, 1, 1, Some(("2023-12-31", "2023-12-31")), &[(2023, 1)]);
    of(Table::Officers, 1, 1, Some(("2010-05-01", "2010-05-01")), &[(2010, 1)]);
    of(Table::Events, 1, 1, Some(("2024-08-01", "2024-08-01")), &[(2024, 1)]);
    of(Table::News, 1, 1, Some(("2024-01-05", "2024-01-05")), &[(2024, 1)]);
    of(Table::Rates, 2, 0, Some(("2023-05-01", "2024-05-01")), &[(2023, 1), (2024, 1)]);
    of(Table::Fx, 1, 0, Some(("2024-01-02", "2024-01-02")), &[(2024, 1)]);
    of(Table::Indexes, 1, 0, None, &[]);
    of(Table::IndexMembers, 2, 0, Some(("2020-01-10", "2021-01-10")), &[(2020, 1), (2021, 1)]);
    of(Table::IndexLevels, 3, 0, Some(("2023-12-29", "2024-01-03")), &[(2023, 1), (2024, 2)]);
}

#[test]
fn extent_of_one_company() {
    let s = every_table().snapshot();
    // In order of symbol: "D" has none and stands under its id.
    let (without, with) = (s.find("D").unwrap(), s.find("SYM").unwrap());
    assert_eq!((without, with), (0, 1));
    assert_eq!(s.extent(with, Table::Prices), Extent { rows: 4, days: Some((day("2022-12-30"), day("2024-01-03"))) });
    assert_eq!(s.extent(without, Table::Prices), Extent { rows: 0, days: None });
    assert_eq!(s.newest_filing(with), Some((day("2024-05-02"), "2023/FY")));
    assert_eq!(s.newest_filing(without), None);
    assert_eq!(s.sessions(), Some((day("2022-12-30"), day("2024-01-03"))));
    assert_eq!(World::new().snapshot().sessions(), None);
    assert_eq!(s.indexes().collect::<Vec<_>>(), [("I", "Index", currency("XFA"))]);
}

/// Under symbol, ISIN and id, in any case and with spaces around; its symbol is what others call it.
#[test]
fn a_company_is_found_under_every_key() {
    let mut w = World::new();
    w.listing.isin = "XA0000000001".to_owned();
    let s = w.snapshot();
    for key in ["SYM", " sym ", "xa0000000001", "C", "c"] {
        assert_eq!(s.find(key), Some(0), "{key}");
    }
    assert_eq!(s.find("SY"), None);
    assert_eq!((s.company_count(), s.symbol(0), &*s.company(0).id), (1, "SYM", "C"));
    let mut keys: Vec<&str> = s.keys().collect();
    keys.sort_unstable();
    assert_eq!(keys, ["C", "SYM", "XA0000000001"]);
}

/// Of two that are equally common, the first in the alphabet.
#[test]
fn the_base_currency_is_what_most_report_in() {
    let of = |currencies: &[&str]| {
        let mut builder = PanelBuilder::default();
        for (i, code) in currencies.iter().enumerate() {
            let id = format!("{i}").into();
            builder.push(Record::Company(Company { id, currency: currency(code), ..World::new().company }));
        }
        builder.build().commonest_currency()
    };
    assert_eq!(of(&["XFB", "XFA", "XFB"]), Some(currency("XFB")));
    assert_eq!(of(&["XFB", "XFA"]), Some(currency("XFA")));
    assert_eq!(of(&[]), None);
}

#[test]
fn a_bar_is_later_the_same_or_another() {
    let s = World::new().row(Record::Price { symbol: "SYM".into(), bar: bar("2024-01-02", 10.0) });
    let s = s.row(Record::Price { symbol: "SYM".into(), bar: bar("2024-01-04", 11.0) }).snapshot();
    let standing = |bar: Bar| s.bar_standing(0, &bar);
    assert_eq!(standing(bar("2024-01-05", 11.0)), BarStanding::Later);
    assert_eq!(standing(bar("2024-01-04", 11.0)), BarStanding::Same);
    assert_eq!(standing(bar("2024-01-02", 10.0)), BarStanding::Same);
    assert_eq!(standing(bar("2024-01-03", 10.0)), BarStanding::Other, "a session between");
    for changed in [
        Bar { open: 9.5, ..bar("2024-01-02", 10.0) },
        Bar { high: 12.0, ..bar("2024-01-02", 10.0) },
        Bar { low: 8.0, ..bar("2024-01-02", 10.0) },
        Bar { close: 10.0, ..bar("2024-01-02", 10.0) },
        Bar { volume: 101.0, ..bar("2024-01-02", 10.0) },
    ] {
        assert_eq!(standing(changed), BarStanding::Other);
    }
    assert_eq!(World::new().snapshot().bar_standing(0, &bar("2024-01-02", 1.0)), BarStanding::Other, "the first bar of all");
}

/// The rows that a company has at last, whatever came before them.
fn shares_with(s: &Snapshot, symbol: &str) -> usize {
    s.extent(s.find(symbol).unwrap(), Table::Prices).rows
}

/// Appended sessions follow those that are there; a company pushed anew replaces the one before, and others stay.
#[test]
fn the_next_snapshot_has_what_changed() {
    let base = every_table().snapshot();
    let days = vec![bar("2024-01-04", 14.0), bar("2024-01-05", 15.0)];
    let appended: HashMap<Arc<str>, Vec<Bar>> = HashMap::from([("SYM".into(), days)]);
    let grown = base.followed_by(Changes { appended: appended.clone(), ..Changes::default() });
    assert_eq!((shares_with(&grown, "SYM"), shares_with(&base, "SYM")), (6, 4));
    assert_eq!(grown.sessions(), Some((day("2022-12-30"), day("2024-01-05"))));
    assert_eq!(grown.coverage().iter().map(|c| c.rows).sum::<usize>(), base.coverage().iter().map(|c| c.rows).sum::<usize>() + 2);

    let renamed = || {
        let mut again = PanelBuilder::default();
        again.push(Record::Company(Company { name: "Renamed".to_owned(), ..World::new().company }));
        again.push(Record::Listing(World::new().listing));
        vec![again.build_part()]
    };
    let replaced = base.followed_by(Changes { companies: renamed(), market: Some(PanelBuilder::default()), ..Changes::default() });
    assert_eq!((replaced.company_count(), shares_with(&replaced, "SYM")), (2, 0));
    assert_eq!(replaced.company(replaced.find("SYM").unwrap()).name, "Renamed");
    let rates = replaced.coverage().into_iter().find(|c| c.table == Table::Rates).unwrap();
    assert_eq!(rates.rows, 0, "what belongs to no company was made anew, of nothing");

    // Other facts with the bars of before, and with the sessions that follow them.
    for (appended, bars) in [(HashMap::new(), 4), (appended, 6)] {
        let refiled = base.followed_by(Changes { facts: renamed(), appended, ..Changes::default() });
        assert_eq!((refiled.company_count(), shares_with(&refiled, "SYM")), (2, bars));
        assert_eq!(refiled.company(refiled.find("SYM").unwrap()).name, "Renamed");
    }
}

/// Prices and splits may come before the listing; those of a listing that is not primary count for nobody.
#[test]
fn rows_come_in_any_order() {
    let mut w = World::new();
    let other = Listing { symbol: "ELSE".into(), primary: false, ..w.listing.clone() };
    let action = Action {
        symbol: "ELSE".into(),
        ex_date: day("2024-01-03"),
        kind: ActionKind::Split,
        ratio: Some(2.0),
        amount: None,
        declared_on: None,
        record_date: None,
        pay_date: None,
    };
    let mut rows = vec![
        Record::Price { symbol: "SYM".into(), bar: bar("2024-01-03", 10.0) },
        Record::Price { symbol: "ELSE".into(), bar: bar("2024-01-04", 11.0) },
        Record::Action(action),
        Record::Price { symbol: "GONE".into(), bar: bar("2024-01-05", 11.0) },
    ];
    for listing_last in [true, false] {
        let mut builder = PanelBuilder::default();
        let listings = [Record::Listing(w.listing.clone()), Record::Listing(other.clone()), Record::Company(w.company.clone())];
        let (first, last) = if listing_last { (rows.clone(), listings.to_vec()) } else { (listings.to_vec(), rows.clone()) };
        first.into_iter().chain(last).for_each(|r| builder.push(r));
        let s = builder.build();
        assert_eq!(s.extent(0, Table::Prices), Extent { rows: 1, days: Some((day("2024-01-03"), day("2024-01-03"))) });
        assert_eq!(s.extent(0, Table::Actions).rows, 0);
    }
    rows.truncate(1);
    w.rows = rows;
    assert_eq!(w.snapshot().sessions(), Some((day("2024-01-03"), day("2024-01-03"))));
}

/// Equal for equal rows in whatever order and however they came in; another for any figure that something is computed from.
#[test]
fn a_fingerprint_is_that_of_the_figures() {
    let world = every_table();
    let rows = || {
        let mut all = vec![Record::Company(world.company.clone()), Record::Listing(world.listing.clone())];
        all.extend(world.rows.iter().cloned());
        all
    };
    let print = |rows: Vec<Record>| {
        let mut builder = PanelBuilder::default();
        rows.into_iter().for_each(|r| builder.push(r));
        builder.build().fingerprint()
    };
    let whole = print(rows());
    assert_eq!(whole.len(), 16);
    assert_eq!(print(rows().into_iter().rev().collect()), whole);
    let mut differing = 0;
    for (i, record) in rows().into_iter().enumerate() {
        let changed = match record {
            Record::Price { symbol, bar } => Record::Price { symbol, bar: Bar { volume: bar.volume + 1.0, ..bar } },
            Record::Estimate(e) => Record::Estimate(artemon_core::domain::Estimate { mean: e.mean + 0.25, ..e }),
            Record::Fx(r) => Record::Fx(artemon_core::domain::FxRate { rate: r.rate * 2.0, ..r }),
            Record::Action(a) => Record::Action(Action { amount: a.amount.map(|x| x + 1.0), ratio: a.ratio.map(|x| x + 1.0), ..a }),
            _ => continue,
        };
        let mut other = rows();
        other[i] = changed;
        assert_ne!(print(other), whole, "row {i}");
        differing += 1;
    }
    assert!(differing >= 3, "{differing} rows were changed");
}

//! Rules 1 and 2: the universe, indexes, officers; rule 12: the calendar.

use crate::world::{World, currency, day, officer};
use artemon_core::{
    Why,
    domain::{Index, IndexLevel, IndexMember, Record, Span, SpanUnit},
};

/// In the universe from listing until delisting, while the last price is at most ten days old.
#[test]
fn a_company_is_in_the_universe_while_it_is_listed_and_traded() {
    let mut w = World::new().price("2024-01-02", 10.0).price("2024-03-01", 9.0);
    w.listing.listed_on = Some(day("2024-01-03"));
    w.listing.delisted_on = Some(day("2024-03-05"));
    let within = |t: &str| w.at(t, |c| c.in_universe());
    assert!(!within("2024-01-02"), "not listed yet");
    assert!(within("2024-01-03"));
    assert!(within("2024-01-12"), "ten days after the last price");
    assert!(!within("2024-01-13"), "eleven days after");
    assert!(within("2024-03-04"));
    assert!(!within("2024-03-05"), "delisted that day");
}

#[test]
fn index_members_belong_from_the_first_day_and_not_on_the_last() {
    let member = IndexMember { index_id: "I".into(), company_id: "C".into(), from: day("2024-01-10"), to: Some(day("2024-02-10")) };
    let w = World::new()
        .price("2024-01-02", 1.0)
        .row(Record::Index(Index { id: "I".into(), name: "Index".to_owned(), currency: currency("XFA") }))
        .row(Record::IndexMember(member))
        .row(Record::IndexLevel(IndexLevel { index_id: "I".into(), date: day("2024-01-15"), level: 104.0 }));
    let members = |t: &str| w.at(t, |c| c.as_of.index_members("I").unwrap());
    assert!(members("2024-01-09").is_empty());
    assert_eq!(members("2024-01-10"), [0]);
    assert_eq!(members("2024-02-09"), [0]);
    assert!(members("2024-02-10").is_empty());
    let first = |t: &str| w.at(t, |c| c.first_index().map(str::to_owned));
    assert_eq!((first("2024-01-09"), first("2024-01-10").as_deref()), (None, Some("I")));
    assert_eq!((first("2024-02-09").as_deref(), first("2024-02-10")), (Some("I"), None));
    w.at("2024-01-14", |c| assert_eq!(c.as_of.index_level("I"), None));
    w.at("2024-01-20", |c| assert_eq!((c.as_of.index_level("I"), c.as_of.index_members("J")), (Some(104.0), None)));
}

/// Of several indexes the first by id in which the company is; others' memberships, before and after in the alphabet, say nothing.
#[test]
fn the_first_index_is_the_companys_own() {
    let member = |index: &str, company: &str, from| {
        Record::IndexMember(IndexMember { index_id: index.into(), company_id: company.into(), from: day(from), to: None })
    };
    let index = |id: &str| Record::Index(Index { id: id.into(), name: id.to_owned(), currency: currency("XFB") });
    let level = |id: &str, on, level| Record::IndexLevel(IndexLevel { index_id: id.into(), date: day(on), level });
    let w = World::new()
        .price("2024-01-02", 1.0)
        .row(index("I"))
        .row(index("J"))
        .row(member("I", "B", "2020-01-01"))
        .row(member("I", "D", "2020-01-01"))
        .row(member("J", "B", "2020-01-01"))
        .row(member("J", "C", "2022-01-01"))
        .row(member("I", "C", "2024-01-10"))
        .row(level("J", "2024-01-03", 110.0))
        .row(level("J", "2024-01-02", 100.0))
        .fx("2024-01-02", "XFA", "XFB", 2.0);
    let first = |t: &str| w.at(t, |c| c.first_index().map(str::to_owned));
    assert_eq!(first("2021-12-31"), None);
    assert_eq!(first("2024-01-09").as_deref(), Some("J"));
    assert_eq!(first("2024-01-10").as_deref(), Some("I"));
    // In the listing's currency, of the newest day on or before the one asked for, and never later than the date.
    w.at("2024-01-04", |c| assert_eq!(c.index_level("J", day("2024-01-03")), Ok(55.0)));
    w.at("2024-01-02", |c| assert_eq!(c.index_level("J", day("2024-01-03")), Ok(50.0)));
    w.at("2024-01-04", |c| assert_eq!(c.index_level("J", day("2024-01-01")), Err(Why::NoIndex)));
    w.at("2024-01-04", |c| assert_eq!(c.index_level("K", day("2024-01-03")), Err(Why::NoIndex)));
}

#[test]
fn officers_are_those_in_office() {
    let chief = |name, since, until| officer(name, "chief_executive", since, until);
    let w = World::new().row(chief("First", "2010-05-01", Some("2020-06-01"))).row(chief("Second", "2020-06-01", None));
    let in_office = |t: &str| w.at(t, |c| c.officers().map(|o| o.name.clone()).collect::<Vec<_>>());
    assert_eq!(in_office("2010-04-30"), Vec::<String>::new());
    assert_eq!(in_office("2020-05-31"), ["First"]);
    assert_eq!(in_office("2020-06-01"), ["Second"]);
    let since = |t: &str| w.at(t, |c| c.chief_since().map(|d| d.to_string()));
    assert_eq!((since("2010-04-30"), since("2020-05-31").as_deref()), (None, Some("2010-05-01")));
    assert_eq!(since("2020-06-01").as_deref(), Some("2020-06-01"));
}

/// Rule 12: the same day of the earlier month, or its last where there is none.
#[test]
fn months_back_end_where_the_month_ends() {
    let back = |t: &str, count, unit| day(t).minus(Span { count, unit }).to_string();
    assert_eq!(back("2024-03-31", 1, SpanUnit::Months), "2024-02-29");
    assert_eq!(back("2024-02-29", 1, SpanUnit::Years), "2023-02-28");
    assert_eq!(back("2024-03-01", 2, SpanUnit::Weeks), "2024-02-16");
}

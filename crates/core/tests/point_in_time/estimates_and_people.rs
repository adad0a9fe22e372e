//! Rule 1 for estimates, insiders' trades, ownership, events and news.

use crate::world::{World, assert_is, currency, day, estimate};
use artemon_core::{
    Why,
    domain::{Event, EventKind, InsiderTrade, Metric, News, Ownership, Record, Role},
};

/// Estimates count from the day they are published, for twelve months, on the split basis of the date.
#[test]
fn estimates_count_for_twelve_months() {
    let w = World::new().price("2024-01-02", 10.0).row(estimate("2023-05-10", Metric::PriceTarget, None, 30.0)).split("2023-09-01", 2.0);
    let of = |t: &str| w.at(t, |c| c.estimate(Metric::PriceTarget, None).map(|e| e.mean));
    assert_eq!(of("2023-05-09"), Err(Why::NoEstimate));
    assert_is(of("2023-05-10"), 30.0);
    assert_is(of("2023-09-01"), 15.0);
    assert_is(of("2024-05-09"), 15.0);
    assert_eq!(of("2024-05-10"), Err(Why::NoEstimate));
}

fn purchase(filing: &str, filed_on: &str, traded_on: &str, shares: f64) -> Record {
    Record::InsiderTrade(Box::new(InsiderTrade {
        company_id: "C".into(),
        filing_id: filing.to_owned(),
        filed_on: day(filed_on),
        traded_on: day(traded_on),
        insider_id: "P1".into(),
        insider_name: "Person".into(),
        role: Some(Role::Director),
        code: "P".into(),
        acquired: true,
        shares,
        price: Some(5.0),
        currency: currency("XFA"),
        shares_after: None,
        direct: true,
        planned: false,
        superseded_on: None,
    }))
}

/// A row counts until the day of the amendment that corrects it, and the corrected one from then; as sums of purchases too.
#[test]
fn a_corrected_trade_counts_from_the_amendment() {
    let amended = |record: Record, on: &str| match record {
        Record::InsiderTrade(t) => Record::InsiderTrade(Box::new(InsiderTrade { superseded_on: Some(day(on)), ..*t })),
        other => other,
    };
    let w = World::new()
        .price("2024-03-01", 5.0)
        .row(amended(purchase("a", "2024-03-07", "2024-03-05", 800.0), "2024-03-20"))
        .row(purchase("b", "2024-03-20", "2024-03-05", 880.0));
    let known = |t: &str| w.at(t, |c| c.insider_trades().map(|x| x.shares).collect::<Vec<_>>());
    assert_eq!((known("2024-03-06"), known("2024-03-19"), known("2024-03-20")), (vec![], vec![800.0], vec![880.0]));
    let open = |t: &str| w.at(t, |c| c.open_trades(day("2024-01-01")).filter_map(|x| x.amount).collect::<Vec<_>>());
    assert_eq!((open("2024-03-19"), open("2024-03-20")), (vec![4000.0], vec![4400.0]));
    assert_eq!(w.at("2024-03-20", |c| c.insider_trades_since(day("2024-03-19")).count()), 1);
}

/// A trade filed twice counts once, from the first filing.
#[test]
fn a_trade_filed_twice_counts_once() {
    let w = World::new()
        .price("2024-03-01", 5.0)
        .row(purchase("b", "2024-03-20", "2024-03-05", 100.0))
        .row(purchase("a", "2024-03-07", "2024-03-05", 100.0))
        .row(purchase("c", "2024-03-20", "2024-03-05", 40.0));
    assert_eq!(w.ask("insider_net_buying(3)", "2024-03-06").unwrap_err(), Why::NoInsiderData);
    assert_is(w.ask("insider_net_buying(3)", "2024-03-07"), 500.0);
    assert_is(w.ask("insider_net_buying(3)", "2024-03-20"), 700.0);
    // The window is closed at t and open at its old end, by the day of the trade.
    assert_is(w.ask("insider_net_buying(3)", "2024-06-04"), 700.0);
    assert_is(w.ask("insider_net_buying(3)", "2024-06-05"), 0.0);
}

/// Two purchases by one person around a split: the price since is on one basis, the second is no first.
#[test]
fn a_trade_shows_its_signs() {
    let w = World::new()
        .price("2023-01-02", 10.0)
        .price("2024-03-05", 6.0)
        .price("2024-09-02", 3.0)
        .split("2024-06-03", 2.0)
        .row(purchase("a", "2024-03-11", "2024-03-05", 100.0))
        .row(purchase("b", "2024-09-03", "2024-09-02", 50.0));
    let signs = |t: &str, i: usize| w.at(t, |c| artemon_core::insiders::signs(c, c.insider_trades().nth(i).unwrap()));
    let first = signs("2024-09-03", 0);
    // Paid 5 before the split of 2, which is 2.5 now; the price is 3.
    assert_is(first.since.ok_or(Why::NoPrice), 0.2);
    assert_eq!((first.first_in_two_years, first.purchase_of_year), (Some(true), Some(1)));
    assert_eq!((first.late, first.days_to_filing), (true, 6));
    let second = signs("2024-09-03", 1);
    assert_eq!((second.first_in_two_years, second.purchase_of_year), (Some(false), Some(2)));
    assert!(!second.late && second.of_holding.is_none());
}

#[test]
fn ownership_events_and_news_count_from_their_days() {
    let stake = |as_of: &str, filed_on: &str, insiders: f64| {
        let (as_of, filed_on) = (day(as_of), day(filed_on));
        Record::Ownership(Ownership {
            company_id: "C".into(),
            as_of,
            filed_on,
            insiders: Some(insiders),
            controlling: None,
            institutions: None,
            pledged: None,
        })
    };
    let news = |company: Option<&str>, at: &str| {
        Record::News(Box::new(News {
            company_id: company.map(Into::into),
            published_at: at.to_owned(),
            headline: "A headline".to_owned(),
            summary: String::new(),
            source: String::new(),
        }))
    };
    let event = |date: &str, announced_on: Option<&str>| {
        let announced_on = announced_on.map(day);
        Record::Event(Event { company_id: "C".into(), date: day(date), kind: EventKind::Earnings, confirmed: true, announced_on })
    };
    let w = World::new()
        .row(stake("2024-03-31", "2024-04-20", 0.12))
        .row(stake("2023-12-31", "2024-01-20", 0.10))
        .row(news(Some("C"), "2024-05-01T23:30:00+02:00"))
        .row(news(None, "2024-05-02T08:00:00Z"))
        .row(event("2024-05-05", None))
        // Announced long before, and at short notice.
        .row(event("2024-08-01", Some("2024-02-20")))
        .row(event("2024-08-05", Some("2024-08-02")));
    assert_is(w.ask("insider_stake", "2024-04-19"), 0.10);
    assert_is(w.ask("insider_stake", "2024-04-20"), 0.12);
    let known = |t: &str| w.at(t, |c| (c.news().count(), c.as_of.market_news().count(), c.events().len()));
    assert_eq!(known("2024-04-30"), (0, 0, 0));
    assert_eq!(known("2024-05-01"), (1, 0, 0));
    assert_eq!(known("2024-05-05"), (1, 1, 1));
    let ahead = |t: &str| w.at(t, |c| c.events_ahead().map(|e| e.date.to_string()).collect::<Vec<_>>());
    assert!(ahead("2024-02-19").is_empty());
    assert_eq!(ahead("2024-02-20"), ["2024-08-01"]);
    assert_eq!((ahead("2024-04-04"), ahead("2024-04-05")), (vec!["2024-08-01".into()], vec!["2024-05-05".into(), "2024-08-01".to_owned()]));
    assert_eq!((ahead("2024-08-01").len(), ahead("2024-08-02")), (0, vec!["2024-08-05".to_owned()]));
}

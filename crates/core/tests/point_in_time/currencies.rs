//! Rule 9: currencies, through third ones where need be, and units of several shares.

use crate::world::{World, assert_is, currency, estimate};
use artemon_core::{
    Why,
    domain::{Item::*, Metric, Period::*, Record},
};

/// A company that reports in XFC, is listed in XFB, and counts two shares a unit.
fn foreign() -> World {
    let mut w = World::new();
    w.company.currency = currency("XFC");
    w.listing.currency = currency("XFB");
    w.listing.shares_per_unit = 2.0;
    let items =
        [(Revenue, 600.0), (EpsDiluted, 3.0), (SharesOutstanding, 100.0), (SharesDiluted, 100.0), (Equity, 240.0), (TotalAssets, 500.0)];
    w.filed((2023, FY), "2023-12-31", "2024-03-01", &items).price("2024-03-01", 50.0)
}

#[test]
fn amounts_are_in_the_base_and_shares_in_the_listing_currency() {
    // 1 XFC = 0.5 XFA; 1 XFB = 2 XFA, so 1 XFC = 0.25 XFB.
    let w = foreign().fx("2024-02-20", "XFC", "XFA", 0.5).fx("2024-02-20", "XFB", "XFA", 2.0);
    let t = "2024-03-01";
    assert_is(w.ask("revenue", t), 300.0);
    assert_is(w.ask("eps", t), 3.0 * 2.0 * 0.25);
    assert_is(w.ask("pe", t), 50.0 / 1.5);
    // 50 units of two shares at 50 XFB.
    assert_is(w.ask("market_cap", t), 50.0 * 50.0 * 2.0);
    assert_is(w.ask("pb", t), 5000.0 / 120.0);
    assert_is(w.ask("shares_outstanding", t), 100.0);
    // What a valuation starts from: equity of 240 over 100 shares, two a unit, a quarter of it in the listing's currency.
    let found = w.context().value_company(crate::world::day(t), 0).found;
    assert_is(found.book, 1.2);
    assert_is(found.earnings, 1.5);
}

/// The direct pair, else its inverse, else through the alphabetically first common third currency.
#[test]
fn rates_are_found_directly_inverted_or_through_a_third() {
    let rate = |w: World| w.at("2024-03-01", |c| c.fx(currency("XFC"), currency("XFA")));
    assert_is(rate(foreign().fx("2024-03-01", "XFC", "XFA", 0.5).fx("2024-03-01", "XFA", "XFC", 9.0)), 0.5);
    assert_is(rate(foreign().fx("2024-03-01", "XFA", "XFC", 4.0)), 0.25);
    let third = foreign().fx("2024-03-01", "XFC", "XFZ", 3.0).fx("2024-03-01", "XFZ", "XFA", 7.0).fx("2024-03-01", "XFC", "XFM", 2.0).fx(
        "2024-03-01",
        "XFM",
        "XFA",
        5.0,
    );
    assert_is(rate(third), 10.0);
    assert_eq!(rate(foreign()), Err(Why::NoFx));
}

/// A rate counts for 31 days.
#[test]
fn an_old_rate_is_no_rate() {
    let w = foreign().fx("2024-02-01", "XFC", "XFA", 0.5).fx("2024-02-01", "XFB", "XFA", 2.0);
    assert_is(w.ask("revenue", "2024-03-03"), 300.0);
    assert_eq!(w.ask("revenue", "2024-03-04").unwrap_err(), Why::NoFx);
}

/// All years of an amount are converted at the one rate of the date: growth is that in the reporting currency.
#[test]
fn growth_does_not_move_with_exchange_rates() {
    let w = foreign().filed((2022, FY), "2022-12-31", "2023-03-01", &[(Revenue, 500.0)]).fx("2023-01-10", "XFC", "XFA", 5.0).fx(
        "2024-02-20",
        "XFC",
        "XFA",
        0.5,
    );
    assert_is(w.ask("revenue_growth(1)", "2024-03-01"), 0.2);
    assert_is(w.ask("fy(revenue, 1)", "2024-03-01"), 250.0);
}

/// A company that changed its reporting currency: filings in the old one are converted, those in the new one stay, and a
/// number of shares is of no currency.
#[test]
fn years_in_an_earlier_currency_are_converted() {
    let mut w = World::new()
        .filed((2022, FY), "2022-12-31", "2023-03-01", &[(Revenue, 500.0), (SharesOutstanding, 100.0), (EpsDiluted, 3.0)])
        .filed((2023, FY), "2023-12-31", "2024-03-01", &[(Revenue, 300.0), (SharesOutstanding, 110.0), (EpsDiluted, 1.8)])
        .fx("2024-02-20", "XFC", "XFA", 0.5);
    let artemon_core::domain::Record::Statement(earlier) = &mut w.rows[0] else { panic!("a filing") };
    earlier.currency = currency("XFC");
    let t = "2024-03-01";
    assert_is(w.ask("fy(revenue, 1)", t), 250.0);
    assert_is(w.ask("fy(revenue, 0)", t), 300.0);
    assert_is(w.ask("fy(shares_outstanding, 1)", t), 100.0);
    assert_is(w.ask("fy(eps_diluted, 1)", t), 1.5);
    assert_is(w.ask("revenue_growth(1)", t), 0.2);
    // Exchange rates move its figures, so that they are nobody else's of the same filings.
    w.at(t, |c| assert!(c.filing_state().is_none() && !c.same_statements(c)));
}

/// Two dates have the same statements unless a filing, a split or fifteen months lie between them.
#[test]
fn statements_stay_the_same_between_filings() {
    let w = World::new()
        .filed((2022, FY), "2022-12-31", "2023-03-01", &[(Revenue, 500.0)])
        .filed((2023, FY), "2023-12-31", "2024-03-01", &[(Revenue, 300.0)])
        .split("2024-05-02", 2.0);
    let same = |a: &str, b: &str| {
        let context = w.context();
        let [a, b] = [a, b].map(|t| context.as_of(crate::world::day(t)).company(0));
        assert_eq!(a.same_statements(&b), a.filing_state() == b.filing_state(), "{} {}", a.t(), b.t());
        a.same_statements(&b)
    };
    assert!(same("2023-03-01", "2024-02-29"));
    assert!(!same("2024-02-29", "2024-03-01"), "filed");
    assert!(same("2024-03-01", "2024-05-01"));
    assert!(!same("2024-05-01", "2024-05-02"), "split");
    assert!(same("2024-05-02", "2025-03-31"));
    assert!(!same("2025-03-31", "2025-04-01"), "stale");
}

/// An estimate counts in the currency in which the company reported when it was published: converted once the company reports in
/// another, at the rate of the date, and so does what a quarter was expected to bring.
#[test]
fn estimates_from_before_a_change_of_currency_are_converted() {
    let quarter = |row: Record| {
        let Record::Estimate(mut e) = row else { panic!("an estimate") };
        e.period = Some(Q1);
        Record::Estimate(e)
    };
    let mut w = World::new()
        .filed((2022, FY), "2022-12-31", "2023-03-01", &[(EpsDiluted, 3.0), (EpsAdjusted, 3.0)])
        .filed((2023, Q1), "2023-03-31", "2023-05-02", &[(EpsDiluted, 0.6), (EpsAdjusted, 0.6)])
        .row(estimate("2023-04-03", Metric::Eps, Some(2023), 4.0))
        .row(estimate("2023-04-03", Metric::LongTermGrowth, None, 0.05))
        .row(quarter(estimate("2023-04-03", Metric::Eps, Some(2023), 1.0)))
        .fx("2023-04-20", "XFC", "XFA", 0.5);
    let Record::Statement(earlier) = &mut w.rows[0] else { panic!("a filing") };
    earlier.currency = currency("XFC");
    let expected = |t: &str| w.at(t, |c| [Metric::Eps, Metric::LongTermGrowth].map(|m| c.estimate(m, None).unwrap().mean));
    assert_eq!((expected("2023-05-01"), expected("2023-05-02")), ([4.0, 0.05], [2.0, 0.05]));
    // 0.6 came and 1.0, now 0.5, was expected.
    assert_is(w.ask("eps_surprise(0)", "2023-05-02"), 0.2);
}

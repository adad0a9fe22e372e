//! What insiders did and hold: windows, clusters, signs of a trade, stakes by quarter.

use crate::world::{World, assert_is, day, officer, trade};
use artemon_core::{
    Why,
    domain::{InsiderTrade, Item, Ownership, Period, Record, Role},
    insiders::{self, TradeSigns},
};

const T: &str = "2024-06-28";

fn world(trades: impl IntoIterator<Item = InsiderTrade>) -> World {
    let priced = World::new().price("2023-06-01", 10.0).price("2024-06-28", 10.0);
    trades.into_iter().fold(priced, |w, t| w.row(Record::InsiderTrade(Box::new(t))))
}

/// Purchases less sales of a window that begins after its first day; grants, options and planned trades are no conviction.
#[test]
fn only_free_trades_of_the_window_count() {
    let mut all = vec![trade("A", "2024-06-10", true), trade("B", "2024-05-02", false), trade("C", "2024-03-29", true)];
    all.push(InsiderTrade { planned: true, ..trade("D", "2024-06-10", true) });
    all.push(InsiderTrade { code: "A".into(), ..trade("E", "2024-06-10", true) });
    all.push(InsiderTrade { code: "M".into(), ..trade("F", "2024-06-10", true) });
    all.push(InsiderTrade { code: "F".into(), ..trade("G", "2024-06-10", false) });
    all.push(InsiderTrade { code: "S".into(), acquired: true, ..trade("H", "2024-06-10", true) });
    let w = world(all);
    assert_is(w.ask("insider_net_buying(3)", T), 1_000.0);
    assert_is(w.ask("insider_net_buying(1)", T), 1_000.0);
    assert_is(w.ask("insider_buyers(3)", T), 2.0);
    assert_is(w.ask("insider_sellers(3)", T), 1.0);
    assert_is(w.ask("insider_sellers(1)", T), 0.0);
    // On 29 June the purchase of 29 March is out of the window; before it is filed, a trade is not known.
    assert_is(w.ask("insider_buyers(3)", "2024-06-29"), 1.0);
    assert_is(w.ask("insider_buyers(1)", "2024-06-11"), 0.0);
    assert_is(w.ask("insider_buyers(1)", "2024-06-12"), 1.0);
    assert_is(w.ask("insider_buy_days", T), 18.0);
}

/// Two purchases by one person are one buyer.
#[test]
fn people_are_counted_once() {
    let w = world([trade("A", "2024-06-10", true), trade("A", "2024-06-11", true), trade("B", "2024-06-11", true)]);
    assert_is(w.ask("insider_buyers(3)", T), 2.0);
    assert_is(w.ask("insider_net_buying(3)", T), 3_000.0);
}

#[test]
fn executives_are_chief_executive_and_chief_of_finance() {
    let by = |role, on: &str| InsiderTrade { role: Some(role), ..trade(&format!("{role:?}"), on, true) };
    let w = world([
        by(Role::ChiefExecutive, "2024-06-10"),
        by(Role::ChiefFinancial, "2024-06-10"),
        by(Role::Officer, "2024-06-10"),
        by(Role::LargeHolder, "2024-06-10"),
    ]);
    assert_is(w.ask("executive_buying(3)", T), 2_000.0);
}

/// Three buyers within thirty days, the last of whom bought in the last ninety.
#[test]
fn a_cluster_is_three_within_thirty_days() {
    let cluster = |days: [&str; 3], t: &str| {
        world(["A", "B", "C"].into_iter().zip(days).map(|(who, on)| trade(who, on, true))).ask("insider_cluster", t)
    };
    assert_is(cluster(["2024-05-01", "2024-05-15", "2024-05-30"], T), 1.0);
    assert_is(cluster(["2024-05-01", "2024-05-15", "2024-05-31"], T), 0.0);
    assert_is(cluster(["2024-05-01", "2024-05-15", "2024-05-30"], "2024-08-27"), 1.0);
    assert_is(cluster(["2024-05-01", "2024-05-15", "2024-05-30"], "2024-08-28"), 0.0);
    let two = world([trade("A", "2024-05-01", true), trade("A", "2024-05-10", true), trade("B", "2024-05-15", true)]);
    assert_is(two.ask("insider_cluster", T), 0.0);
    assert_eq!(world([]).ask("insider_cluster", T), Err(Why::NoInsiderData));
}

fn signs(all: Vec<InsiderTrade>, of: usize) -> TradeSigns {
    let wanted = all[of].filing_id.clone();
    world(all).at(T, |c| insiders::signs(c, c.insider_trades().find(|t| t.filing_id == wanted).unwrap()))
}

/// Shares against what was held before: 100 of 400 bought, 100 of 500 sold; nothing before is a new holding.
#[test]
fn a_trade_is_measured_against_what_was_held() {
    let holding = |bought, after| {
        let s = signs(vec![InsiderTrade { shares_after: after, ..trade("A", "2024-06-10", bought) }], 0);
        (s.of_holding, s.new_holding)
    };
    assert_eq!(holding(true, Some(500.0)), (Some(0.25), false));
    assert_eq!(holding(false, Some(400.0)), (Some(-0.2), false));
    assert_eq!(holding(true, Some(100.0)), (None, true));
    assert_eq!(holding(true, Some(50.0)), (None, true));
    assert_eq!(holding(false, Some(0.0)), (Some(-1.0), false));
    assert_eq!(holding(true, None), (None, false));
}

/// The first in two years, then their number within twelve months; of others' purchases and of sales nothing is said.
#[test]
fn purchases_of_one_person_are_counted() {
    let all = vec![
        trade("A", "2022-06-10", true),
        trade("A", "2024-06-10", true),
        trade("A", "2024-06-20", true),
        trade("B", "2024-06-12", true),
        trade("A", "2024-06-21", false),
        InsiderTrade { planned: true, ..trade("A", "2024-06-15", true) },
    ];
    let of = |i| {
        let s = signs(all.clone(), i);
        (s.first_in_two_years, s.purchase_of_year)
    };
    assert_eq!(of(0), (Some(true), Some(1)));
    assert_eq!(of(1), (Some(true), Some(1)), "two years to the day are enough");
    assert_eq!(of(2), (Some(false), Some(2)));
    assert_eq!(of(3), (Some(true), Some(1)));
    assert_eq!(of(4), (None, None));
    assert_eq!(of(5), (None, None));
}

/// Two weekdays are in time, three are late; a weekend does not count.
#[test]
fn a_filing_is_late_after_two_weekdays() {
    let late = |on: &str, filed: &str| {
        let s = signs(vec![InsiderTrade { filed_on: day(filed), ..trade("A", on, true) }], 0);
        (s.days_to_filing, s.late)
    };
    assert_eq!(late("2024-06-10", "2024-06-12"), (2, false));
    assert_eq!(late("2024-06-10", "2024-06-13"), (3, true));
    assert_eq!(late("2024-06-14", "2024-06-18"), (4, false), "Friday to Tuesday");
    assert_eq!(late("2024-06-14", "2024-06-19"), (5, true));
}

fn stake(as_of: &str, insiders: f64) -> Record {
    Record::Ownership(Ownership {
        company_id: "C".into(),
        as_of: day(as_of),
        filed_on: day(as_of).plus_days(20),
        insiders: Some(insiders),
        controlling: Some(0.4),
        institutions: Some(0.3),
        pledged: Some(0.05),
    })
}

/// Quarters of 10, 12, 12, 13 and 15 %: two rises in a row from the newest back, five points in a year.
#[test]
fn stakes_are_compared_by_quarters() {
    let quarters = [("2023-03-31", 0.10), ("2023-06-30", 0.12), ("2023-09-30", 0.12), ("2023-12-31", 0.13), ("2024-03-31", 0.15)];
    let w = quarters.into_iter().fold(World::new().price(T, 10.0), |w, (on, stake_then)| w.row(stake(on, stake_then)));
    assert_is(w.ask("insider_stake", T), 0.15);
    assert_is(w.ask("institution_stake", T), 0.3);
    assert_is(w.ask("controlling_stake", T), 0.4);
    assert_is(w.ask("pledged_stake", T), 0.05);
    assert_is(w.ask("stake_change(1)", T), 0.02);
    assert_is(w.ask("stake_change(4)", T), 0.05);
    assert_eq!(w.ask("stake_change(5)", T), Err(Why::HistoryTooShort));
    assert_is(w.ask("stake_rising_quarters", T), 2.0);
    assert_is(w.ask("insider_stake", "2024-04-19"), 0.13);
    assert_eq!(World::new().price(T, 10.0).ask("insider_stake", T), Err(Why::NoOwnership));
}

/// In office since 1 July 2020, the one before until that day.
#[test]
fn the_chief_executive_in_office_is_the_one_of_the_date() {
    let chief = |name, since, until| officer(name, "chief_executive", since, until);
    let w = World::new().price(T, 10.0).row(chief("Before", "2010-01-01", Some("2020-07-01"))).row(chief("Now", "2020-07-01", None));
    let years = |from: &str, to: &str| f64::from(day(to).days_since(day(from))) / 365.25;
    assert_is(w.ask("chief_tenure", T), years("2020-07-01", T));
    assert_is(w.ask("chief_tenure", "2020-06-30"), years("2010-01-01", "2020-06-30"));
    assert_eq!(w.ask("chief_tenure", "2009-12-31"), Err(Why::NoOfficer));
}

/// A quality tells of insiders' net buying over a year apart from its score.
#[test]
fn quality_knows_insiders_buying() {
    let w = world([trade("A", "2024-06-10", true), trade("B", "2023-09-10", true), trade("C", "2023-06-27", true)]);
    let w = w.filed((2023, Period::FY), "2023-12-31", "2024-02-20", &[(Item::SharesOutstanding, 1e6)]);
    let quality = w.context().valuations(day(T))[0].quality.clone();
    // Two purchases of 1,000 over a million shares at 10; the third is a day too old.
    assert_is(quality.insider_buying, 2_000.0 / 1e7);
    assert_is(w.ask("insider_net_buying_ratio(12)", T), 2_000.0 / 1e7);
}

/// Three buyers within thirty days are a cluster; a fourth a few days later belongs to it, two others a year on are none. What was not
/// filed is not known.
#[test]
fn clusters_are_told_one_by_one() {
    let w = world([
        trade("A", "2023-08-01", true),
        trade("B", "2023-08-15", true),
        trade("C", "2023-08-30", true),
        trade("D", "2023-09-12", true),
        trade("A", "2024-05-01", true),
        trade("B", "2024-05-02", true),
        trade("C", "2024-05-31", false),
    ]);
    let found = w.at(T, insiders::clusters);
    let one = insiders::Cluster { from: day("2023-08-01"), to: day("2023-09-12"), buyers: 4 };
    assert_eq!(found, [one]);
    assert_eq!(w.at("2023-08-31", insiders::clusters), []);
    // A day more between the first and the third, and they are none.
    let apart = world([trade("A", "2023-08-01", true), trade("B", "2023-08-15", true), trade("C", "2023-08-31", true)]);
    assert_eq!(apart.at(T, insiders::clusters), []);
}

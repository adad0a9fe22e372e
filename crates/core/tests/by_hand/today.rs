//! What happened between two days, on companies small enough to follow by hand.

use crate::world::{World, day, sector, sector_of, trade};
use artemon_core::{
    alerts::{Condition, fired, past},
    domain::{Day, Event, EventKind, InsiderTrade, Kind, Record, Role},
    engine::{Context, Section},
    insiders,
    today::{self, Followed, Gauge, GaugeStanding, MovesOver, gauge_words, under_my_price},
};

const T: &str = "2024-06-28";

fn followed(typed: Option<f64>) -> [Followed; 1] {
    [Followed { company: 0, typed }]
}

/// 12, 9, 9, 11, 9, 8: under a typed price of 10 for two sessions, since the fifth; a look back of one session says so.
#[test]
fn days_under_a_typed_price_are_counted_back_to_the_last_one_above() {
    let w = World::new().sessions(T, &[12.0, 9.0, 9.0, 11.0, 9.0, 8.0]);
    let context = w.context();
    let of = |since: &str, most| under_my_price(&context, day(T), day(since), &followed(Some(10.0)), most);
    let [under] = of("2024-06-26", usize::MAX)[..] else { panic!() };
    assert_eq!((under.sessions, under.price, under.limit, under.typed, under.longer), (2, 8.0, 10.0, true, false));
    assert_eq!((under.since, under.new), (day("2024-06-27"), true));
    assert!(!of("2024-06-27", usize::MAX)[0].new, "it began before one looked");
    let [short] = of("2024-06-26", 1)[..] else { panic!() };
    assert!(short.longer && short.sessions == 1);
    assert!(under_my_price(&context, day(T), day("2024-06-26"), &followed(Some(7.9)), usize::MAX).is_empty());
}

/// Typed today, a price is on the share basis of today: 24 before a split in two is 12.
#[test]
fn a_typed_price_is_on_the_split_basis_of_the_later_day() {
    let w = World::new().sessions(T, &[24.0, 19.0, 9.0, 9.0]).split("2024-06-27", 2.0);
    let [under] = under_my_price(&w.context(), day(T), day("2024-06-24"), &followed(Some(10.0)), usize::MAX)[..] else { panic!() };
    assert_eq!((under.sessions, under.since), (3, day("2024-06-26")), "19 was 9.50");
}

/// Companies that cost 100 on one day and these prices on the next.
fn moved(to: &[f64]) -> Context {
    let prices: Vec<[f64; 2]> = to.iter().map(|p| [100.0, *p]).collect();
    sector("Lamp oil", &["2024-06-27", T], &prices.iter().map(|p| &p[..]).collect::<Vec<_>>())
}

/// Down 3, 3, 3, 4 and up 1: the median is −3 %, four of five went down. With 2 % it is no move, with 3 of 5 not together.
#[test]
fn a_sector_moves_together_when_most_of_it_goes_far_enough_one_way() {
    let moves = |prices: &[f64]| {
        let context = moved(prices);
        today::sector_moves(&Section::new(&context, day(T)), MovesOver::Day)
    };
    let [m] = &moves(&[97.0, 97.0, 97.0, 96.0, 101.0])[..] else { panic!() };
    assert_eq!((m.sector.as_str(), m.traded, m.same_way, m.companies[0].company), ("Lamp oil", 5, 4, 3));
    assert!((m.median + 0.03).abs() < 1e-12);
    assert_eq!(today::sector_words(m), "4 of 5 companies down");
    assert!(moves(&[98.0, 98.0, 98.0, 96.0, 101.0]).is_empty(), "not far enough");
    assert!(moves(&[97.0, 97.0, 97.0, 101.0, 101.0]).is_empty(), "three of five is not seven of ten");
    assert!(moves(&[97.0, 97.0, 97.0, 97.0]).is_empty(), "four are too few");
}

/// The rises alone among the rises, the falls among the falls, the largest first.
#[test]
fn who_did_not_move_is_no_mover() {
    let context = moved(&[103.0, 100.0, 90.0, 106.0]);
    let found = today::movers(&Section::new(&context, day(T)), MovesOver::Day, 3);
    assert_eq!(found.rises.iter().map(|m| m.company).collect::<Vec<_>>(), [3, 0]);
    assert_eq!(found.falls.iter().map(|m| m.company).collect::<Vec<_>>(), [2]);
}

fn insiders(all: impl IntoIterator<Item = InsiderTrade>) -> World {
    let w = World::new().sessions(T, &[10.0; 30]);
    all.into_iter().fold(w, |w, t| w.row(Record::InsiderTrade(Box::new(t))))
}

/// One line a company: purchases filed since, of no plan; sales and grants are left out.
#[test]
fn purchases_filed_since_are_one_line() {
    let by = |who: &str, on: &str, role| InsiderTrade { role: Some(role), ..trade(who, on, true) };
    let w = insiders([
        by("A", "2024-06-20", Role::ChiefExecutive),
        by("A", "2024-06-24", Role::ChiefExecutive),
        by("B", "2024-06-21", Role::Director),
        InsiderTrade { planned: true, ..by("C", "2024-06-21", Role::Director) },
        trade("D", "2024-06-21", false),
        by("E", "2024-06-10", Role::Director),
    ]);
    let context = w.context();
    let section = Section::new(&context, day(T));
    let [line] = &today::purchases(&section, day("2024-06-14"))[..] else { panic!() };
    let who: Vec<(&str, usize)> = line.buyers.iter().map(|b| (&*b.newest.insider_id, b.purchases)).collect();
    assert_eq!(who, [("A", 2), ("B", 1)], "by amount; C plans, D sells, E was filed before");
    assert!(line.executive && line.cluster, "E makes the third of the cluster");
    let said = today::purchase_words(line, &context.as_of(day(T)).company(0));
    assert!(said.starts_with("2 people of 3 who bought within 30 days, chief executive among them"), "{said}");
    assert!(said.contains("second purchase in a year"), "{said}");
    assert!(today::purchases(&section, day("2024-06-27")).is_empty());
}

/// A year where any purchase is so old, else half a year; the median only of several.
#[test]
fn what_followed_earlier_purchases_is_said_of_the_longest_time() {
    let after = |year: usize, half: usize| {
        move |months: i32| {
            let purchases = if months == 12 { year } else { half };
            let median = (purchases > 0).then_some(if months == 12 { -0.052 } else { 0.118 });
            insiders::Followed { median, purchases }
        }
    };
    let said = |year, half| today::followed_words(after(year, half));
    assert_eq!(said(3, 4).unwrap(), "a year after 3 earlier purchases: −5.2\u{202f}% against all companies (median)");
    assert_eq!(said(0, 1).unwrap(), "half a year after an earlier purchase: +12\u{202f}% against all companies");
    assert_eq!(said(0, 0), None);
}

/// Once from one session to the next, not while it stays true; again when it was false in between.
#[test]
fn a_condition_fires_when_it_becomes_true() {
    let w = World::new().sessions(T, &[12.0, 9.0, 8.0, 11.0, 9.0]);
    let context = w.context();
    let dates: Vec<Day> = context.as_of(day(T)).company(0).bars().dates().to_vec();
    let formula = context.compile("price < 10").unwrap();
    let condition = Condition::Formula(formula, "price < 10");
    let at = |i: usize| fired(&context, &condition, (dates[i - 1], dates[i]), &followed(None)).unwrap().len();
    assert_eq!([1, 2, 3, 4].map(at), [1, 0, 0, 1]);
    // The look back says the same days.
    let looked = past(&context, &condition, day(T), 5, &followed(None)).unwrap().unwrap();
    assert_eq!(looked.fired.iter().map(|f| f.0).collect::<Vec<_>>(), [dates[4], dates[1]]);
    // A typed price is crossed on the same days.
    let crossed = |i: usize| fired(&context, &Condition::UnderPrice, (dates[i - 1], dates[i]), &followed(Some(9.5))).unwrap().len();
    assert_eq!([1, 2, 3, 4].map(crossed), [1, 0, 0, 1]);
    let looked = past(&context, &Condition::UnderPrice, day(T), 5, &followed(Some(9.5))).unwrap().unwrap();
    assert_eq!(looked.fired.len(), 2);
}

/// A cluster is told when the third bought, and not again while it lasts.
#[test]
fn a_cluster_fires_once() {
    let w = insiders([trade("A", "2024-06-10", true), trade("B", "2024-06-11", true), trade("C", "2024-06-20", true)]);
    let context = w.context();
    let on = |before: &str, at: &str| fired(&context, &Condition::Cluster, (day(before), day(at)), &followed(None)).unwrap();
    let filed = context.as_of(day(T)).company(0).insider_trades().map(|t| t.filed_on).max().unwrap();
    let said = on(&filed.plus_days(-1).to_string(), &filed.to_string());
    assert_eq!(said.len(), 1);
    assert_eq!(said[0].sentence, "3 insiders bought between 10 Jun 2024 and 20 Jun 2024.");
    assert!(on(&filed.to_string(), T).is_empty());
}

/// The place of a month among the others is said so that it cannot be misread at either end; over little more than a year, "the last year".
#[test]
fn the_market_is_told_against_its_own_past() {
    let now = Gauge {
        median_price_to_value: Some(1.124),
        share_under_value: Some(0.34),
        median_pe: None,
        share_above_sma200: None,
        new_52w_lows: 0,
        companies: 9,
    };
    let told = |rank: f64, months: usize| {
        let at = GaugeStanding { median_price_to_value_rank: Some(rank), median_pe_rank: None, median_of_median_pe: None };
        gauge_words(&now, &at, months).replace('\u{202f}', "").replace("; 34% of companies are priced under their value.", "")
    };
    assert_eq!(told(40.0, 120), "The median company costs 1.12 of its value, cheaper than in 60% of the last ten years");
    assert_eq!(told(60.0, 120), "The median company costs 1.12 of its value, dearer than in 60% of the last ten years");
    assert_eq!(told(0.0, 17), "The median company costs 1.12 of its value, cheaper than at any month end of the last year");
    assert_eq!(told(100.0, 24), "The median company costs 1.12 of its value, dearer than at any month end of the last two years");
    assert_eq!(told(50.0, 12), "The median company costs 1.12 of its value", "a year is too short to compare with");
}

/// What is to come lies after the day and not beyond the last; what the calendar and the dividend say of one day is one, with the amount.
#[test]
fn what_is_to_come_is_told_once() {
    let event =
        |date: &str, kind, confirmed| Record::Event(Event { company_id: "C".into(), date: day(date), kind, confirmed, announced_on: None });
    // Goes ex on 4 July and is paid ten days later.
    let w = World::new()
        .price(T, 10.0)
        .dividend("2024-07-04", 0.5)
        .row(event(T, EventKind::Earnings, true))
        .row(event("2024-06-29", EventKind::Earnings, false))
        .row(event("2024-07-04", EventKind::ExDividend, true))
        .row(event("2024-07-14", EventKind::Meeting, true));
    let told = |days: i32| -> Vec<(String, EventKind, Option<f64>, Option<bool>)> {
        today::coming(&w.context(), day(T), days, [0, 0]).iter().map(|c| (c.date.to_string(), c.kind, c.amount, c.confirmed)).collect()
    };
    let on = |date: &str, kind, amount, confirmed| (date.to_owned(), kind, amount, confirmed);
    let soon = [on("2024-06-29", EventKind::Earnings, None, Some(false)), on("2024-07-04", EventKind::ExDividend, Some(0.5), None)];
    assert_eq!(told(6), soon, "today is over");
    assert_eq!(told(5), soon[..1]);
    let later = [on("2024-07-14", EventKind::DividendPayment, Some(0.5), None), on("2024-07-14", EventKind::Meeting, None, Some(true))];
    assert_eq!(told(16), [&soon[..], &later].concat());
    assert!(today::coming(&w.context(), day(T), 16, []).is_empty());
}

/// Five shares: +10 %, −20 %, +30 % and two funds. The median of the three is +10 %.
#[test]
fn the_market_is_its_companies_without_funds() {
    let prices = [[100.0, 500.0], [100.0, 600.0], [100.0, 110.0], [100.0, 80.0], [100.0, 130.0]];
    let rows: Vec<&[f64]> = prices.iter().map(|p| &p[..]).collect();
    let context = sector_of("Lamp oil", &["2024-06-27", T], &rows, &[Kind::Fund, Kind::Fund]);
    let median = today::median_return(&Section::new(&context, day(T)), day("2024-06-27")).unwrap();
    assert!((median - 0.1).abs() < 1e-12, "{median}");
    assert_eq!(today::median_return(&Section::new(&context, day(T)), day("2024-01-01")), None, "nobody was there yet");
}

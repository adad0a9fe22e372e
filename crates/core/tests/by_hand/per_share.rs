//! Dividends, sizes and multiples of one traded unit, across currencies and units; the price against its own past.

use crate::world::{World, assert_is, currency, day};
use artemon_core::{
    Why,
    domain::{Action, ActionKind, Item, Item::*, Period, Record},
};

const T: &str = "2024-06-28";

fn year(w: World, fiscal_year: i32, items: &[(Item, f64)]) -> World {
    w.filed((fiscal_year, Period::FY), &format!("{fiscal_year}-12-31"), &format!("{}-02-20", fiscal_year + 1), items)
}

fn paying(dividends: &[(&str, f64)]) -> World {
    let w = World::new().price("2020-01-02", 20.0).price(T, 20.0);
    dividends.iter().fold(w, |w, (on, amount)| w.dividend(on, *amount))
}

/// The dividends of the 350 days up to the newest, which may be as old as its rhythm and 50 days allow.
#[test]
fn a_years_dividends_are_those_of_its_rhythm() {
    let of = |dividends: &[(&str, f64)]| paying(dividends).ask("dividend_yield", T);
    assert_is(of(&[("2023-09-01", 0.2), ("2023-12-01", 0.2), ("2024-03-01", 0.2), ("2024-06-03", 0.25)]), 0.85 / 20.0);
    assert_is(of(&[("2023-06-05", 0.9), ("2024-06-03", 1.0)]), 1.0 / 20.0);
    // 350 days before the newest is the year before.
    assert_is(of(&[("2023-06-19", 0.9), ("2024-06-03", 1.0)]), 1.0 / 20.0);
    assert_is(of(&[("2023-06-20", 0.9), ("2024-06-03", 1.0)]), 1.9 / 20.0);
    // One a year may be 400 days old, one of two 225.
    assert_is(of(&[("2023-05-25", 1.0)]), 1.0 / 20.0);
    assert_is(of(&[("2023-05-24", 1.0)]), 0.0);
    assert_is(of(&[("2023-05-16", 0.5), ("2023-11-16", 0.5)]), 1.0 / 20.0);
    assert_is(of(&[("2023-05-15", 0.5), ("2023-11-15", 0.5)]), 0.0);
    assert_eq!(World::new().price(T, 20.0).ask("dividend_yield", T), Err(Why::NoActions));
}

/// A special dividend is no part of a year's.
#[test]
fn special_dividends_do_not_count() {
    let special = Record::Action(Action {
        symbol: "SYM".into(),
        ex_date: day("2024-06-10"),
        kind: ActionKind::SpecialDividend,
        ratio: None,
        amount: Some(5.0),
        declared_on: None,
        record_date: None,
        pay_date: None,
    });
    assert_is(paying(&[("2024-06-03", 1.0)]).row(special).ask("dividend_yield", T), 0.05);
}

/// A dividend paid before a split is a smaller one on today's basis.
#[test]
fn dividends_follow_splits() {
    assert_is(paying(&[("2024-03-01", 1.0)]).split("2024-05-01", 2.0).ask("dividend_yield", T), 0.5 / 20.0);
}

/// From the newest fiscal year back while there is a dividend in it.
#[test]
fn years_with_a_dividend_are_counted_back() {
    let w =
        (2019..=2023).fold(paying(&[("2020-05-04", 1.0), ("2022-05-04", 1.0), ("2023-05-04", 1.0)]), |w, y| year(w, y, &[(Revenue, 1.0)]));
    assert_is(w.ask("dividend_years", T), 2.0);
    let none = year(paying(&[("2020-05-04", 1.0)]), 2023, &[(Revenue, 1.0)]);
    assert_is(none.ask("dividend_years", T), 0.0);
}

/// One traded unit stands for four shares; it is listed in XFB, of which one is 2 XFA, while the company reports in XFA. A unit
/// at 10 XFB: 100 shares are 25 units, 250 XFB, 500 XFA.
fn abroad() -> World {
    let items = [
        (SharesOutstanding, 100.0),
        (SharesDiluted, 100.0),
        (EpsDiluted, 0.5),
        (NetIncome, 50.0),
        (Revenue, 1000.0),
        (Equity, 200.0),
        (PreferredEquity, 0.0),
        (ShortTermDebt, 20.0),
        (LongTermDebt, 80.0),
        (MinorityInterest, 10.0),
        (Cash, 30.0),
        (ShortTermInvestments, 20.0),
        (OperatingIncome, 70.0),
        (DepreciationAmortization, 14.0),
        (OperatingCashFlow, 65.0),
        (CapitalExpenditure, 15.0),
    ];
    let mut w = World::new();
    w.listing.currency = currency("XFB");
    w.listing.shares_per_unit = 4.0;
    year(w, 2023, &items).price(T, 10.0).fx("2024-06-28", "XFB", "XFA", 2.0)
}

#[test]
fn sizes_are_in_the_base_currency() {
    let w = abroad();
    assert_is(w.ask("market_cap", T), 500.0);
    // 500 + 20 + 80 + 10 − 30 − 20.
    assert_is(w.ask("enterprise_value", T), 560.0);
    assert_is(w.ask("price_in_base", T), 20.0);
    assert_is(w.ask("shares_outstanding", T), 100.0);
    assert_is(w.ask("revenue", T), 1000.0);
}

/// A unit earns 4 × 0.5 XFA = 1 XFB: at 10 that is a P/E of 10, as the whole company's 500 ÷ 50 is.
#[test]
fn multiples_compare_like_with_like() {
    let w = abroad();
    assert_is(w.ask("eps", T), 1.0);
    assert_is(w.ask("pe", T), 10.0);
    assert_is(w.ask("ps", T), 0.5);
    assert_is(w.ask("pb", T), 2.5);
    assert_is(w.ask("ev_ebit", T), 8.0);
    assert_is(w.ask("ev_ebitda", T), 560.0 / 84.0);
    assert_is(w.ask("pfcf", T), 10.0);
    assert_is(w.ask("book_value_per_share", T), 4.0);
    assert_is(w.ask("earnings_yield", T), 0.1);
    assert_is(w.ask("fcf_yield", T), 0.1);
}

/// Without a rate there is no amount in the base currency, but what needs none is there.
#[test]
fn what_needs_no_rate_is_there_without_one() {
    let w = abroad();
    let w = World { rows: w.rows.iter().filter(|r| !matches!(r, Record::Fx(_))).cloned().collect(), ..w };
    assert_eq!(w.ask("market_cap", T), Err(Why::NoFx));
    assert_eq!(w.ask("pe", T), Err(Why::NoFx));
    assert_is(w.ask("price", T), 10.0);
    assert_is(w.ask("net_margin", T), 0.05);
}

/// Prices of the year before 28 June 2024: 30 at first, 10 at the bottom, 12 now; 8 a year and a week ago.
fn past() -> World {
    [("2023-06-21", 8.0), ("2023-07-03", 30.0), ("2023-12-29", 16.0), ("2024-03-28", 10.0), ("2024-05-28", 15.0), (T, 12.0)]
        .into_iter()
        .fold(World::new(), |w, (on, price)| w.price(on, price))
}

#[test]
fn the_price_against_its_own_year() {
    let w = past();
    assert_is(w.ask("high_52w", T), 30.0);
    assert_is(w.ask("low_52w", T), 10.0);
    assert_is(w.ask("from_high_52w", T), -0.6);
    assert_is(w.ask("from_low_52w", T), 0.2);
    assert_is(w.ask("midpoint_52w", T), 20.0);
    assert_is(w.ask("drawdown", T), -0.6);
    assert_is(w.ask("change(3m)", T), 0.2);
    assert_is(w.ask("change(1m)", T), -0.2);
    assert_is(w.ask("change(1y)", T), 0.5);
    assert_is(w.ask("change(1d)", T), -0.2);
    assert_is(w.ask("change(2d)", T), 0.2);
    assert_is(w.ask("change(ytd)", T), -0.25);
    assert_eq!(w.ask("change(3y)", T), Err(Why::HistoryTooShort));
}

/// The low fell within the last sessions, or the price is at most 3 % above it.
#[test]
fn the_yearly_low_is_near() {
    let at = |price: f64, f: &str| past().price("2024-06-30", price).ask(f, "2024-06-30");
    assert_is(at(12.0, "at_low_52w(2)"), 0.0);
    assert_is(at(12.0, "at_low_52w(4)"), 1.0);
    assert_is(at(10.3, "at_low_52w(1)"), 1.0);
    assert_is(at(10.31, "at_low_52w(1)"), 0.0);
    assert_is(at(9.0, "at_low_52w(1)"), 1.0);
}

/// Averages of the last closes, and strength: all rises 100, no move 50, as many up as down in between.
#[test]
fn averages_and_strength() {
    let w = |closes: &[f64]| World::new().sessions(T, closes);
    assert_is(w(&[1.0, 2.0, 3.0, 4.0]).ask("sma(3)", T), 3.0);
    assert_eq!(w(&[1.0, 2.0]).ask("sma(3)", T), Err(Why::HistoryTooShort));
    // Seeded with the mean of 1, 2, 3, then half of the way to 6.
    assert_is(w(&[1.0, 2.0, 3.0, 6.0]).ask("ema(3)", T), 4.0);
    assert_is(w(&[1.0, 2.0, 3.0, 4.0]).ask("rsi(3)", T), 100.0);
    assert_is(w(&[2.0, 2.0, 2.0, 2.0]).ask("rsi(3)", T), 50.0);
    assert_is(w(&[4.0, 3.0, 2.0, 1.0]).ask("rsi(3)", T), 0.0);
    // Rises of 2 and 0 and 1, falls of 0, 1 and 0 in the mean: 1 against 1/3.
    assert_is(w(&[1.0, 3.0, 2.0, 3.0]).ask("rsi(3)", T), 75.0);
    // Two populations of closes: 2 and 4, mean 3 ± 2 × 1.
    assert_is(w(&[2.0, 4.0]).ask("bollinger_upper(2)", T), 5.0);
    assert_is(w(&[2.0, 4.0]).ask("bollinger_lower(2)", T), 1.0);
    assert_is(w(&[2.0, 4.0]).ask("bollinger_position(2)", T), 0.75);
    // e⁰·¹ up and down again: a deviation of 0.1 √2, by √252 a year.
    let e = 0.1f64.exp();
    assert_is(w(&[10.0, 10.0 * e, 10.0]).ask("volatility(2)", T), (0.02f64 * 252.0).sqrt());
}

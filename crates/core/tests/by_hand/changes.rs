//! Why a value changed, on a company of which only one thing moves at a time.

use crate::world::{World, currency, day, estimate};
use artemon_core::{
    changes::{Cause, ValueChange, value_change},
    domain::{Item, Item::*, Metric, Period, Rate, RateSeries, Record},
};

const BEFORE: &str = "2024-03-15";
const AFTER: &str = "2024-06-14";

fn year(year: i32, growth: f64) -> Vec<(Item, f64)> {
    let g = 1.05f64.powi(year - 2018) * growth;
    let grows = [
        (Revenue, 1000.0),
        (OperatingIncome, 150.0),
        (PretaxIncome, 140.0),
        (IncomeTax, 40.0),
        (NetIncome, 100.0),
        (EpsDiluted, 1.0),
        (EpsAdjusted, 1.0),
        (OperatingCashFlow, 130.0),
        (CapitalExpenditure, 30.0),
        (DepreciationAmortization, 40.0),
        (InterestExpense, 5.0),
        (TotalAssets, 1000.0),
        (TotalLiabilities, 400.0),
        (LongTermDebt, 100.0),
        (Equity, 600.0),
    ];
    let still = [(SharesDiluted, 100.0), (SharesOutstanding, 100.0), (Cash, 50.0), (ShortTermDebt, 0.0), (PreferredEquity, 0.0)];
    grows.iter().map(|(item, v)| (*item, v * g)).chain(still).chain([(MinorityInterest, 0.0), (ShortTermInvestments, 0.0)]).collect()
}

/// Six years, the newest filed before the first date; the same price throughout.
fn company() -> World {
    let w = World::new().price("2024-03-01", 10.0).price(BEFORE, 10.0).price(AFTER, 10.0);
    (2018..=2023).fold(w, |w, y| w.filed((y, Period::FY), &format!("{y}-12-31"), &format!("{}-02-20", y + 1), &year(y, 1.0)))
}

fn rate(on: &str, value: f64) -> Record {
    Record::Rate(Rate { date: day(on), currency: currency("XFA"), series: RateSeries::AaaCorporateYield, value })
}

fn change(w: &World) -> ValueChange {
    let context = w.context();
    value_change((&context, day(BEFORE)), (&context, day(AFTER)), 0)
}

/// The causes that count, and the values before and after.
fn told(w: &World) -> (Vec<Cause>, f64, f64) {
    let change = change(w);
    let causes = change.value.as_ref().unwrap().iter().flat_map(|p| p.causes.clone()).collect();
    (causes, change.before.value.unwrap(), change.after.value.unwrap())
}

#[test]
fn nothing_moves_by_itself() {
    let (causes, before, after) = told(&company());
    assert_eq!((causes, before), (vec![], after));
    assert!(change(&company()).sentence.ends_with("nothing that counts has changed."));
}

/// Yields above nine percent raise what is required: all of the change is theirs.
#[test]
fn dearer_money_is_the_rates() {
    let w = company().row(rate("2024-03-01", 0.09)).row(rate("2024-05-02", 0.11));
    let (causes, before, after) = told(&w);
    assert_eq!(causes, [Cause::Rates]);
    assert!(after < before, "{before} → {after}");
    let sentence = change(&w).sentence;
    assert!(sentence.contains("from higher rates"), "{sentence}");
}

#[test]
fn what_analysts_expect_is_theirs() {
    let w = company().row(estimate("2024-03-01", Metric::LongTermGrowth, None, 0.05)).row(estimate(
        "2024-05-02",
        Metric::LongTermGrowth,
        None,
        0.02,
    ));
    let (causes, before, after) = told(&w);
    assert_eq!(causes, [Cause::Estimates]);
    assert!(after < before, "{before} → {after}");
}

/// Accounts in another currency: when it gains a tenth, the value does, and nothing else is a cause. Multiples are ratios of what is
/// in one currency, and here too short to be known.
#[test]
fn a_stronger_currency_of_the_accounts_is_the_currencies() {
    let mut w = company().fx("2024-03-14", "XFB", "XFA", 1.0).fx("2024-06-13", "XFB", "XFA", 1.1);
    w.company.currency = currency("XFB");
    for row in &mut w.rows {
        if let Record::Statement(s) = row {
            s.currency = currency("XFB");
        }
    }
    let change = change(&w);
    let parts = change.value.as_ref().unwrap();
    assert_eq!(parts[0].causes, [Cause::Currencies]);
    // The weight of debt at an unchanged price is all else that can differ.
    assert!(parts.iter().skip(1).all(|p| p.amount.abs() < 0.02 * parts[0].amount.abs()), "{parts:?}");
    let (before, after) = (change.before.value.unwrap(), change.after.value.unwrap());
    assert!((after / before - 1.1).abs() < 0.01, "{before} → {after}");
}

/// A filing with more of everything is the filings', and its weightiest figures are named with what they were.
#[test]
fn a_better_year_is_the_filings() {
    let w = company().filed((2024, Period::FY), "2024-04-30", "2024-05-20", &year(2024, 1.3));
    let change = change(&w);
    let parts = change.value.as_ref().unwrap();
    assert!(parts[0].causes == [Cause::Filings] && parts[0].amount > 0.0, "{parts:?}");
    assert_eq!(change.filings, [day("2024-05-20")]);
    assert!(!change.figures.is_empty() && change.figures.iter().all(|f| f.weight != 0.0));
    assert!(change.sentence.contains("from the filing of 20 May 2024 ("), "{}", change.sentence);
}

/// Two shares for one: values are told on the basis of the later date, on which nothing has changed.
#[test]
fn a_split_is_no_cause() {
    let (_, before, _) = told(&company());
    let w = World { rows: company().rows.into_iter().filter(|r| !matches!(r, Record::Price { .. })).collect(), ..company() };
    let w = w.price("2024-03-01", 10.0).price(BEFORE, 10.0).split("2024-05-02", 2.0).price(AFTER, 5.0);
    let (causes, halved, after) = told(&w);
    assert_eq!(causes, [] as [Cause; 0]);
    assert!((halved - before / 2.0).abs() < 1e-9 && (after - halved).abs() < 1e-9, "{before} / {halved} → {after}");
}

/// The price moves the margin and, by the weight of debt alone, hardly the value.
#[test]
fn the_price_moves_the_margin() {
    let mut w = company();
    w.rows.retain(|r| !matches!(r, Record::Price { bar, .. } if bar.date == day(AFTER)));
    let w = w.price(AFTER, 12.0);
    let change = change(&w);
    let margin = change.margin.as_ref().unwrap();
    assert!(margin[0].causes == [Cause::Price] && margin[0].amount < 0.0, "{margin:?}");
    let (before, after) = (change.before.margin_of_safety.unwrap(), change.after.margin_of_safety.unwrap());
    assert!((margin.iter().map(|p| p.amount).sum::<f64>() - (after - before)).abs() < 1e-12);
}

/// Before the first filing there was no value: it says so, and no causes are made up.
#[test]
fn without_a_value_there_are_no_causes() {
    let context = company().context();
    let change = value_change((&context, day("2018-06-01")), (&context, day(AFTER)), 0);
    assert!(change.value.is_err() && change.figures.is_empty());
    assert!(change.sentence.starts_with("On 1 Jun 2018 it could not be valued"), "{}", change.sentence);
}

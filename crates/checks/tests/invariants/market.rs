//! What the market brought is what its companies brought.

use super::{context, records};
use artemon_core::{
    domain::{Day, Kind},
    engine::Context,
    panel::CompanyAt,
    price::{MarketReturns, price_return},
};

/// The mean of what every company brought that is no fund and in the universe of the day.
fn one_by_one(context: &Context, from: Day, to: Day) -> Option<f64> {
    let of = |c: &CompanyAt<'_>| price_return(c, to).ok();
    let all: Vec<f64> = context.as_of(from).universe().iter().filter(|c| c.kind() != Kind::Fund).filter_map(of).collect();
    (!all.is_empty()).then(|| all.iter().sum::<f64>() / all.len() as f64)
}

/// Of every day of some months, over splits, suspensions, days without sessions and shares that left the exchange.
#[test]
fn a_month_of_the_market_is_the_mean_of_every_company() {
    let context = context(records().iter());
    let mut told = 0;
    for month in ["2004-02-29", "2008-10-15", "2014-06-01", "2020-12-31", "2024-09-10"] {
        let day: Day = month.parse().unwrap();
        for months in [6, 12] {
            let market = MarketReturns::of_month(context.as_of(day), day, months);
            let days = (0..=day.month_end().days_since(day.month_start())).map(|i| day.month_start().plus_days(i));
            for from in days {
                let (at_once, each) = (market.since(from), one_by_one(&context, from, from.plus_months(months)));
                assert_eq!(at_once.is_some(), each.is_some(), "{from}");
                let apart = at_once.zip(each).map_or(0.0, |(a, b)| (a - b).abs());
                assert!(apart < 1e-12, "{from} + {months} months: {at_once:?} {each:?}");
                told += usize::from(each.is_some());
            }
        }
    }
    assert!(told > 200, "{told} days");
}

//! The measures that no independent value covers, worked out by hand; and that none is left without either.

use crate::world::{World, assert_is, currency, day, estimate};
use artemon_core::{
    Why,
    domain::{Item, Item::*, Metric, Period, Rate, RateSeries, Record},
    formula::Value,
    measures::{compile, find},
};

fn year(w: World, fiscal_year: i32, items: &[(Item, f64)]) -> World {
    w.filed((fiscal_year, Period::FY), &format!("{fiscal_year}-12-31"), &format!("{}-02-20", fiscal_year + 1), items)
}

/// Common equity 90, 100, 95, −5, 120 over 10 shares, of which 5 more were issued in 2021; a preferred 10 in all.
fn books() -> World {
    let all = [(2019, 100.0, 10.0), (2020, 110.0, 10.0), (2021, 105.0, 15.0), (2022, 5.0, 15.0), (2023, 130.0, 15.0)];
    all.into_iter().fold(World::new().price("2024-03-01", 20.0), |w, (fiscal_year, equity, shares)| {
        year(w, fiscal_year, &[(Equity, equity), (PreferredEquity, 10.0), (SharesOutstanding, shares)])
    })
}

/// A share: 9, 10, 6.33, −0.33, 8.
#[test]
fn book_value_of_each_year() {
    assert_is(books().ask("book_value_per_share", "2024-03-01"), 8.0);
    // 2023 over 2022 and 2020 over 2019, of four comparisons.
    assert_is(books().ask("book_value_rising_years(4)", "2024-03-01"), 2.0);
    assert_is(books().ask("book_value_rising_years(1)", "2024-03-01"), 1.0);
    assert_is(books().ask("book_value_positive_years(5)", "2024-03-01"), 4.0);
    assert_is(books().ask("book_value_positive_years(2)", "2024-03-01"), 1.0);
}

#[test]
fn years_of_sales_and_of_free_cash_are_counted() {
    // Free cash 5, 6, 6, −1.
    let flows = [(2020, 10.0, 20.0, 15.0), (2021, 0.0, 21.0, 15.0), (2022, 12.0, 21.0, 15.0), (2023, 13.0, 20.0, 21.0)];
    let w = flows.into_iter().fold(World::new(), |w, (fiscal_year, revenue, cash, spent)| {
        year(w, fiscal_year, &[(Revenue, revenue), (OperatingCashFlow, cash), (CapitalExpenditure, spent)])
    });
    assert_is(w.ask("revenue_positive_years(4)", "2024-03-01"), 3.0);
    assert_is(w.ask("fcf_rising_years(3)", "2024-03-01"), 1.0);
    assert_is(w.ask("fcf_positive_years(4)", "2024-03-01"), 3.0);
}

/// Regular dividends by fiscal year: 1.0, 1.1, 1.1, none, 1.2.
#[test]
fn years_of_dividends_are_counted() {
    let paid = [("2019-05-10", 1.0), ("2020-05-10", 1.1), ("2021-05-10", 0.6), ("2021-11-10", 0.5), ("2023-05-10", 1.2)];
    let w = (2019..=2023).fold(World::new().price("2019-01-02", 20.0).price("2024-03-01", 20.0), |w, y| year(w, y, &[(Revenue, 1.0)]));
    let w = paid.into_iter().fold(w, |w, (on, amount)| w.dividend(on, amount));
    assert_is(w.ask("dividend_positive_years(5)", "2024-03-01"), 4.0);
    assert_is(w.ask("dividend_positive_years(2)", "2024-03-01"), 1.0);
    assert_is(w.ask("dividend_rising_years(4)", "2024-03-01"), 2.0);
}

fn estimated(metric: Metric, fiscal_year: Option<i32>, mean: f64) -> Record {
    estimate("2024-02-25", metric, fiscal_year, mean)
}

/// As of March 2024 nine months of 2024 are left, and three of 2025 come after: 9/12 × 120 + 3/12 × 160.
#[test]
fn what_analysts_expect() {
    let w = year(World::new(), 2023, &[(EpsDiluted, 2.0)]).price("2024-03-28", 20.0);
    let ebit = |w: World| w.row(estimated(Metric::Ebit, Some(2024), 120.0)).row(estimated(Metric::Ebit, Some(2025), 160.0));
    let w = ebit(w);
    assert_is(w.ask("forward_ebit", "2024-03-28"), 130.0);
    assert_eq!(w.ask("long_term_growth", "2024-03-28"), Err(Why::NoEstimate));
    let w = w.row(estimated(Metric::LongTermGrowth, None, 0.08));
    assert_is(w.ask("long_term_growth", "2024-03-28"), 0.08);
    assert_is(w.ask("analysts_growth", "2024-03-28"), 0.08);
}

/// Without a long-term growth, the growth to the furthest year that is estimated: 2 → 2.42 in two years is 10 %.
#[test]
fn the_furthest_estimate_gives_the_growth() {
    let w = year(World::new(), 2023, &[(EpsDiluted, 2.0), (EpsAdjusted, 2.0)]).price("2024-03-28", 20.0);
    let w = w.row(estimated(Metric::Eps, Some(2024), 2.1)).row(estimated(Metric::Eps, Some(2025), 2.42));
    assert_is(w.ask("analysts_growth", "2024-03-28"), 0.1);
    assert_eq!(w.at("2024-03-28", |c| c.furthest_estimate(Metric::Eps)), Some(2025));
    assert_eq!(w.at("2024-03-28", |c| c.furthest_estimate(Metric::Ebit)), None);
}

/// One XFB is 4 XFA: a price of 20 XFB is 80 in the base currency.
#[test]
fn a_price_in_the_base_currency_takes_the_rate_as_it_stands() {
    let mut w = World::new().price("2024-03-01", 20.0).fx("2024-03-01", "XFB", "XFA", 4.0);
    w.listing.currency = currency("XFB");
    assert_is(w.ask("price_in_base", "2024-03-01"), 80.0);
    assert_is(w.ask("price", "2024-03-01"), 20.0);
}

#[test]
fn the_yield_of_the_best_bonds_is_the_newest_known() {
    let rate =
        |date: &str, value| Record::Rate(Rate { date: day(date), currency: currency("XFA"), series: RateSeries::AaaCorporateYield, value });
    let w =
        World::new().price("2024-03-01", 20.0).row(rate("2024-02-01", 0.041)).row(rate("2024-02-28", 0.043)).row(rate("2024-04-01", 0.05));
    assert_is(w.ask("aaa_yield", "2024-03-01"), 0.043);
}

#[test]
fn texts_are_those_of_the_company() {
    let w = World::new().price("2024-03-01", 20.0);
    assert_is(w.ask("industry = \"Industry\"", "2024-03-01"), 1.0);
    assert_is(w.ask("industry = \"industry of another\"", "2024-03-01"), 0.0);
    assert_is(w.ask("kind = \"operating\" and sector in (\"Sector\", \"Other\")", "2024-03-01"), 1.0);
}

/// Four quarters filed by themselves, the fourth among them: the twelve months are their sum, not a year that was not filed.
#[test]
fn a_fourth_quarter_filed_by_itself_counts() {
    let quarters = [(Period::Q1, "2023-03-31"), (Period::Q2, "2023-06-30"), (Period::Q3, "2023-09-30"), (Period::Q4, "2023-12-31")];
    let w = quarters
        .into_iter()
        .zip([10.0, 11.0, 12.0, 14.0])
        .fold(World::new(), |w, ((q, end), revenue)| w.filed((2023, q), end, &day(end).plus_days(40).to_string(), &[(Revenue, revenue)]));
    assert_is(w.ask("revenue", "2024-02-09"), 47.0);
    assert_eq!(w.ask("revenue", "2024-02-08"), Err(Why::NoItem(Revenue)));
}

/// What is judged in words is that of the value, of one day alone and of several at once; what is undefined says why.
#[test]
fn words_are_those_of_the_value() {
    let w = (2014..2024).fold(World::new().price("2024-02-29", 12.0).price("2024-03-01", 20.0), |w, y| {
        year(w, y, &[(EpsDiluted, 2.0), (NetIncome, 20.0), (Equity, 100.0), (SharesOutstanding, 10.0)])
    });
    let context = w.context();
    let rows = ["2024-02-29", "2024-03-01"].map(|t| context.as_of(day(t)).company(0));
    let formula = compile("verdict").unwrap();
    let verdict = |day| Value::Text(context.valuations(day)[0].verdict(&context.settings().assumptions).code().into());
    let want = rows.map(|row| verdict(row.t()));
    assert_eq!(rows.map(|row| context.evaluate(&formula, &[row]).value(0)), want);
    let together = context.evaluate(&formula, &rows);
    assert_eq!([together.value(0), together.value(1)], want);
    let missing = context.evaluate(&compile("revenue").unwrap(), &rows).value(1);
    assert_eq!((missing.why(), missing.number()), (Some(Why::NoItem(Revenue)), Err(Why::NoItem(Revenue))));
    assert_eq!(context.evaluate(&compile("price").unwrap(), &rows).value(1).why(), None);
}

#[test]
fn measures_of_an_author_name_the_work() {
    let source = |id: &str| find(id).unwrap().source;
    assert_eq!([source("margin_of_safety"), source("rsi"), source("pe")], ["Graham & Dodd 1934", "Wilder 1978", ""]);
}

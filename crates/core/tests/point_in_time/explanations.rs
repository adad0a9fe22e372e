//! A figure opens into what it was made of: the filings, the sums, splits, currencies, and what was taken as none.

use super::world::{World, currency, day, estimate, officer, trade};
use artemon_core::{
    domain::{Item, Metric, Ownership, Period, Record},
    formula::{Explanation, Value},
    measures::compile,
};
use std::fmt::Write;

/// The tree as lines, inputs further in.
fn opened(w: &World, formula: &str, t: &str) -> String {
    fn line(e: &Explanation, depth: usize, out: &mut String) {
        let value = match &e.value {
            Value::Number(v) => format!("{v:.4}"),
            Value::Flag(b) => b.to_string(),
            Value::Text(text) => text.to_string(),
            Value::Undefined(why) => format!("({why})"),
        };
        let label = e.label.as_ref().map(|l| format!("{l}: ")).unwrap_or_default();
        let definition = e.definition.as_ref().map(|d| format!(" = {d}")).unwrap_or_default();
        write!(out, "{}{label}{}{definition} → {value}", "  ".repeat(depth), e.formula).unwrap();
        if let Some(s) = &e.source {
            write!(out, " [{} filed {}, as {:?} {:?}]", s.document, s.filed_on, s.as_filed, s.currency).unwrap();
        }
        e.notes.iter().for_each(|n| write!(out, " | {n}").unwrap());
        out.push('\n');
        e.inputs.iter().for_each(|i| line(i, depth + 1, out));
    }
    let mut out = String::new();
    let context = w.context();
    line(&context.explain(&compile(formula).unwrap(), &context.as_of(day(t)).company(0)), 0, &mut out);
    out
}

fn quarterly() -> World {
    use Item::{EpsDiluted, Equity, LongTermDebt, NetIncome, Revenue, TotalAssets};
    let q = |n: f64| vec![(EpsDiluted, n), (Revenue, 100.0 * n), (NetIncome, 10.0 * n)];
    World::new()
        .filed(
            (2022, Period::FY),
            "2022-12-31",
            "2023-02-20",
            &[(EpsDiluted, 10.0), (Revenue, 1000.0), (NetIncome, 100.0), (Equity, 400.0)],
        )
        .filed((2022, Period::Q1), "2022-03-31", "2022-05-01", &q(2.0))
        .filed((2022, Period::Q2), "2022-06-30", "2022-08-01", &q(2.5))
        .filed((2022, Period::Q3), "2022-09-30", "2022-11-01", &q(2.6))
        .filed(
            (2023, Period::Q1),
            "2023-03-31",
            "2023-05-02",
            &[q(3.0), vec![(Equity, 440.0), (TotalAssets, 900.0), (LongTermDebt, 50.0)]].concat(),
        )
        .split("2023-06-01", 2.0)
        .price("2023-05-10", 80.0)
        .price("2023-07-03", 44.0)
}

/// Twelve months to a quarter: three quarters filed, the fourth what the year leaves; all on today's split basis.
#[test]
fn a_multiple_opens_down_to_the_quarters() {
    insta::assert_snapshot!(opened(&quarterly(), "pe", "2023-07-03"));
}

#[test]
fn conditions_years_and_quarters_open() {
    let w = quarterly();
    let all = [
        "net_margin > 8% and pe < 5",
        "fy(net_margin, 0)",
        "q_yoy(eps, 0)",
        "debt_to_equity",
        "else(long_term_growth, 0.02)",
        "q_count(eps > 1.4, 3)",
        "sma(2)",
        "market_cap",
        "if(net_margin > 8% and not (pb < 1), price, eps)",
    ];
    insta::assert_snapshot!(all.map(|f| opened(&w, f, "2023-07-03")).join("\n"));
}

/// The same company with accounts in XFC.
fn accounts_in_another_currency(mut w: World) -> World {
    w.company.currency = currency("XFC");
    for row in &mut w.rows {
        if let Record::Statement(s) = row {
            s.currency = currency("XFC");
        }
    }
    w
}

/// Reported in one currency, listed in another, two shares a traded unit.
#[test]
fn currencies_and_units_are_named() {
    let mut w = accounts_in_another_currency(quarterly().fx("2023-07-01", "XFC", "XFA", 0.5));
    w.listing.shares_per_unit = 2.0;
    insta::assert_snapshot!(opened(&w, "fy(eps_diluted, 0)", "2023-07-03"));
}

/// What is undefined opens to its reason.
#[test]
fn undefined_says_what_is_missing() {
    let w = quarterly();
    let all = [("pe", "2025-01-10"), ("gross_margin", "2023-07-03"), ("chief_tenure", "2023-07-03"), ("eps_growth(5)", "2023-07-03")];
    insta::assert_snapshot!(all.map(|(f, t)| opened(&w, f, t)).join("\n"));
}

/// What people do opens to what they filed: trades, stakes of the kind that was asked for, estimates, those in office.
#[test]
fn what_people_do_opens() {
    let own = |as_of, insiders, institutions| {
        Record::Ownership(Ownership {
            company_id: "C".into(),
            as_of: day(as_of),
            filed_on: day(as_of).plus_days(20),
            insiders: Some(insiders),
            controlling: None,
            institutions: Some(institutions),
            pledged: None,
        })
    };
    let w = quarterly()
        .row(Record::InsiderTrade(Box::new(trade("A", "2023-06-05", true))))
        .row(Record::InsiderTrade(Box::new(trade("B", "2023-06-12", false))))
        .row(Record::InsiderTrade(Box::new(trade("C", "2023-03-20", true))))
        .row(own("2022-12-31", 0.20, 0.40))
        .row(own("2023-03-31", 0.25, 0.35))
        .row(estimate("2023-04-20", Metric::Eps, Some(2023), 12.0))
        .row(estimate("2023-06-20", Metric::Eps, Some(2023), 7.0))
        .row(estimate("2023-06-20", Metric::PriceTarget, None, 50.0))
        .row(officer("First", "chief_executive", "2010-05-01", None));
    let all =
        ["insider_net_buying(3)", "insider_stake", "institution_stake", "controlling_stake", "pe_forward", "target_upside", "chief_tenure"];
    insta::assert_snapshot!(all.map(|f| opened(&w, f, "2023-07-03")).join("\n"));
}

/// A half opens to its own filing, to the year less the other half, or to its quarters, as it was filed.
#[test]
fn halves_open() {
    let revenue = |n: f64| [(Item::Revenue, n)];
    let by_halves = World::new()
        .filed((2022, Period::H1), "2022-06-30", "2022-08-20", &revenue(400.0))
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &revenue(1000.0))
        .filed((2023, Period::H1), "2023-06-30", "2023-08-20", &revenue(450.0));
    let told = |w: &World, t: &str| ["h(revenue, 0)", "h(revenue, 1)"].map(|f| opened(w, f, t)).join("\n");
    let by_quarters = World::new()
        .filed((2022, Period::Q1), "2022-03-31", "2022-05-01", &revenue(210.0))
        .filed((2022, Period::Q2), "2022-06-30", "2022-08-01", &revenue(190.0))
        .filed((2022, Period::Q3), "2022-09-30", "2022-11-01", &revenue(250.0))
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &revenue(1000.0));
    insta::assert_snapshot!(format!("{}\n---\n{}", told(&by_halves, "2023-11-15"), told(&by_quarters, "2023-03-15")));
}

/// Estimates of amounts are in the currency of the accounts and shown in that of the price; a target is in that of the price already, and
/// growth and ratings have none.
#[test]
fn estimates_are_shown_in_the_currency_of_the_price() {
    let w = World::new()
        .filed((2022, Period::FY), "2022-12-31", "2023-02-20", &[(Item::EpsDiluted, 10.0), (Item::Revenue, 1000.0)])
        .price("2023-07-03", 44.0)
        .fx("2023-07-01", "XFC", "XFA", 0.5)
        .row(estimate("2023-06-20", Metric::Eps, Some(2023), 12.0))
        .row(estimate("2023-06-20", Metric::PriceTarget, None, 50.0))
        .row(estimate("2023-06-20", Metric::LongTermGrowth, None, 0.08))
        .row(estimate("2023-06-20", Metric::Rating, None, 2.5));
    let w = accounts_in_another_currency(w);
    let shown = |formula: &str| {
        let text = opened(&w, formula, "2023-07-03");
        let mean = text.lines().find(|l| l.contains("Mean estimate")).unwrap_or_else(|| panic!("{text}")).to_owned();
        mean.split("→ ").nth(1).unwrap().split([' ', '|']).next().unwrap().to_owned()
    };
    assert_eq!(shown("pe_forward"), "6.0000", "12 in the accounts' currency");
    assert_eq!(shown("target_upside"), "50.0000");
    assert_eq!(shown("long_term_growth"), "0.0800");
    assert_eq!(shown("analyst_rating"), "2.5000");
}

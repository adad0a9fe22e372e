//! The fiscal years of a company, and those ahead that are estimated.

use super::statements::called;
use crate::figures::figure::Figure;
use artemon_core::{
    Num, Why,
    domain::{Day, Item, Kind, Metric},
    engine::Context,
    formula::{Compiled, Unit},
    panel::{CompanyAt, PeriodIndex},
};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// Fiscal years shown.
const YEARS: u32 = 12;

/// A fiscal year.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct YearRow {
    pub fiscal_year: i32,
    /// Estimated by analysts, not reported.
    pub estimated: bool,
    #[schema(value_type = Option<String>)]
    pub period_end: Option<Day>,
    #[schema(value_type = Option<String>)]
    pub filed_on: Option<Day>,
    pub source: String,
    pub eps: Figure,
    /// Of an estimated year: the lowest and the highest estimate of earnings, and how many analysts there are.
    pub eps_low: Option<f64>,
    pub eps_high: Option<f64>,
    pub analysts: Option<f64>,
    pub revenue: Figure,
    pub net_income: Figure,
    pub net_margin: Figure,
    pub roe: Figure,
    pub free_cash_flow: Figure,
    pub debt_to_equity: Figure,
    pub current_ratio: Figure,
    pub net_buyback: Figure,
    pub shares: Figure,
    /// Lowest and highest price of the fiscal year's twelve months.
    pub price_low: Figure,
    pub price_high: Figure,
    /// Those prices over the year's earnings.
    pub pe_low: Figure,
    pub pe_high: Figure,
    /// What means something for its kind, in the order of the page's columns; empty for a year to come.
    pub of_kind: Vec<Figure>,
}

impl YearRow {
    /// A year to come of which nothing is estimated.
    fn estimated(fiscal_year: i32) -> YearRow {
        let none = || Figure::from(Err(Why::NoEstimate));
        YearRow {
            fiscal_year,
            estimated: true,
            period_end: None,
            filed_on: None,
            source: String::new(),
            eps: none(),
            eps_low: None,
            eps_high: None,
            analysts: None,
            revenue: none(),
            net_income: none(),
            net_margin: none(),
            roe: none(),
            free_cash_flow: none(),
            debt_to_equity: none(),
            current_ratio: none(),
            net_buyback: none(),
            shares: none(),
            price_low: none(),
            price_high: none(),
            pe_low: none(),
            pe_high: none(),
            of_kind: Vec::new(),
        }
    }
}

/// A figure of each year that means something for the kind of the company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct YearColumn {
    pub label: String,
    pub formula: &'static str,
    pub unit: Unit,
}

/// What is shown of each year of a kind, beside what is shown of all.
const fn of_kind(kind: Kind) -> &'static [&'static str] {
    match kind {
        Kind::Operating => &["free_cash_flow", "debt_to_equity", "current_ratio", "net_buyback"],
        Kind::Bank => &["net_interest_income", "loss_provision", "equity_ratio", "tier1_ratio"],
        Kind::Insurer => &["premiums_earned", "combined_ratio", "equity_ratio", "net_buyback"],
        Kind::Property => &["funds_from_operations", "interest_cover", "equity_ratio", "net_buyback"],
        Kind::Holding => &["operating_cash_flow", "equity_ratio", "debt_to_equity", "net_buyback"],
        Kind::Fund => &["equity", "equity_ratio", "debt_to_equity"],
    }
}

/// The columns of the years of a company's kind.
pub(super) fn columns(context: &Context, c: &CompanyAt<'_>) -> Vec<YearColumn> {
    let column = |formula: &&'static str| {
        let unit = context.compile(formula).ok()?.unit;
        Some(YearColumn { label: called(formula, context), formula, unit })
    };
    of_kind(c.kind()).iter().filter_map(column).collect()
}

/// What is shown of a fiscal year, as formulas.
const OF_YEAR: [&str; 10] = [
    "eps",
    "revenue",
    "net_income",
    "net_margin",
    "roe",
    "free_cash_flow",
    "debt_to_equity",
    "current_ratio",
    "net_buyback",
    "shares_outstanding",
];

/// Newest first, those ahead before them.
pub(super) fn years(context: &Context, c: &CompanyAt<'_>) -> Vec<YearRow> {
    let known: Vec<(u32, PeriodIndex)> = (0..YEARS).filter_map(|k| Some((k, c.year(k).ok()?))).collect();
    let figures = of_years(context, c, &known, &OF_YEAR);
    let of_kind = of_years(context, c, &known, of_kind(c.kind()));
    let reported = known.iter().zip(figures).zip(of_kind).filter_map(|(((_, p), figures), of_kind)| {
        let of_kind = of_kind.into_iter().map(Figure::from).collect();
        Some(YearRow { of_kind, ..year(c, *p, figures.try_into().ok()?) })
    });
    ahead(c).into_iter().chain(reported).collect()
}

/// Some figures of each year, all asked for together.
fn of_years(context: &Context, c: &CompanyAt<'_>, years: &[(u32, PeriodIndex)], formulas: &[&str]) -> Vec<Vec<Num>> {
    let of_year = |k: u32| formulas.iter().map(move |f| context.compile(&format!("fy({f}, {k})")));
    let compiled: Vec<Arc<Compiled>> = years.iter().flat_map(|y| of_year(y.0)).filter_map(Result::ok).collect();
    let all: Vec<&Compiled> = compiled.iter().map(|f| &**f).collect();
    let columns = context.evaluate_all(&all, &[context.as_of(c.t()).company(c.index)]);
    let answers: Vec<Num> = columns.iter().map(|column| column.value(0).number()).collect();
    answers.chunks(formulas.len().max(1)).map(<[Num]>::to_vec).collect()
}

/// The years ahead that analysts estimate, furthest first.
fn ahead(c: &CompanyAt<'_>) -> Vec<YearRow> {
    let Ok(year0) = c.year0() else { return Vec::new() };
    let label = c.label(year0).0;
    let row = |fiscal_year: i32| {
        let eps = c.estimate(Metric::Eps, Some(fiscal_year)).ok()?;
        let rate = c.reporting_to_listing();
        let revenue = c.estimate(Metric::Revenue, Some(fiscal_year)).and_then(|r| Ok(r.mean * c.reporting_to_base()?));
        let end = |v: Option<f64>| Some(v? * rate.ok()?);
        Some(YearRow {
            eps: rate.map(|r| eps.mean * r).into(),
            eps_low: end(eps.low),
            eps_high: end(eps.high),
            analysts: eps.analysts,
            revenue: revenue.into(),
            ..YearRow::estimated(fiscal_year)
        })
    };
    (1..=2).rev().filter_map(|k| row(label + k)).collect()
}

fn year(c: &CompanyAt<'_>, p: PeriodIndex, figures: [Num; OF_YEAR.len()]) -> YearRow {
    let [eps, revenue, net_income, net_margin, roe, free_cash_flow, debt_to_equity, current_ratio, net_buyback, shares] = figures;
    let (low, high) = price_band(c, p);
    let (source, filed_on) = c.item_source(p, Item::NetIncome).unzip();
    let multiple = |price: Num| match (price, eps_then(c, eps, p)) {
        (Ok(price), Ok(e)) if e > 0.0 => Ok(price / e),
        (Err(why), _) | (_, Err(why)) => Err(why),
        _ => Err(Why::NotPositive),
    };
    YearRow {
        fiscal_year: c.label(p).0,
        estimated: false,
        period_end: Some(c.period_end(p)),
        filed_on,
        source: source.unwrap_or_default().to_owned(),
        eps: eps.into(),
        eps_low: None,
        eps_high: None,
        analysts: None,
        revenue: revenue.into(),
        net_income: net_income.into(),
        net_margin: net_margin.into(),
        roe: roe.into(),
        free_cash_flow: free_cash_flow.into(),
        debt_to_equity: debt_to_equity.into(),
        current_ratio: current_ratio.into(),
        net_buyback: net_buyback.into(),
        shares: shares.into(),
        price_low: low.into(),
        price_high: high.into(),
        pe_low: multiple(low).into(),
        pe_high: multiple(high).into(),
        of_kind: Vec::new(),
    }
}

/// Lowest low and highest high of the twelve months ended at a period end; undefined unless the prices cover them.
fn price_band(c: &CompanyAt<'_>, p: PeriodIndex) -> (Num, Num) {
    let (bars, end) = (c.bars(), c.period_end(p));
    let window = bars.upto(end.plus_months(-12))..bars.upto(end);
    if window.start == 0 {
        return (Err(Why::HistoryTooShort), Err(Why::HistoryTooShort));
    }
    let low = window.clone().map(|i| bars.low(i)).min_by(f64::total_cmp).ok_or(Why::NoPrice);
    let high = window.map(|i| bars.high(i)).max_by(f64::total_cmp).ok_or(Why::NoPrice);
    (low, high)
}

/// A year's earnings at the exchange rate of its end (today's rate is in the figure).
fn eps_then(c: &CompanyAt<'_>, eps: Num, p: PeriodIndex) -> Num {
    let then = c.fx_on(c.reporting_currency(), c.listing_currency(), c.period_end(p))?;
    Ok(eps? / c.reporting_to_listing()? * then)
}

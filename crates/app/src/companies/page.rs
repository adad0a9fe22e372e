//! The company page: the record, the years, what was paid, what it is worth, who bought.

use super::{
    answers::{Answer, answers},
    search::{CompanyHit, hit},
};
use crate::{
    AppError, Ctx,
    dataset::doubts::{FindingAnswer, doubts_at},
    figures::figure::{Figure, value},
    valuing::value::{ValueAnswer, answer},
};
use artemon_core::{
    Num, Why,
    domain::{Day, InsiderTrade, Metric},
    engine::Context,
    formula::{Better, Compiled, Measure, OwnRange, Unit},
    insiders::{self, TradeSigns},
    measures,
    panel::{CompanyAt, PeriodIndex},
    valuation::Valuation,
};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// Fiscal years shown.
const YEARS: u32 = 12;
/// Insider trades shown.
const TRADES: usize = 60;
/// Months of price and value shown.
const MONTHS: i32 = 240;

/// Everything on the page of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CompanyPage {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub company: CompanyHit,
    pub industry: String,
    pub description: String,
    pub employees: Option<f64>,
    pub founded: Option<i32>,
    pub exchange: String,
    /// The base currency: that of whole-company amounts.
    pub base: String,
    /// The listing's currency: that of amounts a share.
    pub currency: String,
    #[schema(value_type = Option<String>)]
    pub price_date: Option<Day>,
    /// Figures beside the page, in order.
    pub figures: Vec<NamedFigure>,
    pub answers: Vec<Answer>,
    /// Newest first; years ahead that are estimated come first.
    pub years: Vec<YearRow>,
    pub ranges: Vec<NamedRange>,
    pub months: Vec<MonthPoint>,
    pub value: ValueAnswer,
    pub trades: Vec<TradeRow>,
    /// Doubts about its data, which stand beside the figures.
    pub doubts: Vec<FindingAnswer>,
}

/// A figure with its name and unit.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NamedFigure {
    pub formula: String,
    pub label: String,
    pub meaning: String,
    pub unit: Unit,
    pub figure: Figure,
}

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
        }
    }
}

/// Where a measure stands in its own ten years.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NamedRange {
    pub measure: String,
    pub label: String,
    pub unit: Unit,
    /// Whether a low place is the better one.
    pub lower_is_better: bool,
    pub range: Option<OwnRange>,
    pub reason: Option<String>,
}

/// A month's last price with the value of the time, from what was known then, on today's split basis.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MonthPoint {
    #[schema(value_type = String)]
    pub date: Day,
    pub price: f64,
    pub value: Option<f64>,
    /// The middle half of the valuations.
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub eps: Option<f64>,
}

/// An insider's trade.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct TradeRow {
    #[schema(value_type = String)]
    pub traded_on: Day,
    #[schema(value_type = String)]
    pub filed_on: Day,
    pub insider: String,
    pub role: String,
    pub code: String,
    /// "bought", "sold", or what else happened.
    pub what: String,
    /// Whether it counts as conviction: an open-market trade outside a plan.
    pub counts: bool,
    pub shares: f64,
    pub price: f64,
    pub currency: String,
    /// Amount in the base currency.
    pub amount: Figure,
    pub signs: TradeSigns,
}

/// The page of a company at a date.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn company_page(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<CompanyPage, AppError> {
    let t = ctx.date(as_of)?;
    let c = ctx.company(symbol, t)?;
    let context = &ctx.engine;
    let valued = context.value_company(t, c.index);
    let (company, listing) = (c.company(), c.listing());
    Ok(CompanyPage {
        as_of: t,
        company: hit(&c),
        industry: company.industry.clone(),
        description: company.description.clone(),
        employees: company.employees,
        founded: company.founded,
        exchange: listing.map(|l| l.mic.clone()).unwrap_or_default(),
        base: ctx.settings().base.to_string(),
        currency: c.listing_currency().to_string(),
        price_date: c.bars().last_date(),
        figures: FIGURES.iter().filter_map(|f| named(context, &c, f)).collect(),
        answers: answers(context, &c, &valued),
        years: years(context, &c),
        ranges: RANGES.iter().map(|m| range(context, &c, m)).collect(),
        months: months(context, &c),
        value: answer(context, &c, valued, None)?,
        trades: c.insider_trades().iter().rev().take(TRADES).map(|t| trade(&c, t)).collect(),
        doubts: doubts_at(&ctx.dataset, c.index, t),
    })
}

const FIGURES: &[&str] = &[
    "price",
    "change(1d)",
    "from_low_52w",
    "from_high_52w",
    "market_cap",
    "pe",
    "pe_forward",
    "pb",
    "ev_ebit",
    "dividend_yield",
    "roe",
    "net_margin",
    "debt_to_equity",
    "interest_cover",
    "eps_growth(5)",
    "expected_return",
    "return_over_bonds",
    "insider_stake",
    "insider_net_buying_ratio(12)",
];

const RANGES: &[&str] = &["pe", "pb", "ps", "ev_ebit", "fcf_yield", "operating_margin"];

fn named(context: &Context, c: &CompanyAt<'_>, formula: &str) -> Option<NamedFigure> {
    let measure = measures::find(formula.split('(').next()?)?;
    let figure = value(context, c, formula)?.into();
    Some(NamedFigure {
        formula: formula.to_owned(),
        label: label_of(measure, formula),
        meaning: measure.meaning.to_owned(),
        unit: measure.unit,
        figure,
    })
}

/// The measure's name with its years or months.
fn label_of(measure: &Measure, formula: &str) -> String {
    let argument = formula.split_once('(').map(|(_, rest)| rest.trim_end_matches(')'));
    match (argument, measure.params.first().map(|p| p.name)) {
        (Some(n), Some("n")) => format!("{}, {n} years", measure.label),
        (Some(n), Some("months")) => format!("{}, {n} months", measure.label),
        _ => measure.label.to_owned(),
    }
}

fn range(context: &Context, c: &CompanyAt<'_>, id: &str) -> NamedRange {
    let formula = format!("own_rank({id}, 10y)");
    let row = [context.as_of(c.t()).company(c.index)];
    let range = context.compile(&formula).ok().and_then(|f| context.own_ranges(&f, &row)).and_then(|r| r[0]);
    let reason = if range.is_none() { value(context, c, &formula).and_then(|v| v.why()) } else { None };
    let measure = measures::find(id);
    NamedRange {
        measure: id.to_owned(),
        label: measure.map_or(id, |m| m.label).to_owned(),
        unit: measure.map_or(Unit::Ratio, |m| m.unit),
        lower_is_better: measure.is_some_and(|m| m.better == Better::Lower),
        range,
        reason: reason.map(|w| w.to_string()),
    }
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

fn years(context: &Context, c: &CompanyAt<'_>) -> Vec<YearRow> {
    let known: Vec<(u32, PeriodIndex)> = (0..YEARS).filter_map(|k| Some((k, c.year(k).ok()?))).collect();
    let figures = of_years(context, c, &known);
    let reported = known.iter().zip(figures).map(|((_, p), figures)| year(c, *p, figures));
    ahead(c).into_iter().chain(reported).collect()
}

/// The figures of each year, all asked for together.
fn of_years(context: &Context, c: &CompanyAt<'_>, years: &[(u32, PeriodIndex)]) -> Vec<[Num; OF_YEAR.len()]> {
    let formula = |k: u32| OF_YEAR.map(|f| context.compile(&format!("fy({f}, {k})")));
    let compiled: Vec<Arc<Compiled>> = years.iter().flat_map(|y| formula(y.0)).filter_map(Result::ok).collect();
    let all: Vec<&Compiled> = compiled.iter().map(|f| &**f).collect();
    let columns = context.evaluate_all(&all, &[context.as_of(c.t()).company(c.index)]);
    let answers: Vec<Num> = columns.iter().map(|column| column.value(0).number()).collect();
    answers.as_chunks().0.to_vec()
}

/// The years ahead that analysts estimate, furthest first.
fn ahead(c: &CompanyAt<'_>) -> Vec<YearRow> {
    let Ok(year0) = c.year0() else { return Vec::new() };
    let label = c.label(year0).0;
    let row = |fiscal_year: i32| {
        let of = |metric| c.estimate(metric, Some(fiscal_year)).map(|e| e.mean);
        let eps = of(Metric::Eps).and_then(|e| Ok(e * c.reporting_to_listing()?));
        let revenue = of(Metric::Revenue).and_then(|r| Ok(r * c.reporting_to_base()?));
        eps.is_ok().then(|| YearRow { eps: eps.into(), revenue: revenue.into(), ..YearRow::estimated(fiscal_year) })
    };
    (1..=2).rev().filter_map(|k| row(label + k)).collect()
}

fn year(c: &CompanyAt<'_>, p: PeriodIndex, figures: [Num; OF_YEAR.len()]) -> YearRow {
    let [eps, revenue, net_income, net_margin, roe, free_cash_flow, debt_to_equity, current_ratio, net_buyback, shares] = figures;
    let (low, high) = price_band(c, p);
    let (source, filed_on) = c.item_source(p, artemon_core::domain::Item::NetIncome).unzip();
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

fn months(context: &Context, c: &CompanyAt<'_>) -> Vec<MonthPoint> {
    let since = c.t().plus_months(-MONTHS);
    let rows = context.as_of(c.t()).company(c.index).month_rows(since);
    let values = context.value_series(c.t(), c.index, since);
    let Ok(eps) = context.compile("eps").map(|f| context.evaluate(&f, &rows)) else { return Vec::new() };
    let point = |(i, (date, v)): (usize, &(Day, Valuation))| {
        let basis = c.splits_since(*date);
        let on_basis = |v: Num| v.ok().map(|v| v / basis);
        Some(MonthPoint {
            date: *date,
            price: on_basis(v.price)?,
            value: on_basis(v.value),
            low: on_basis(v.low),
            high: on_basis(v.high),
            eps: on_basis(eps.value(i).number()),
        })
    };
    values.iter().enumerate().filter_map(point).collect()
}

fn trade(c: &CompanyAt<'_>, t: &InsiderTrade) -> TradeRow {
    let open_market = t.is_purchase() || t.is_sale();
    TradeRow {
        traded_on: t.traded_on,
        filed_on: t.filed_on,
        insider: t.insider_name.to_string(),
        role: t.role.code().replace('_', " "),
        code: t.code.to_string(),
        what: what_happened(t).to_owned(),
        counts: open_market && !t.planned,
        shares: t.shares,
        price: t.price,
        currency: t.currency.to_string(),
        amount: if t.price > 0.0 { insiders::amount(c, t).into() } else { Err(Why::NotPositive).into() },
        signs: insiders::signs(c, t),
    }
}

fn what_happened(t: &InsiderTrade) -> &'static str {
    match (t.code.as_bytes(), t.planned) {
        (b"P", false) => "bought",
        (b"P", true) => "bought, planned",
        (b"S", false) => "sold",
        (b"S", true) => "sold, planned",
        (b"A", _) => "granted",
        (b"M", _) => "exercised options",
        (b"F", _) => "withheld for tax",
        (b"G", _) => "gift",
        _ => "other",
    }
}

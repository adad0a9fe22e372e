//! The company page: the record, the years, what was paid, what it is worth, who bought.

use super::{
    answers::{Answer, answers},
    months::{MonthPoint, months},
    search::{CompanyHit, hit},
    years::{YearRow, years},
};
use crate::{
    AppError, Ctx,
    dataset::doubts::{FindingAnswer, doubts_at},
    figures::figure::{Figure, value},
    valuing::value::{ValueAnswer, answer},
};
use artemon_core::{
    Why,
    domain::{Day, InsiderTrade},
    engine::Context,
    formula::{Better, Measure, OwnRange, Unit},
    insiders::{self, TradeSigns},
    measures,
    panel::CompanyAt,
};
use serde::Serialize;
use utoipa::ToSchema;

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
        months: months(context, &c, MONTHS),
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

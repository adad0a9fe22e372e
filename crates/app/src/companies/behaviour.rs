//! How the price and the insiders of a company behaved, in the form of the golden values.

use crate::{AppError, Ctx, figures::figure};
use artemon_core::{
    Why,
    domain::{BarSize, Day, InsiderTrade},
    formula::Value,
    insiders::{self, Followed},
    panel::CompanyAt,
    price::{self, Candle, CandleAt},
};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Sessions in which gaps are looked for.
const GAPS_WITHIN: u32 = 252;
/// Bars in which candles are looked for, by their size.
const SEARCHED: [(BarSize, &str, usize); 3] = [(BarSize::Day, "day", 60), (BarSize::Week, "week", 52), (BarSize::Month, "month", 36)];
/// After how many months purchases are followed.
const AFTER: [(i32, &str); 2] = [(6, "6m"), (12, "12m")];

/// Turns, levels, gaps and candles of the price, and trades of the insiders one by one; null where the history is too short, or
/// nothing is known of insiders.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct Behaviour {
    /// Why there are no turns, levels and gaps.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reason: Option<String>,
    pub swing_points: Option<Vec<SwingPoint>>,
    /// Below the price.
    pub support: Option<Vec<PriceLevel>>,
    /// Above it.
    pub resistance: Option<Vec<PriceLevel>>,
    pub near_support: Option<bool>,
    /// That no session has closed since.
    pub gaps: Option<Vec<OpenGap>>,
    /// By size of bar.
    pub candles: BTreeMap<&'static str, Vec<Pattern>>,
    /// Purchases and sales on the open market, by day of trade.
    pub insider_trades: Option<Vec<OpenMarketTrade>>,
    /// What followed the purchases, after so many months.
    pub after_purchases: Option<BTreeMap<&'static str, Followed>>,
}

/// A high or low beyond those of the sessions around it.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct SwingPoint {
    pub date: Day,
    pub kind: &'static str,
    pub price: f64,
}

/// A price at which trading turned at least twice.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PriceLevel {
    pub level: f64,
    pub touches: usize,
}

/// A band in which nothing traded when the price jumped.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct OpenGap {
    #[schema(value_type = String)]
    pub date: Day,
    pub kind: &'static str,
    pub low: f64,
    pub high: f64,
    pub open_low: f64,
    pub open_high: f64,
}

/// A shape that a bar completed.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct Pattern {
    pub date: Day,
    pub pattern: Candle,
}

/// A purchase or sale on the open market with its signs.
#[derive(Clone, Debug, Serialize)]
#[allow(missing_docs)]
pub struct OpenMarketTrade {
    pub filing_id: String,
    pub traded_on: Day,
    pub filed_on: Day,
    pub insider_id: String,
    pub role: &'static str,
    pub code: String,
    pub planned: bool,
    /// In the listing's currency.
    pub amount: Option<f64>,
    pub against_held: Option<f64>,
    pub days_to_filing: i32,
    pub late: bool,
    pub price_since: Option<f64>,
    pub first_in_two_years: Option<bool>,
    pub after_a_fall: Option<bool>,
    pub nth_in_12_months: Option<u32>,
}

/// What followed the purchases of a company's insiders within half a year and a year; nothing where no trades are known.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AfterPurchases {
    pub six_months: Option<Followed>,
    pub twelve_months: Option<Followed>,
}

/// What followed insiders' purchases.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn after_purchases(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<AfterPurchases, AppError> {
    let c = ctx.company(symbol, ctx.date(as_of)?)?;
    let after = |months| c.has_insider_trades().then(|| ctx.engine.after_purchases(&c, months));
    Ok(AfterPurchases { six_months: after(6), twelve_months: after(12) })
}

/// The behaviour of some companies by symbol, of all that are listed without any.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn behaviour(ctx: &Ctx, symbols: &[String], as_of: Option<Day>) -> Result<BTreeMap<String, Behaviour>, AppError> {
    let t = ctx.date(as_of)?;
    let companies: Vec<CompanyAt<'_>> = match symbols {
        [] => ctx.engine.as_of(t).universe(),
        _ => symbols.iter().map(|symbol| ctx.company(symbol, t)).collect::<Result<_, _>>()?,
    };
    Ok(companies.iter().map(|c| (c.symbol().to_owned(), of_company(ctx, c))).collect())
}

fn of_company(ctx: &Ctx, c: &CompanyAt<'_>) -> Behaviour {
    let known = c.has_insider_trades();
    let turns = price::turns(c);
    Behaviour {
        reason: turns.as_ref().err().map(Why::to_string),
        swing_points: list(turns, |t| SwingPoint { date: t.date, kind: if t.high { "high" } else { "low" }, price: t.price }),
        support: levels(c, false),
        resistance: levels(c, true),
        near_support: match figure::value(&ctx.engine, c, "near_support") {
            Some(Value::Flag(near)) => Some(near),
            _ => None,
        },
        gaps: list(price::gaps(c, GAPS_WITHIN), gap),
        candles: SEARCHED.into_iter().map(|(size, name, bars)| (name, patterns(price::candles(c, size, bars)))).collect(),
        insider_trades: known.then(|| trades(c)),
        after_purchases: known.then(|| AFTER.into_iter().map(|(months, name)| (name, ctx.engine.after_purchases(c, months))).collect()),
    }
}

fn list<T, U>(found: Result<Vec<T>, Why>, one: impl Fn(T) -> U) -> Option<Vec<U>> {
    Some(found.ok()?.into_iter().map(one).collect())
}

pub(super) fn levels(c: &CompanyAt<'_>, above: bool) -> Option<Vec<PriceLevel>> {
    let (all, price) = (price::levels(c).ok()?, c.price().ok()?);
    let of_side = all.into_iter().filter(|l| if above { l.price > price } else { l.price < price });
    Some(of_side.map(|l| PriceLevel { level: l.price, touches: l.touches }).collect())
}

pub(super) fn gap(g: price::Gap) -> OpenGap {
    let kind = if g.up { "up" } else { "down" };
    OpenGap { date: g.date, kind, low: g.low, high: g.high, open_low: g.open_low, open_high: g.open_high }
}

fn patterns(found: Vec<CandleAt>) -> Vec<Pattern> {
    found.into_iter().map(|at| Pattern { date: at.date, pattern: at.candle }).collect()
}

fn trades(c: &CompanyAt<'_>) -> Vec<OpenMarketTrade> {
    let mut all: Vec<&InsiderTrade> = c.insider_trades().filter(|t| t.is_purchase() || t.is_sale()).collect();
    all.sort_by_key(|t| (t.traded_on, t.filed_on, &t.filing_id));
    all.into_iter().map(|t| trade(c, t)).collect()
}

fn trade(c: &CompanyAt<'_>, t: &InsiderTrade) -> OpenMarketTrade {
    let signs = insiders::signs(c, t);
    OpenMarketTrade {
        filing_id: t.filing_id.clone(),
        traded_on: t.traded_on,
        filed_on: t.filed_on,
        insider_id: t.insider_id.to_string(),
        role: t.role.map_or("", |role| role.code()),
        code: t.code.to_string(),
        planned: t.planned,
        // Amounts of the program are in the base currency.
        amount: insiders::amount(c, t).and_then(|amount| Ok(amount / c.listing_to_base()?)).ok(),
        against_held: signs.of_holding,
        days_to_filing: signs.days_to_filing,
        late: signs.late,
        price_since: signs.since,
        first_in_two_years: signs.first_in_two_years,
        after_a_fall: signs.after_a_fall,
        nth_in_12_months: signs.purchase_of_year,
    }
}

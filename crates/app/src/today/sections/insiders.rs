//! What insiders bought, a line a company; and all their trades, one step away.

use super::super::{
    line::Line,
    {look::Look, page::InsiderFilter},
};
use crate::{
    AppError, Ctx,
    companies::{TradeRow, trade},
    figures::compact::six_digits,
};
use artemon_core::{
    domain::{Day, InsiderTrade},
    insiders,
    panel::{CompanyAt, CompanyIndex},
    today::{Purchases, followed_words, purchase_words, purchases},
};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Lines at most; how many there are in all is told.
const MOST: usize = 100;
/// Trades of a page.
const TRADES: usize = 200;

/// What insiders bought on the open market, outside of plans, filed since.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct InsiderLines {
    /// Those with clusters first, then those of executives, then by amount.
    pub companies: Vec<InsiderLine>,
    /// How many companies there are, and of these with clusters.
    pub count: usize,
    #[allow(missing_docs)]
    pub clusters: usize,
    /// Trades of any sort filed since: grants, sales and the like among them.
    pub trades: usize,
    /// Countries of companies with trades.
    pub countries: Vec<String>,
}

/// The insiders of a company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct InsiderLine {
    #[serde(flatten)]
    pub line: Line,
    pub symbol: String,
    pub name: String,
    pub country: String,
    /// In the base currency.
    pub amount: f64,
    /// Of the company's market value, as a fraction.
    pub of_company: Option<f64>,
    pub cluster: bool,
    pub executive: bool,
    /// Whether the person follows it, and why.
    pub why: String,
    /// Who bought, against what they held, how often, after what, and what followed earlier purchases.
    pub says: String,
}

pub(crate) fn bought(look: &Look<'_>, filter: &InsiderFilter) -> InsiderLines {
    let all = purchases(&look.now, look.since());
    let passing: Vec<&Purchases<'_>> = all.iter().filter(|p| passes(look, p, filter)).collect();
    let filed = |c: &CompanyAt<'_>| c.insider_trades_since(look.since()).count();
    let trading: Vec<(CompanyIndex, usize)> =
        look.now.rows().par_iter().filter(|c| c.has_insider_trades()).map(|c| (c.index, filed(c))).filter(|(_, n)| *n > 0).collect();
    let mut countries: Vec<String> = trading.iter().map(|(i, _)| look.ctx.snapshot().company(*i).country.clone()).collect();
    countries.sort();
    countries.dedup();
    InsiderLines {
        count: passing.len(),
        clusters: passing.iter().filter(|p| p.cluster).count(),
        trades: trading.iter().map(|t| t.1).sum(),
        countries,
        companies: passing.into_iter().take(MOST).map(|p| line(look, p)).collect(),
    }
}

fn passes(look: &Look<'_>, p: &Purchases<'_>, filter: &InsiderFilter) -> bool {
    let role = |role: &str| p.buyers.iter().any(|b| b.newest.role.is_some_and(|r| r.code() == role));
    let country = &look.ctx.snapshot().company(p.company).country;
    (filter.roles.is_empty() || filter.roles.iter().any(|r| role(r)))
        && (filter.countries.is_empty() || filter.countries.contains(country))
        && filter.least.is_none_or(|least| p.amount >= least)
}

fn line(look: &Look<'_>, p: &Purchases<'_>) -> InsiderLine {
    let c = look.now.as_of.company(p.company);
    let market_cap = look.ctx.engine.compile("market_cap").ok().and_then(|f| look.ctx.engine.evaluate(&f, &[c]).value(0).number().ok());
    let newest = p.trades.iter().map(|(t, _)| t.filed_on).max().unwrap_or_else(|| look.t());
    let said = std::iter::once(purchase_words(p, &c));
    InsiderLine {
        line: look.away.line("insiders", &c.company().id, &format!("{newest} {}", p.trades.len())),
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        country: c.company().country.clone(),
        amount: six_digits(p.amount),
        of_company: market_cap.filter(|m| *m > 0.0).map(|m| six_digits(p.amount / m)),
        cluster: p.cluster,
        executive: p.executive,
        why: look.why(p.company),
        says: said.chain(followed_words(|months| look.ctx.engine.after_purchases(&c, months))).collect::<Vec<_>>().join("; "),
    }
}

/// Which trades of all companies are wanted.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TradesRequest {
    /// The day; the newest session when absent.
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// Filed after this day; a week before when absent.
    #[schema(value_type = Option<String>)]
    pub since: Option<Day>,
    /// Of these companies, countries and amounts.
    pub filter: InsiderFilter,
    /// With these codes: P purchases, S sales, A grants, M exercises, F withheld for tax, G gifts.
    pub codes: Vec<String>,
    /// Only of this company.
    pub symbol: Option<String>,
    /// First row.
    pub offset: usize,
}

/// Trades of insiders, the newest filing first.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TradesAnswer {
    /// How many there are.
    pub count: usize,
    /// How many there are by code, whatever codes are asked for.
    pub by_code: BTreeMap<String, usize>,
    /// Those of the page.
    pub trades: Vec<MarketTrade>,
}

/// A trade of the insider of some company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MarketTrade {
    pub symbol: String,
    pub name: String,
    #[serde(flatten)]
    pub trade: TradeRow,
}

/// The trades of all insiders filed since a day.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn market_trades(ctx: &Ctx, request: &TradesRequest) -> Result<TradesAnswer, AppError> {
    let t = ctx.date(request.as_of)?;
    let since = request.since.unwrap_or_else(|| t.plus_days(-7));
    let only = request.symbol.as_ref().map(|s| ctx.find(s)).transpose()?;
    let section = ctx.section(t);
    let of = |c: &CompanyAt<'_>| only.is_none_or(|i| i == c.index);
    let rows: Vec<&CompanyAt<'_>> = section.rows().iter().filter(|c| of(c)).collect();
    let mut all: Vec<(CompanyIndex, &InsiderTrade)> = rows.par_iter().flat_map_iter(|c| filed(c, since, &request.filter)).collect();
    let mut by_code = BTreeMap::new();
    all.iter().for_each(|(_, x)| *by_code.entry(x.code.to_string()).or_default() += 1);
    all.retain(|(_, x)| request.codes.is_empty() || request.codes.iter().any(|code| *code == *x.code));
    all.sort_by(|a, b| b.1.filed_on.cmp(&a.1.filed_on).then(a.0.cmp(&b.0)));
    let row = |(i, x): &(CompanyIndex, &InsiderTrade)| {
        let c = section.as_of.company(*i);
        MarketTrade { symbol: c.symbol().to_owned(), name: c.company().name.clone(), trade: trade(&c, x) }
    };
    Ok(TradesAnswer { count: all.len(), by_code, trades: all.iter().skip(request.offset).take(TRADES).map(row).collect() })
}

/// The trades of a company that were filed since and are wanted.
fn filed<'a>(c: &CompanyAt<'a>, since: Day, filter: &InsiderFilter) -> Vec<(CompanyIndex, &'a InsiderTrade)> {
    if !filter.countries.is_empty() && !filter.countries.contains(&c.company().country) {
        return Vec::new();
    }
    let wanted = |x: &&InsiderTrade| {
        let of_role = filter.roles.is_empty() || x.role.is_some_and(|role| filter.roles.iter().any(|r| role.code() == r));
        of_role && filter.least.is_none_or(|least| insiders::amount(c, x).is_ok_and(|amount| amount >= least))
    };
    c.insider_trades_since(since).filter(wanted).map(|x| (c.index, x)).collect()
}

//! A figure opened: what it was made of, its own history, its place among peers.

use crate::{AppError, Ctx};
use artemon_core::{
    domain::{Day, Kind},
    formula::{Compiled, Explanation, Library, OwnRange, Unit},
    panel::CompanyAt,
    stats,
    wording::label,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Months of history shown.
const MONTHS: usize = 240;
/// The fewest peers that make a comparison.
const MIN_PEERS: usize = 5;

/// Which figure to open.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ExplainRequest {
    /// A formula as a user types it.
    pub formula: String,
    /// Symbol, ISIN or id of the company.
    pub symbol: String,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
}

/// A figure opened.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Explained {
    pub symbol: String,
    pub name: String,
    #[schema(value_type = String)]
    pub as_of: Day,
    /// The currency of whole-company amounts.
    pub base: String,
    /// The currency of amounts a share.
    pub currency: String,
    /// What the formula is called.
    pub label: String,
    pub root: Explanation,
}

/// Where a figure stands against its own past and its peers.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FigureStanding {
    pub unit: Unit,
    /// Month by month from what was known then, oldest first, the date itself last.
    pub history: Vec<FigurePoint>,
    /// The range of its own ten years.
    pub range: Option<OwnRange>,
    pub peers: Option<PeerPlace>,
}

/// A month of a figure.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FigurePoint {
    #[schema(value_type = String)]
    pub date: Day,
    pub value: Option<f64>,
}

/// A figure among the companies of its sector.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PeerPlace {
    pub group: String,
    pub count: usize,
    /// 0 the lowest, 100 the highest.
    pub rank: f64,
    /// Lowest, lower quarter, median, upper quarter, highest.
    pub spread: [f64; 5],
}

/// Opens a figure down to the filings.
///
/// # Errors
/// A mistake in the formula, an unknown company, a date outside the data.
pub fn explain(ctx: &Ctx, request: &ExplainRequest) -> Result<Explained, AppError> {
    let t = ctx.date(request.as_of)?;
    let formula = ctx.engine.compile(&request.formula).map_err(|e| AppError::formula(&request.formula, e))?;
    let c = ctx.company(&request.symbol, t)?;
    let root = ctx.engine.explain(&formula, &c);
    Ok(Explained {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        as_of: t,
        base: ctx.settings().base.to_string(),
        currency: c.listing_currency().to_string(),
        label: titled(&request.formula, &root, &ctx.settings().library),
        root,
    })
}

/// What a figure is called; that of a fiscal year by its year.
fn titled(formula: &str, root: &Explanation, library: &Library) -> String {
    let year = root.inputs.first().and_then(|i| i.label.as_ref());
    let inner = formula.trim().strip_prefix("fy(").and_then(|rest| rest.rsplit_once(',')).map(|(inner, _)| inner);
    match (inner, year) {
        (Some(inner), Some(year)) => format!("{}, {}", label(inner, library), year.to_lowercase()),
        _ => label(formula, library),
    }
}

/// A figure's own history and its place among peers.
///
/// # Errors
/// As [`explain`].
pub fn standing(ctx: &Ctx, request: &ExplainRequest) -> Result<FigureStanding, AppError> {
    let t = ctx.date(request.as_of)?;
    let formula = ctx.engine.compile(&request.formula).map_err(|e| AppError::formula(&request.formula, e))?;
    let c = ctx.company(&request.symbol, t)?;
    if matches!(formula.unit, Unit::Text | Unit::Flag | Unit::Date) {
        return Ok(FigureStanding { unit: formula.unit, history: Vec::new(), range: None, peers: None });
    }
    let range = ctx.engine.compile(&format!("own_rank({}, 10y)", request.formula)).ok();
    let range = range.and_then(|f| ctx.engine.own_ranges(&f, std::slice::from_ref(&c))).and_then(|r| r[0]);
    let section = ctx.section(t);
    let column = section.column(&formula);
    let is_peer = |p: &CompanyAt<'_>| p.kind() != Kind::Fund && p.company().sector == c.company().sector;
    let places = 0..section.members().len();
    let peers: Vec<f64> = places
        .filter(|p| is_peer(&section.as_of.company(section.members()[*p])))
        .filter_map(|p| column.value(p).number().ok())
        .filter(|v| v.is_finite())
        .collect();
    let own = section.place(c.index).and_then(|p| column.value(p).number().ok()).filter(|v| v.is_finite());
    Ok(FigureStanding { unit: formula.unit, history: history(ctx, &c, &formula), range, peers: own.and_then(|v| place(v, &peers, &c)) })
}

fn history(ctx: &Ctx, c: &CompanyAt<'_>, formula: &Compiled) -> Vec<FigurePoint> {
    let mut days = c.month_ends();
    days.drain(..days.len().saturating_sub(MONTHS));
    let rows: Vec<_> = days.iter().map(|d| ctx.engine.as_of(*d).company(c.index)).collect();
    let column = ctx.engine.evaluate(formula, &rows);
    let value = |i: usize| {
        let splits = if formula.unit == Unit::PerShare { c.splits_since(days[i]) } else { 1.0 };
        column.value(i).number().ok().filter(|v| v.is_finite()).map(|v| v / splits)
    };
    days.iter().enumerate().map(|(i, date)| FigurePoint { date: *date, value: value(i) }).collect()
}

fn place(own: f64, peers: &[f64], c: &CompanyAt<'_>) -> Option<PeerPlace> {
    if peers.len() < MIN_PEERS {
        return None;
    }
    let at = |p| stats::percentile(peers, p);
    Some(PeerPlace {
        group: c.company().sector.clone(),
        count: peers.len(),
        rank: stats::rank(own, peers.iter().copied())?,
        spread: [at(0.0)?, at(0.25)?, at(0.5)?, at(0.75)?, at(1.0)?],
    })
}

//! Ranks buy candidates.

use crate::{App, AppError, evaluate::Figure};
use artemon_core::{
    domain::Day,
    panel::{AsOf, Snapshot},
    ranking::{self, Weights},
    screening::{self, Screen, ScreenUniverse},
    valuation::{Status, Valuation, Verdict},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Rows of an answer when not asked for otherwise.
const ROWS: usize = 200;

/// Whom to rank, and at what margin.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RankRequest {
    /// Whom: the whole universe (funds out) when nothing is said.
    #[serde(default)]
    pub universe: ScreenUniverse,
    /// Only the survivors of this screen.
    #[serde(default)]
    pub screen: Option<Screen>,
    /// Required margin of safety as a fraction; that of the assumption set when absent.
    #[serde(default)]
    pub margin: Option<f64>,
    /// Least quality, 0–100; that of the assumption set when absent.
    #[serde(default)]
    pub least_quality: Option<f64>,
    /// How much each figure counts in the score.
    #[serde(default)]
    pub weights: Weights,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// First row.
    #[serde(default)]
    pub offset: usize,
    /// Most rows.
    #[serde(default)]
    pub rows: Option<usize>,
}

/// The ranked list.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RankAnswer {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub margin: f64,
    pub least_quality: f64,
    /// The assumption set used.
    pub assumptions: String,
    pub ranked: usize,
    pub in_range: usize,
    pub close: usize,
    pub wait: usize,
    pub pass: usize,
    pub cannot_value: usize,
    pub rows: Vec<CandidateRow>,
}

/// A candidate in its place.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CandidateRow {
    /// Place, from 1.
    pub place: usize,
    pub symbol: String,
    pub name: String,
    pub sector: String,
    pub country: String,
    pub currency: String,
    /// "in range", "close", "wait", "pass" or "cannot value".
    #[schema(value_type = String)]
    pub verdict: Verdict,
    /// 0–100 among those ranked.
    pub score: Option<f64>,
    /// Ranks 0–100 behind the score: margin of safety, quality, expected return, insiders' buying.
    pub ranks: Vec<Option<f64>>,
    pub quality: Figure,
    /// Points of the five pillars, of 25, 25, 20, 20 and 10.
    pub pillars: Vec<Figure>,
    pub soundness: Figure,
    pub red_flags: usize,
    pub price: Figure,
    pub intrinsic_value: Figure,
    pub margin_of_safety: Figure,
    pub buy_below: Figure,
    /// How far the price must fall to reach buy-below, as a fraction; negative when it is under it.
    pub fall_needed: Figure,
    pub value_agreement: Figure,
    pub expected_return: Figure,
    pub spread: Option<Spread>,
}

/// The valuations of a company on one axis of money.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Spread {
    pub price: f64,
    pub value: f64,
    pub low: f64,
    pub high: f64,
    pub buy_below: f64,
    /// Valuations that count.
    pub kept: Vec<f64>,
    /// Valuations set apart as extremes.
    pub outliers: Vec<f64>,
}

/// The spread of a valuation; `None` where there is no value.
pub(crate) fn spread(v: &Valuation, margin: f64) -> Option<Spread> {
    let cells = |status| v.cells.iter().filter(|c| c.status == status).filter_map(|c| c.value.ok()).collect();
    Some(Spread {
        price: v.price.ok()?,
        value: v.value.ok()?,
        low: v.low.ok()?,
        high: v.high.ok()?,
        buy_below: v.buy_below(margin).ok()?,
        kept: cells(Status::Kept),
        outliers: cells(Status::Outlier),
    })
}

/// Ranks the companies asked for.
///
/// # Errors
/// Unknown symbols (all of them named), a margin outside 0–90 %, a date outside the data.
pub fn rank(app: &App, request: &RankRequest) -> Result<RankAnswer, AppError> {
    let panel = app.panel();
    let margin = checked_margin(request.margin.unwrap_or(panel.settings.assumptions.margin))?;
    let least_quality = checked_quality(request.least_quality.unwrap_or(panel.settings.assumptions.least_quality))?;
    let mut settings = panel.settings.clone();
    (settings.assumptions.margin, settings.assumptions.least_quality) = (margin, least_quality);
    let view = panel.view(request.as_of.or(request.screen.as_ref().and_then(|s| s.as_of)))?;
    let unknown: Vec<_> = request.universe.symbols.iter().filter(|s| panel.snapshot.find(s).is_none()).cloned().collect();
    if !unknown.is_empty() {
        return Err(panel.unknown(unknown));
    }
    let plain = Screen { universe: request.universe.clone(), ..Screen::default() };
    let screen = request.screen.as_ref().unwrap_or(&plain);
    let bare = Screen { columns: Vec::new(), sort: Vec::new(), ..screen.clone() };
    let section = app.sections.of(&panel, view);
    let companies: Vec<_> = screening::run(&bare, &section)?.survivors.into_iter().map(|p| section.members()[p]).collect();
    let ranked = ranking::rank(AsOf { settings: &settings, ..view }, &companies, request.weights);
    let count = |v: Verdict| ranked.iter().filter(|c| c.verdict == v).count();
    let page = ranked.iter().enumerate().skip(request.offset).take(request.rows.unwrap_or(ROWS));
    Ok(RankAnswer {
        as_of: view.t,
        margin,
        least_quality,
        assumptions: panel.settings.assumptions.name.clone(),
        ranked: ranked.len(),
        in_range: count(Verdict::InRange),
        close: count(Verdict::Close),
        wait: count(Verdict::Wait),
        pass: count(Verdict::Pass),
        cannot_value: count(Verdict::CannotValue),
        rows: page.map(|(i, c)| row(&panel.snapshot, i + 1, c, margin)).collect(),
    })
}

fn checked_margin(margin: f64) -> Result<f64, AppError> {
    if (0.0..=0.9).contains(&margin) {
        return Ok(margin);
    }
    let problem = "it must lie between 0 and 0.9; write 25 % as 0.25".to_owned();
    Err(AppError::Unusable { what: format!("The margin {margin}"), problem })
}

fn checked_quality(least: f64) -> Result<f64, AppError> {
    if (0.0..=100.0).contains(&least) {
        return Ok(least);
    }
    Err(AppError::Unusable { what: format!("The least quality {least}"), problem: "it must lie between 0 and 100".to_owned() })
}

fn row(snapshot: &Snapshot, place: usize, c: &ranking::Candidate, margin: f64) -> CandidateRow {
    let (v, company) = (c.value(), snapshot.company(c.company));
    CandidateRow {
        place,
        symbol: snapshot.symbol(c.company).to_owned(),
        name: company.name.clone(),
        sector: company.sector.clone(),
        country: company.country.clone(),
        currency: v.currency.to_string(),
        verdict: c.verdict,
        score: c.score,
        ranks: c.ranks.to_vec(),
        quality: v.quality.score.into(),
        pillars: v.quality.pillars.iter().map(|p| p.points.into()).collect(),
        soundness: v.quality.soundness().into(),
        red_flags: v.quality.red_flags(),
        price: v.price.into(),
        intrinsic_value: v.value.into(),
        margin_of_safety: v.margin_of_safety().into(),
        buy_below: v.buy_below(margin).into(),
        fall_needed: v.buy_below(margin).and_then(|b| Ok(1.0 - b / v.price?)).into(),
        value_agreement: v.agreement.into(),
        expected_return: v.expected_return.into(),
        spread: spread(v, margin),
    }
}

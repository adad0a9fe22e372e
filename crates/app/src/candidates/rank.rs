//! Ranks buy candidates.

use super::{
    order::{RowKey, RowOrder, in_order, number},
    sensitivity::{SensitivityAnswer, sensitivity},
};
use crate::{
    AppError, Ctx,
    figures::{
        compact::{short, short_spread},
        figure::Figure,
        grouping::{Grouping, Medians},
    },
    valuing::{
        assumptions::{checked, set_named},
        spread::{Spread, spread},
    },
};
use artemon_core::{
    Num,
    domain::Day,
    engine::{Context, Section, Settings},
    limits::{KEYS, at_most},
    panel::Snapshot,
    ranking::{self, Weights},
    screening::{self, Screen, ScreenUniverse},
    stats,
    valuation::{Assumptions, Valuation, Verdict},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};
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
    /// The set to value with; that in use when absent.
    #[serde(default)]
    pub assumptions: Option<Assumptions>,
    /// The name of another set, to show beside it.
    #[serde(default)]
    pub against: Option<String>,
    /// Whether to say how the first ten change under other assumptions.
    #[serde(default)]
    pub sensitivity: bool,
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// In which order the rows come; by place when empty.
    #[serde(default, deserialize_with = "at_most::<_, _, KEYS>")]
    pub order: Vec<RowOrder>,
    /// Those of one group together, groups by name.
    #[serde(default)]
    pub group: Option<Grouping>,
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
    /// The set beside it.
    pub against: Option<String>,
    /// How the first ten change; empty when not asked for.
    pub sensitivity: Vec<SensitivityAnswer>,
    /// Medians of the sectors ranked, the most numerous first.
    pub sectors: Vec<SectorMedians>,
    /// The medians of [`GROUPED`] over all ranked, and over each group in the order of the rows.
    pub medians: Medians,
    pub rows: Vec<CandidateRow>,
}

/// The middle company of a sector.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct SectorMedians {
    pub sector: String,
    pub companies: usize,
    pub in_range: usize,
    pub margin_of_safety: Option<f64>,
    pub quality: Option<f64>,
    pub expected_return: Option<f64>,
}

/// A candidate under another set.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct UnderOther {
    pub intrinsic_value: Figure,
    #[schema(value_type = String)]
    pub verdict: Verdict,
    pub place: usize,
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
    /// Whether the user assumes something of the company.
    pub overridden: bool,
    pub other: Option<UnderOther>,
}

/// Ranks the companies asked for.
///
/// # Errors
/// Unknown symbols (all of them named), a margin outside 0–90 %, assumptions that cannot be meant, a date outside the data.
pub fn rank(ctx: &Ctx, request: &RankRequest) -> Result<RankAnswer, AppError> {
    let Ranked { context, t, candidates } = ranked(ctx, request)?;
    answer(ctx, request, &context, t, &candidates)
}

/// The same for tables: figures to six digits.
///
/// # Errors
/// As [`rank`].
pub fn rank_for_table(ctx: &Ctx, request: &RankRequest) -> Result<RankAnswer, AppError> {
    let mut answer = rank(ctx, request)?;
    answer.rows = answer.rows.into_iter().map(CandidateRow::shortened).collect();
    Ok(answer)
}

/// The symbols of all candidates in the order asked for: what one steps through.
///
/// # Errors
/// As [`rank`].
pub fn ranked_symbols(ctx: &Ctx, request: &RankRequest) -> Result<Vec<String>, AppError> {
    let Ranked { context, candidates, .. } = ranked(ctx, request)?;
    Ok(listed(request, &context, &candidates).into_iter().map(|(_, c)| context.snapshot().symbol(c.company).to_owned()).collect())
}

impl CandidateRow {
    fn shortened(self) -> CandidateRow {
        CandidateRow {
            quality: short(self.quality),
            pillars: self.pillars.into_iter().map(short).collect(),
            soundness: short(self.soundness),
            price: short(self.price),
            intrinsic_value: short(self.intrinsic_value),
            margin_of_safety: short(self.margin_of_safety),
            buy_below: short(self.buy_below),
            fall_needed: short(self.fall_needed),
            value_agreement: short(self.value_agreement),
            expected_return: short(self.expected_return),
            spread: self.spread.map(short_spread),
            other: self.other.map(|o| UnderOther { intrinsic_value: short(o.intrinsic_value), ..o }),
            ..self
        }
    }
}

/// The ranked companies, with what they were valued with.
pub(crate) struct Ranked {
    pub(crate) context: Context,
    pub(crate) t: Day,
    pub(crate) candidates: Vec<ranking::Candidate>,
}

/// Ranks: whom the request names, and their values, are computed under the same assumptions.
pub(crate) fn ranked(ctx: &Ctx, request: &RankRequest) -> Result<Ranked, AppError> {
    let mut settings = ctx.settings().clone();
    if let Some(set) = &request.assumptions {
        checked(set)?;
        settings.assumptions = set.clone();
    }
    let margin = checked_margin(request.margin.unwrap_or(settings.assumptions.margin))?;
    let least_quality = checked_quality(request.least_quality.unwrap_or(settings.assumptions.least_quality))?;
    (settings.assumptions.margin, settings.assumptions.least_quality) = (margin, least_quality);
    let t = ctx.date(request.as_of.or(request.screen.as_ref().and_then(|s| s.as_of)))?;
    let context = ctx.engine.with(settings);
    let companies = chosen(ctx, &context, t, request)?;
    let candidates = ranking::rank(&context, t, &companies, request.weights);
    Ok(Ranked { context, t, candidates })
}

/// The candidates in the order asked for, with their places from 0.
fn listed<'c>(request: &RankRequest, context: &Context, ranked: &'c [ranking::Candidate]) -> Vec<(usize, &'c ranking::Candidate)> {
    let mut rows = in_order(ranked, &request.order, context);
    if let Some(group) = request.group {
        group.arrange(context.snapshot(), &mut rows, |(_, c)| c.company);
    }
    rows
}

fn answer(ctx: &Ctx, request: &RankRequest, context: &Context, t: Day, ranked: &[ranking::Candidate]) -> Result<RankAnswer, AppError> {
    let a = &context.settings().assumptions;
    let companies: Vec<u32> = ranked.iter().map(|c| c.company).collect();
    let against = request.against.as_ref().map(|name| set_named(ctx, name)).transpose()?;
    let other = against.as_ref().map(|set| {
        let assumptions = Assumptions { margin: a.margin, least_quality: a.least_quality, ..set.clone() };
        let ranked = ranking::rank(&context.with(Settings { assumptions, ..context.settings().clone() }), t, &companies, request.weights);
        ranked.into_iter().enumerate().map(|(i, c)| (c.company, (i + 1, c))).collect::<HashMap<_, _>>()
    });
    let count = |v: Verdict| ranked.iter().filter(|c| c.verdict == v).count();
    let page = listed(request, context, ranked).into_iter().skip(request.offset).take(request.rows.unwrap_or(ROWS));
    let candidate = |(i, c): (usize, &ranking::Candidate)| CandidateRow {
        other: other.as_ref().and_then(|all| all.get(&c.company)).map(|(place, c)| UnderOther {
            intrinsic_value: c.value().value.into(),
            verdict: c.verdict,
            place: *place,
        }),
        ..row(context.snapshot(), i + 1, c, a)
    };
    Ok(RankAnswer {
        as_of: t,
        margin: a.margin,
        least_quality: a.least_quality,
        assumptions: a.label(),
        ranked: ranked.len(),
        in_range: count(Verdict::InRange),
        close: count(Verdict::Close),
        wait: count(Verdict::Wait),
        pass: count(Verdict::Pass),
        cannot_value: count(Verdict::CannotValue),
        against: against.as_ref().map(Assumptions::label),
        sensitivity: if request.sensitivity { sensitivity(context, t, &companies, request.weights, ranked) } else { Vec::new() },
        sectors: sectors(context.snapshot(), ranked),
        medians: medians(context, request.group, ranked),
        rows: page.map(candidate).collect(),
    })
}

/// Whom the request asks for, by position.
fn chosen(ctx: &Ctx, context: &Context, t: Day, request: &RankRequest) -> Result<Vec<u32>, AppError> {
    let unknown: Vec<_> = request.universe.symbols.iter().filter(|s| ctx.snapshot().find(s).is_none()).cloned().collect();
    if !unknown.is_empty() {
        return Err(ctx.unknown(unknown));
    }
    let plain = || Screen { universe: request.universe.clone(), ..Screen::default() };
    let mut screen = request.screen.clone().unwrap_or_else(plain);
    // Its columns are not shown, and its order only decides whom a limit keeps.
    screen.columns.clear();
    if screen.limit.is_none() {
        screen.sort.clear();
    }
    let section = Section::new(context, t);
    let mut survivors = screening::survivors(&screen, &section)?;
    // In order of symbol, which decides between equals.
    survivors.sort_unstable();
    Ok(survivors.into_iter().map(|p| section.members()[p]).collect())
}

/// What the medians are of, in order.
pub const GROUPED: [RowKey; 5] = [RowKey::MarginOfSafety, RowKey::Quality, RowKey::ExpectedReturn, RowKey::RedFlags, RowKey::Score];

fn medians(context: &Context, by: Option<Grouping>, ranked: &[ranking::Candidate]) -> Medians {
    let numbers = |c: &ranking::Candidate| GROUPED.iter().map(|of| number(context, *of, c)).collect();
    Medians::of(by, context.snapshot(), ranked, |c: &ranking::Candidate| c.company, numbers)
}

fn sectors(snapshot: &Snapshot, ranked: &[ranking::Candidate]) -> Vec<SectorMedians> {
    let mut by_sector: BTreeMap<&str, Vec<&ranking::Candidate>> = BTreeMap::new();
    for c in ranked {
        by_sector.entry(&snapshot.company(c.company).sector).or_default().push(c);
    }
    let medians = |(sector, all): (&str, Vec<&ranking::Candidate>)| {
        let median = |of: fn(&Valuation) -> Num| stats::median(&all.iter().filter_map(|c| of(c.value()).ok()).collect::<Vec<f64>>());
        SectorMedians {
            sector: sector.to_owned(),
            companies: all.len(),
            in_range: all.iter().filter(|c| c.verdict == Verdict::InRange).count(),
            margin_of_safety: median(Valuation::margin_of_safety),
            quality: median(|v| v.quality.score),
            expected_return: median(|v| v.expected_return),
        }
    };
    let mut all: Vec<SectorMedians> = by_sector.into_iter().map(medians).collect();
    all.sort_by(|a, b| b.companies.cmp(&a.companies).then_with(|| a.sector.cmp(&b.sector)));
    all
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

fn row(snapshot: &Snapshot, place: usize, c: &ranking::Candidate, a: &Assumptions) -> CandidateRow {
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
        buy_below: v.buy_below(a).into(),
        fall_needed: v.buy_below(a).and_then(|b| Ok(1.0 - b / v.price?)).into(),
        value_agreement: v.agreement.into(),
        expected_return: v.expected_return.into(),
        spread: spread(v, a),
        overridden: v.own.is_some(),
        other: None,
    }
}

//! Runs a screen: what is counted.

use crate::{AppError, Ctx, figures::figure::Figure};
use artemon_core::{
    domain::Day,
    engine::Section,
    formula::{FormulaError, Library, Unit},
    panel::AsOf,
    screening::{self, Criterion, CriterionResult, Histogram, Loosened, NearMiss, Screen, Step, Tighter},
    wording::{Sentence, label, sentence},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Near misses of an answer.
const NEAREST: usize = 20;
/// Companies that pass, above which bounds are proposed that leave fewer, and how many bounds.
const MANY: usize = 50;
const PROPOSED: usize = 3;

/// A screen to run.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ScreenRequest {
    /// The screen's document.
    pub screen: Screen,
}

/// What a screen comes to; its companies are asked for by page.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScreenAnswer {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub universe: usize,
    /// Companies out because a floor's figure is undefined.
    pub universe_undefined_floor: usize,
    pub steps: Vec<Step>,
    pub criteria: Vec<CriterionAnswer>,
    /// Companies that pass.
    pub survivors: usize,
    pub columns: Vec<ColumnInfo>,
    /// The nearest twenty.
    pub near_misses: Vec<NearMissAnswer>,
    /// Companies that one criterion alone keeps out.
    pub near_miss_count: usize,
    /// Where more than fifty pass: bounds that would leave about ten, fewest first.
    pub tighter: Vec<TighterAnswer>,
}

/// A bound drawn in.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct TighterAnswer {
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// The criterion as it then is, in words.
    pub sentence: Sentence,
    /// Its least.
    pub min: Option<f64>,
    /// Its most.
    pub max: Option<f64>,
    /// How many companies it leaves.
    pub leaves: usize,
}

/// What a criterion does.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CriterionAnswer {
    pub formula: String,
    /// The criterion in words.
    pub sentence: Sentence,
    pub unit: Option<Unit>,
    pub pass_alone: usize,
    pub fail_alone: usize,
    pub undefined: usize,
    pub undefined_why: BTreeMap<String, usize>,
    pub back_if_dropped: usize,
    pub histogram: Option<Histogram>,
    pub error: Option<FormulaError>,
    pub warnings: Vec<String>,
}

/// A column of the results.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ColumnInfo {
    pub formula: String,
    /// What the formula is called.
    pub label: String,
    pub unit: Option<Unit>,
    pub error: Option<FormulaError>,
}

/// A company that one criterion keeps out.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct NearMissAnswer {
    pub symbol: String,
    pub name: String,
    pub criterion: usize,
    pub formula: String,
    /// What the criterion measures, in words.
    pub label: String,
    pub value: Figure,
    pub miss: Option<f64>,
    pub miss_relative: Option<f64>,
    /// The bounds that would let it in; null where no bound keeps it out.
    pub loosened: Option<LoosenedBounds>,
}

/// New bounds of a criterion; null where the old one stays.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct LoosenedBounds {
    pub min: Option<f64>,
    pub max: Option<f64>,
}

/// Runs a screen as of its own date, or the newest session.
///
/// # Errors
/// A universe that cannot be formed, a date outside the data.
pub fn screen(ctx: &Ctx, screen: &Screen) -> Result<ScreenAnswer, AppError> {
    let section = ctx.section(ctx.date(screen.as_of)?);
    let result = screening::run(screen, &section, NEAREST)?;
    let library = &ctx.settings().library;
    let asked: Vec<&Criterion> = screen.blocks.iter().flat_map(|b| &b.criteria).collect();
    let tighter = if result.survivors > MANY { proposed(screen, &section, &asked, &result.criteria, library)? } else { Vec::new() };
    Ok(ScreenAnswer {
        as_of: result.as_of,
        universe: result.universe.len(),
        universe_undefined_floor: result.universe.refused.undefined_floor,
        survivors: result.survivors,
        columns: screen.columns.iter().map(|formula| column(formula, &section, library)).collect(),
        tighter,
        near_miss_count: result.near_miss_count,
        near_misses: result.near_misses.iter().map(|n| near_miss(n, &result.criteria, section.as_of, library)).collect(),
        steps: result.steps,
        criteria: result.criteria.into_iter().zip(asked).map(|(c, asked)| criterion(c, asked, library)).collect(),
    })
}

fn proposed(
    screen: &Screen,
    section: &Section<'_>,
    asked: &[&Criterion],
    results: &[CriterionResult],
    library: &Library,
) -> Result<Vec<TighterAnswer>, AppError> {
    let passing = screening::survivors(screen, section)?;
    let in_words = |t: Tighter| {
        let then = Criterion { min: t.min, max: t.max, ..asked[t.criterion].clone() };
        let sentence = sentence(&then, results[t.criterion].unit, library);
        TighterAnswer { criterion: t.criterion, sentence, min: t.min, max: t.max, leaves: t.leaves }
    };
    Ok(screening::tighter(screen, section, &passing)?.into_iter().take(PROPOSED).map(in_words).collect())
}

fn column(formula: &str, section: &Section<'_>, library: &Library) -> ColumnInfo {
    let (unit, error) = match section.compile(formula) {
        Ok(compiled) => (Some(compiled.unit), None),
        Err(error) => (None, Some(error)),
    };
    ColumnInfo { formula: formula.to_owned(), label: label(formula, library), unit, error }
}

fn criterion(c: CriterionResult, asked: &Criterion, library: &Library) -> CriterionAnswer {
    CriterionAnswer {
        sentence: sentence(asked, c.unit, library),
        formula: c.formula,
        unit: c.unit,
        pass_alone: c.pass_alone,
        fail_alone: c.fail_alone,
        undefined: c.undefined,
        undefined_why: c.undefined_why,
        back_if_dropped: c.back_if_dropped,
        histogram: c.histogram,
        error: c.error,
        warnings: c.warnings,
    }
}

fn near_miss(n: &NearMiss, criteria: &[CriterionResult], as_of: AsOf<'_>, library: &Library) -> NearMissAnswer {
    NearMissAnswer {
        symbol: as_of.snapshot.symbol(n.company).to_owned(),
        name: as_of.snapshot.company(n.company).name.clone(),
        criterion: n.criterion,
        label: label(&criteria[n.criterion].formula, library),
        formula: criteria[n.criterion].formula.clone(),
        value: n.value.clone().into(),
        miss: n.miss,
        miss_relative: n.miss_relative,
        loosened: n.loosened.map(|Loosened { min, max }| LoosenedBounds { min, max }),
    }
}

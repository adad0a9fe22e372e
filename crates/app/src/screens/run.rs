//! Runs a screen.

use crate::{
    AppError, Ctx,
    figures::figure::Figure,
    valuing::spread::{Spread, spread},
};
use artemon_core::{
    Why,
    domain::Day,
    engine::Section,
    formula::{Column, FormulaError, Library, OwnRange, Unit},
    panel::{AsOf, CompanyAt},
    screening::{self, Criterion, CriterionResult, Histogram, NearMiss, Screen, ScreenResult, Step},
    wording::{Sentence, label, sentence},
};
use serde::{Deserialize, Serialize};
use std::{collections::BTreeMap, sync::Arc};
use utoipa::ToSchema;

/// Rows of an answer when not asked for otherwise.
const ROWS: usize = 200;

/// A screen to run, and which part of its rows to answer.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ScreenRequest {
    /// The screen's document.
    pub screen: Screen,
    /// First row.
    #[serde(default)]
    pub offset: usize,
    /// Most rows.
    #[serde(default)]
    pub rows: Option<usize>,
}

/// The outcome of a screen.
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
    /// Companies that pass, all pages together.
    pub survivors: usize,
    pub columns: Vec<ColumnInfo>,
    pub rows: Vec<RowAnswer>,
    /// The nearest twenty.
    pub near_misses: Vec<NearMissAnswer>,
    /// Companies that one criterion alone keeps out.
    pub near_miss_count: usize,
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

/// A company that passes.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RowAnswer {
    pub symbol: String,
    pub name: String,
    pub currency: String,
    pub values: Vec<Figure>,
    /// For columns that are own-history ranks, the range behind the rank.
    pub ranges: Vec<Option<OwnRange>>,
    pub spread: Option<Spread>,
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
}

/// Runs a screen as of its own date, or the newest session.
///
/// # Errors
/// A universe that cannot be formed, a mistake in a sort key, a date outside the data.
pub fn screen(ctx: &Ctx, request: &ScreenRequest) -> Result<ScreenAnswer, AppError> {
    const NEAR: usize = 20;
    let section = ctx.section(ctx.date(request.screen.as_of)?);
    let result = screening::run(&request.screen, &section)?;
    let library = &ctx.settings().library;
    let asked = request.screen.blocks.iter().flat_map(|b| &b.criteria);
    let page: Vec<usize> = result.survivors.iter().skip(request.offset).take(request.rows.unwrap_or(ROWS)).copied().collect();
    Ok(ScreenAnswer {
        as_of: result.as_of,
        universe: result.universe.len(),
        universe_undefined_floor: result.refused.undefined_floor,
        rows: rows(&request.screen, &section, &result, &page),
        survivors: result.survivors.len(),
        columns: result.columns.iter().map(|c| info(c, library)).collect(),
        near_miss_count: result.near_misses.len(),
        near_misses: result.near_misses.iter().take(NEAR).map(|n| near_miss(n, &result.criteria, section.as_of, library)).collect(),
        steps: result.steps,
        criteria: result.criteria.into_iter().zip(asked).map(|(c, asked)| criterion(c, asked, library)).collect(),
    })
}

fn info((formula, column): &(String, Result<(Unit, Arc<Column>), FormulaError>), library: &Library) -> ColumnInfo {
    let label = label(formula, library);
    ColumnInfo { formula: formula.clone(), label, unit: column.as_ref().ok().map(|c| c.0), error: column.as_ref().err().cloned() }
}

/// The rows of a page of survivors (places in the section).
fn rows(screen: &Screen, section: &Section<'_>, result: &ScreenResult, page: &[usize]) -> Vec<RowAnswer> {
    let companies: Vec<CompanyAt<'_>> = page.iter().map(|p| section.as_of.company(section.members()[*p])).collect();
    let ranges: Vec<_> =
        screen.columns.iter().map(|f| section.compile(f).ok().and_then(|c| section.context().own_ranges(&c, &companies))).collect();
    let values = section.context().valuations(section.t());
    let cell = |column: &Result<(Unit, Arc<Column>), FormulaError>, place: usize| match column {
        Ok((_, values)) => values.value(place).into(),
        Err(_) => Err(Why::NoAnswer).into(),
    };
    let row = |(i, c): (usize, &CompanyAt<'_>)| RowAnswer {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        currency: c.listing_currency().to_string(),
        values: result.columns.iter().map(|(_, column)| cell(column, page[i])).collect(),
        ranges: ranges.iter().map(|r| r.as_ref().and_then(|r| r[i])).collect(),
        spread: spread(&values[c.index as usize], &section.context().settings().assumptions),
    };
    companies.iter().enumerate().map(row).collect()
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
    }
}

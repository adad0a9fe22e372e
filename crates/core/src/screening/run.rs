//! Runs a screen: narrowing, costs of criteria, histograms, near misses, rows.

use super::{
    document::{Criterion, Need, Screen},
    universe::{Refused, UniverseError, members},
};
use crate::{
    Why,
    domain::Day,
    formula::{Column, Compiled, FormulaError, Unit, Value, compile},
    panel::{AsOf, CompanyAt},
};
use serde::Serialize;
use std::{
    cmp::Ordering,
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

/// Bars of a histogram.
const BINS: usize = 40;
/// The share of values at each end that a histogram's axis leaves out.
const TAIL: f64 = 0.02;

/// Where a screen gets its columns: computed, or kept from the run before.
pub trait Columns<'a> {
    /// The universe at the view's date.
    fn universe(&self, view: AsOf<'a>) -> Arc<Vec<CompanyAt<'a>>>;
    /// A formula's column for these rows.
    fn column(&self, formula: &Compiled, rows: &[CompanyAt<'a>]) -> Column;
}

/// Companies left after a step.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Step {
    /// What the step is: "universe", a formula, or the whole block.
    pub step: String,
    /// The criterion (counted over all blocks) whose step it is, if of one.
    pub criterion: Option<usize>,
    /// Companies left after it.
    pub left: usize,
    /// Of those lost in it, how many for want of data.
    pub no_data: usize,
}

/// What a criterion does.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[allow(missing_docs)]
pub struct CriterionResult {
    pub formula: String,
    pub unit: Option<Unit>,
    pub pass_alone: usize,
    pub fail_alone: usize,
    pub undefined: usize,
    /// Reasons for undefined with their counts.
    pub undefined_why: BTreeMap<String, usize>,
    /// How many more would pass if only this criterion were dropped.
    pub back_if_dropped: usize,
    /// Distribution over the companies that pass everything else.
    pub histogram: Option<Histogram>,
    /// Why the formula cannot be evaluated; it then counts as switched off.
    pub error: Option<FormulaError>,
    pub warnings: Vec<String>,
}

/// Counts of values in equal steps from `low` to `high`; values beyond are counted in the outer bars.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Histogram {
    /// Left end of the first bar.
    pub low: f64,
    /// Right end of the last bar.
    pub high: f64,
    /// Companies a bar.
    pub counts: Vec<usize>,
}

/// A company that exactly one criterion keeps out.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct NearMiss {
    /// The company's symbol.
    pub symbol: String,
    /// The company's name.
    pub name: String,
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// Its formula.
    pub formula: String,
    /// The company's value.
    pub value: Value,
    /// Value less the nearer bound, for numbers with bounds.
    pub miss: Option<f64>,
    /// That as a share of the bound.
    pub miss_relative: Option<f64>,
}

/// The outcome of a screen.
#[derive(Clone, Debug)]
pub struct ScreenResult<'a> {
    /// The date it was run for.
    pub as_of: Day,
    /// The universe's companies in order of symbol.
    pub universe: Vec<CompanyAt<'a>>,
    /// Companies out because a floor's figure is undefined.
    pub refused: Refused,
    /// The narrowing.
    pub steps: Vec<Step>,
    /// One a criterion, over all blocks, switched-off ones included.
    pub criteria: Vec<CriterionResult>,
    /// Companies that pass, in the screen's order.
    pub survivors: Vec<CompanyAt<'a>>,
    /// Companies that one criterion keeps out, nearest first.
    pub near_misses: Vec<NearMiss>,
    /// The columns asked for, one a formula, a value a survivor; or why there is none.
    pub columns: Vec<(String, Result<(Unit, Vec<Value>), FormulaError>)>,
}

/// One criterion with its answers over the universe.
struct Judged<'s> {
    block: usize,
    place: usize,
    criterion: &'s Criterion,
    column: Column,
    passes: Vec<Result<bool, Why>>,
}

/// Runs a screen as of the view's date.
///
/// # Errors
/// When the universe cannot be formed. Mistakes in criteria are reported beside them and the rest still runs.
pub fn run<'a>(screen: &Screen, view: AsOf<'a>, columns: &dyn Columns<'a>) -> Result<ScreenResult<'a>, UniverseError> {
    let (universe, refused) = members(view, &screen.universe, columns)?;
    let (judged, mut criteria) = judge(screen, &universe, columns);
    let standings = Standings::new(screen, &judged, universe.len());
    let survivors: Vec<usize> = (0..universe.len()).filter(|&i| standings.passes(i)).collect();
    let near_misses = costs(&judged, &standings, &universe, &mut criteria);
    let steps = narrowing(screen, &judged, &standings, universe.len());
    let ordered = ordered(screen, &universe, &survivors, columns)?;
    let shown = screen.columns.iter().map(|f| (f.clone(), shown(f, &ordered, columns))).collect();
    Ok(ScreenResult { as_of: view.t, universe, refused, steps, criteria, survivors: ordered, near_misses, columns: shown })
}

fn shown<'a>(formula: &str, rows: &[CompanyAt<'a>], columns: &dyn Columns<'a>) -> Result<(Unit, Vec<Value>), FormulaError> {
    let compiled = compile(formula)?;
    let column = columns.column(&compiled, rows);
    Ok((compiled.unit, (0..rows.len()).map(|i| column.value(i)).collect()))
}

/// Judges every company by every criterion that is on and can be evaluated.
fn judge<'s, 'a>(screen: &'s Screen, universe: &[CompanyAt<'a>], columns: &dyn Columns<'a>) -> (Vec<Judged<'s>>, Vec<CriterionResult>) {
    let mut judged = Vec::new();
    let mut results = Vec::new();
    for (block, criterion) in screen.blocks.iter().enumerate().flat_map(|(b, block)| block.criteria.iter().map(move |c| (b, c))) {
        let place = results.len();
        let mut result = CriterionResult::blank(criterion);
        match compile(&criterion.formula).and_then(|c| bounds_suit(criterion, &c).map(|()| c)) {
            Err(error) => result.error = Some(error),
            Ok(compiled) => {
                result.unit = Some(compiled.unit);
                result.warnings.clone_from(&compiled.warnings);
                let column = columns.column(&compiled, universe);
                let passes = judge_column(criterion, &column);
                result.count(&passes);
                if criterion.enabled {
                    judged.push(Judged { block, place, criterion, column, passes });
                }
            }
        }
        results.push(result);
    }
    (judged, results)
}

/// Bounds need a number, lists a text.
fn bounds_suit(criterion: &Criterion, compiled: &Compiled) -> Result<(), FormulaError> {
    let position = crate::formula::Position { start: 0, end: criterion.formula.len() };
    let refuse = |message: &str| Err(FormulaError { message: message.to_owned(), position, suggestions: Vec::new() });
    let bounded = criterion.min.is_some() || criterion.max.is_some();
    match compiled.unit {
        Unit::Flag if bounded => refuse("A condition is true or false: it takes no least or most."),
        Unit::Text if bounded => refuse("A text takes no least or most: choose the texts it may be."),
        Unit::Text if criterion.one_of.is_empty() && criterion.equals.is_none() => refuse("Choose the texts it may be."),
        Unit::Flag | Unit::Text => Ok(()),
        _ if !bounded && criterion.equals.is_none() => refuse("A number needs a least or a most."),
        _ => Ok(()),
    }
}

fn judge_column(criterion: &Criterion, column: &Column) -> Vec<Result<bool, Why>> {
    match column {
        // By far the commonest: no detour over values of any type.
        Column::Number(numbers) if criterion.equals.is_none() => {
            let (low, high) = (criterion.min.unwrap_or(f64::NEG_INFINITY), criterion.max.unwrap_or(f64::INFINITY));
            numbers.iter().map(|n| n.map(|v| (low <= v && v <= high) != criterion.negate)).collect()
        }
        _ => (0..column.len()).map(|i| judge_one(criterion, &column.value(i))).collect(),
    }
}

#[allow(clippy::float_cmp)]
fn judge_one(criterion: &Criterion, value: &Value) -> Result<bool, Why> {
    let equals = |v: serde_json::Value| criterion.equals.as_ref().is_none_or(|e| *e == v);
    let answer = match value {
        Value::Undefined(why) => return Err(*why),
        Value::Flag(b) => match &criterion.equals {
            Some(e) => *e == serde_json::Value::Bool(*b),
            None => *b,
        },
        Value::Text(t) => (criterion.one_of.is_empty() || criterion.one_of.iter().any(|o| **o == **t)) && equals((**t).into()),
        Value::Number(v) => {
            let equal = criterion.equals.as_ref().is_none_or(|e| e.as_f64() == Some(*v));
            criterion.min.is_none_or(|m| *v >= m) && criterion.max.is_none_or(|m| *v <= m) && equal
        }
    };
    Ok(answer != criterion.negate)
}

/// How each company fares with each block: enough to answer any question about dropping one criterion.
struct Standings {
    /// Enabled criteria of each block.
    counts: Vec<usize>,
    /// Criteria met, a row a company, a column a block.
    met: Vec<Vec<u32>>,
    needs: Vec<Need>,
}

impl Standings {
    fn new(screen: &Screen, judged: &[Judged<'_>], companies: usize) -> Standings {
        let blocks = screen.blocks.len();
        let mut out = Standings {
            counts: vec![0; blocks],
            met: vec![vec![0; companies]; blocks],
            needs: screen.blocks.iter().map(|b| b.need).collect(),
        };
        for j in judged {
            out.counts[j.block] += 1;
            for (met, pass) in out.met[j.block].iter_mut().zip(&j.passes) {
                *met += u32::from(*pass == Ok(true));
            }
        }
        out
    }

    fn holds(&self, block: usize, count: usize, met: usize) -> bool {
        count == 0
            || match self.needs[block] {
                Need::All => met == count,
                Need::Any => met >= 1,
                Need::AtLeast(k) => met >= k.min(count),
            }
    }

    fn block_passes(&self, block: usize, company: usize) -> bool {
        self.holds(block, self.counts[block], self.met[block][company] as usize)
    }

    fn passes(&self, company: usize) -> bool {
        (0..self.counts.len()).all(|b| self.block_passes(b, company))
    }

    /// Whether a company passes as if one criterion were not there.
    fn passes_without(&self, j: &Judged<'_>, company: usize) -> bool {
        let met = self.met[j.block][company] as usize - usize::from(j.passes[company] == Ok(true));
        self.holds(j.block, self.counts[j.block] - 1, met) && (0..self.counts.len()).all(|b| b == j.block || self.block_passes(b, company))
    }
}

/// What each criterion costs: who would be back without it, who nearly passes, and the distribution of the rest.
fn costs(judged: &[Judged<'_>], standings: &Standings, universe: &[CompanyAt<'_>], results: &mut [CriterionResult]) -> Vec<NearMiss> {
    let passing: Vec<bool> = (0..universe.len()).map(|i| standings.passes(i)).collect();
    // Of each company: the one criterion that keeps it out, unless there are more.
    let mut keepers: Vec<(usize, usize)> = vec![(0, 0); universe.len()];
    for (at, j) in judged.iter().enumerate() {
        let others: Vec<usize> = (0..universe.len()).filter(|&i| standings.passes_without(j, i)).collect();
        for &i in others.iter().filter(|&&i| !passing[i]) {
            results[j.place].back_if_dropped += 1;
            keepers[i] = (at, keepers[i].1 + 1);
        }
        results[j.place].histogram = histogram(&j.column, &others, j.criterion);
    }
    let nearly = |(i, c): (usize, &CompanyAt<'_>)| {
        let (at, count) = keepers[i];
        (count == 1 && judged[at].passes[i] == Ok(false)).then(|| near_miss(&judged[at], c, i))
    };
    let mut misses: Vec<NearMiss> = universe.iter().enumerate().filter_map(nearly).collect();
    misses.sort_by(|a, b| {
        let size = |m: &NearMiss| m.miss_relative.map_or(f64::INFINITY, f64::abs);
        size(a).total_cmp(&size(b)).then_with(|| a.symbol.cmp(&b.symbol))
    });
    misses
}

fn near_miss(j: &Judged<'_>, c: &CompanyAt<'_>, company: usize) -> NearMiss {
    let value = j.column.value(company);
    let distance = |bound: f64| value.number().ok().map(|v| (v - bound, bound));
    let misses = [j.criterion.min, j.criterion.max].into_iter().flatten().filter_map(distance);
    let nearest = misses.min_by(|a, b| a.0.abs().total_cmp(&b.0.abs())).filter(|(m, _)| m.is_finite());
    NearMiss {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        criterion: j.place,
        formula: j.criterion.formula.clone(),
        value,
        miss: nearest.map(|(m, _)| m),
        miss_relative: nearest.and_then(|(m, bound)| (bound != 0.0).then(|| m / bound.abs())),
    }
}

/// Equal steps over the middle of the values; the bounds are always on the axis.
#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss)]
fn histogram(column: &Column, companies: &[usize], criterion: &Criterion) -> Option<Histogram> {
    let numbers = column.numbers()?;
    let mut values: Vec<f64> = companies.iter().filter_map(|&i| numbers[i].ok()).filter(|v| v.is_finite()).collect();
    if values.is_empty() {
        return None;
    }
    let last = (values.len() - 1) as f64;
    let mut at = |p: f64| *values.select_nth_unstable_by((last * p).round() as usize, f64::total_cmp).1;
    let (start, end) = (at(TAIL), at(1.0 - TAIL));
    let bounds = || [criterion.min, criterion.max].into_iter().flatten();
    let low = bounds().fold(start, f64::min);
    let high = bounds().fold(end, f64::max);
    let (low, high) = if high > low { (low, high) } else { (low - 0.5, low + 0.5) };
    let mut counts = vec![0; BINS];
    for v in values {
        let bin = ((v - low) / (high - low) * BINS as f64).floor().clamp(0.0, BINS as f64 - 1.0);
        counts[bin as usize] += 1;
    }
    Some(Histogram { low, high, counts })
}

/// Survivors after each step: a criterion of an all block, or a whole other block.
fn narrowing(screen: &Screen, judged: &[Judged<'_>], standings: &Standings, universe: usize) -> Vec<Step> {
    let mut steps = vec![Step { step: "universe".to_owned(), criterion: None, left: universe, no_data: 0 }];
    let mut left: Vec<usize> = (0..universe).collect();
    for (b, block) in screen.blocks.iter().enumerate() {
        let mine: Vec<_> = judged.iter().filter(|j| j.block == b).collect();
        if mine.is_empty() {
            continue;
        }
        if block.need == Need::All {
            for j in mine {
                let no_data = left.iter().filter(|&&i| j.passes[i].is_err()).count();
                left.retain(|&i| j.passes[i] == Ok(true));
                steps.push(Step { step: j.criterion.formula.clone(), criterion: Some(j.place), left: left.len(), no_data });
            }
            continue;
        }
        let stays = |i: &usize| standings.block_passes(b, *i);
        let no_data = left.iter().filter(|i| !stays(i) && mine.iter().any(|j| j.passes[**i].is_err())).count();
        left.retain(stays);
        let need = match block.need {
            Need::AtLeast(k) => k.to_string(),
            _ => "any".to_owned(),
        };
        steps.push(Step { step: format!("block ({need})"), criterion: None, left: left.len(), no_data });
    }
    steps
}

/// The survivors in the screen's order: its sort keys, undefined last both ways, then by symbol.
fn ordered<'a>(
    screen: &Screen,
    universe: &[CompanyAt<'a>],
    survivors: &[usize],
    columns: &dyn Columns<'a>,
) -> Result<Vec<CompanyAt<'a>>, UniverseError> {
    let rows: Vec<CompanyAt<'a>> = survivors.iter().map(|&i| universe[i]).collect();
    let keys = screen.sort.iter().map(|s| Ok((columns.column(&compile(&s.formula)?, &rows), s.descending)));
    let keys: Vec<(Column, bool)> = keys.collect::<Result<_, FormulaError>>()?;
    let mut order: Vec<usize> = (0..rows.len()).collect();
    order.sort_by(|&a, &b| {
        let by_keys = keys.iter().map(|(c, descending)| compare(&c.value(a), &c.value(b), *descending));
        by_keys.fold(Ordering::Equal, Ordering::then).then_with(|| rows[a].symbol().cmp(rows[b].symbol()))
    });
    Ok(order.into_iter().take(screen.limit.unwrap_or(usize::MAX)).map(|i| rows[i]).collect())
}

fn compare(a: &Value, b: &Value, descending: bool) -> Ordering {
    let order = match (a, b) {
        (Value::Undefined(_), Value::Undefined(_)) => return Ordering::Equal,
        (Value::Undefined(_), _) => return Ordering::Greater,
        (_, Value::Undefined(_)) => return Ordering::Less,
        (Value::Text(x), Value::Text(y)) => x.cmp(y),
        _ => a.number().unwrap_or(0.0).total_cmp(&b.number().unwrap_or(0.0)),
    };
    if descending { order.reverse() } else { order }
}

impl CriterionResult {
    fn blank(criterion: &Criterion) -> CriterionResult {
        CriterionResult {
            formula: criterion.formula.clone(),
            unit: None,
            pass_alone: 0,
            fail_alone: 0,
            undefined: 0,
            undefined_why: BTreeMap::new(),
            back_if_dropped: 0,
            histogram: None,
            error: None,
            warnings: Vec::new(),
        }
    }

    fn count(&mut self, passes: &[Result<bool, Why>]) {
        let mut reasons: HashMap<Why, usize> = HashMap::new();
        for p in passes {
            match p {
                Ok(true) => self.pass_alone += 1,
                Ok(false) => self.fail_alone += 1,
                Err(why) => *reasons.entry(*why).or_default() += 1,
            }
        }
        self.undefined = reasons.values().sum();
        self.undefined_why = reasons.into_iter().map(|(why, n)| (why.to_string(), n)).collect();
    }
}

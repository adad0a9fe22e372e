//! Runs a screen: who passes what, the narrowing, the survivors in order.

use super::{
    costs::{Histogram, NearMiss, Standings, costs},
    document::{Criterion, Need, Screen},
    section::Section,
    universe::{Refused, UniverseError, places},
};
use crate::{
    Why,
    domain::Day,
    formula::{Column, Compiled, FormulaError, Unit, Value},
    panel::CompanyIndex,
};
use serde::Serialize;
use std::{
    cmp::Ordering,
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

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

/// A column of the results, by place in the section; or why there is none.
type Shown = (String, Result<(Unit, Arc<Column>), FormulaError>);

/// The outcome of a screen.
#[derive(Clone, Debug)]
pub struct ScreenResult {
    /// The date it was run for.
    pub as_of: Day,
    /// The universe's companies in order of symbol.
    pub universe: Vec<CompanyIndex>,
    /// Companies out because a floor's figure is undefined.
    pub refused: Refused,
    /// The narrowing.
    pub steps: Vec<Step>,
    /// One a criterion, over all blocks, switched-off ones included.
    pub criteria: Vec<CriterionResult>,
    /// Companies that pass, in the screen's order, as places in the section.
    pub survivors: Vec<usize>,
    /// Companies that one criterion keeps out, nearest first.
    pub near_misses: Vec<NearMiss>,
    /// The columns asked for.
    pub columns: Vec<Shown>,
}

/// One criterion with its answers over the universe.
pub(super) struct Judged<'s> {
    pub(super) block: usize,
    /// The criterion, counted over all blocks.
    pub(super) place: usize,
    pub(super) criterion: &'s Criterion,
    pub(super) column: Arc<Column>,
    /// Where in the column each company of the universe stands.
    pub(super) places: &'s [usize],
    pub(super) passes: Vec<Result<bool, Why>>,
}

/// Runs a screen over a section.
///
/// # Errors
/// When the universe cannot be formed. Mistakes in criteria are reported beside them and the rest still runs.
pub fn run(screen: &Screen, section: &Section<'_>) -> Result<ScreenResult, UniverseError> {
    let (places, refused) = places(section, &screen.universe)?;
    let universe: Vec<CompanyIndex> = places.iter().map(|p| section.members()[*p]).collect();
    prepare(screen, section);
    let (judged, mut criteria) = judge(screen, &places, section);
    let standings = Standings::new(screen, &judged, places.len());
    let survivors: Vec<usize> = (0..places.len()).filter(|&i| standings.passes(i)).map(|i| places[i]).collect();
    let near_misses = costs(&judged, &standings, &universe, &mut criteria);
    let steps = narrowing(screen, &judged, &standings, places.len());
    let survivors = ordered(screen, survivors, section)?;
    let columns = screen.columns.iter().map(|f| (f.clone(), shown(f, section))).collect();
    Ok(ScreenResult { as_of: section.view.t, universe, refused, steps, criteria, survivors, near_misses, columns })
}

/// What the criteria and columns ask for is answered together where it is not kept.
fn prepare(screen: &Screen, section: &Section<'_>) {
    let criteria = screen.blocks.iter().flat_map(|b| &b.criteria).map(|c| &c.formula);
    let formulas = criteria.chain(&screen.columns).chain(screen.sort.iter().map(|s| &s.formula));
    let compiled: Vec<Arc<Compiled>> = formulas.filter_map(|f| section.view.compile(f).ok()).collect();
    section.prepare(&compiled);
}

fn shown(formula: &str, section: &Section<'_>) -> Result<(Unit, Arc<Column>), FormulaError> {
    let compiled = section.view.compile(formula)?;
    Ok((compiled.unit, section.column(&compiled)))
}

/// Judges every company by every criterion that is on and can be evaluated.
fn judge<'s>(screen: &'s Screen, places: &'s [usize], section: &Section<'_>) -> (Vec<Judged<'s>>, Vec<CriterionResult>) {
    let mut judged = Vec::new();
    let mut results = Vec::new();
    for (block, criterion) in screen.blocks.iter().enumerate().flat_map(|(b, block)| block.criteria.iter().map(move |c| (b, c))) {
        let place = results.len();
        let mut result = CriterionResult::blank(criterion);
        match section.view.compile(&criterion.formula).and_then(|c| bounds_suit(criterion, &c).map(|()| c)) {
            Err(error) => result.error = Some(error),
            Ok(compiled) => {
                result.unit = Some(compiled.unit);
                result.warnings.clone_from(&compiled.warnings);
                let column = section.column(&compiled);
                let passes = judge_column(criterion, &column, places);
                result.count(&passes);
                if criterion.enabled {
                    judged.push(Judged { block, place, criterion, column, places, passes });
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

fn judge_column(criterion: &Criterion, column: &Column, places: &[usize]) -> Vec<Result<bool, Why>> {
    match column {
        // By far the commonest: no detour over values of any type.
        Column::Number(numbers) if criterion.equals.is_none() => {
            let (low, high) = (criterion.min.unwrap_or(f64::NEG_INFINITY), criterion.max.unwrap_or(f64::INFINITY));
            places.iter().map(|p| numbers[*p].map(|v| (low <= v && v <= high) != criterion.negate)).collect()
        }
        _ => places.iter().map(|p| judge_one(criterion, &column.value(*p))).collect(),
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

/// The survivors (places) in the screen's order: its sort keys, undefined last both ways, then by symbol.
fn ordered(screen: &Screen, mut survivors: Vec<usize>, section: &Section<'_>) -> Result<Vec<usize>, UniverseError> {
    let keys = screen.sort.iter().map(|s| Ok((section.column(&*section.view.compile(&s.formula)?), s.descending)));
    let keys: Vec<(Arc<Column>, bool)> = keys.collect::<Result<_, FormulaError>>()?;
    survivors.sort_by(|&a, &b| {
        let by_keys = keys.iter().map(|(c, descending)| compare(&c.value(a), &c.value(b), *descending));
        by_keys.fold(Ordering::Equal, Ordering::then).then(a.cmp(&b))
    });
    survivors.truncate(screen.limit.unwrap_or(usize::MAX));
    Ok(survivors)
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

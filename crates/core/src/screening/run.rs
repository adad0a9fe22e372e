//! Runs a screen: who passes what, the narrowing, the survivors in order.

use super::{
    costs::{NearMiss, Standings, costs},
    document::{Need, Screen},
    judged::{CriterionResult, Judged, judge},
    sets::{Members, nobody},
    universe::{Universe, UniverseError, universe},
};
use crate::{
    domain::Day,
    engine::{Keep, Section},
    formula::{Column, Compiled, FormulaError, Unit, Value},
    limits::{COMPARISONS, FORMULAS_IN_ALL},
};
use serde::Serialize;
use std::{cmp::Ordering, sync::Arc};

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

/// A column of the results, by place in the section; or why there is none.
pub type Shown = (String, Result<(Unit, Arc<Column>), FormulaError>);

/// The outcome of a screen.
#[derive(Clone, Debug)]
pub struct ScreenResult {
    /// The date it was run for.
    pub as_of: Day,
    /// Whom it looks among.
    pub universe: Arc<Universe>,
    /// The narrowing.
    pub steps: Vec<Step>,
    /// One a criterion, over all blocks, switched-off ones included.
    pub criteria: Vec<CriterionResult>,
    /// How many pass.
    pub survivors: usize,
    /// Companies that one criterion keeps out, nearest first: as many as were asked for.
    pub near_misses: Vec<NearMiss>,
    /// How many there are in all.
    pub near_miss_count: usize,
}

/// Runs a screen over a section: all that is counted, and the nearest so many of the companies that nearly pass.
///
/// # Errors
/// When the universe cannot be formed. Mistakes in criteria are reported beside them and the rest still runs.
pub fn run(screen: &Screen, section: &Section<'_>, nearest: usize) -> Result<ScreenResult, UniverseError> {
    prepare(screen, section)?;
    let universe = universe(section, &screen.universe)?;
    let (judged, mut criteria) = judge(screen, &universe.members, section);
    let standings = Standings::new(screen, &judged, &universe.members);
    let near = costs(&judged, &standings, section, &mut criteria, nearest);
    let steps = narrowing(screen, &judged, &standings, &universe.members);
    let survivors = standings.survivors().count_ones(..).min(screen.limit.unwrap_or(usize::MAX));
    Ok(ScreenResult { as_of: section.t(), universe, steps, criteria, survivors, near_misses: near.nearest, near_miss_count: near.count })
}

/// The companies that pass a screen, in its order, as places in the section: nothing else is counted.
///
/// # Errors
/// When the universe cannot be formed, and a mistake in what is sorted by.
pub fn survivors(screen: &Screen, section: &Section<'_>) -> Result<Vec<usize>, UniverseError> {
    passing(screen, section).map(|found| found.places)
}

/// Who passes a screen, and of whom nothing can be said.
pub(crate) struct Passing {
    /// Whom it looks among.
    pub(crate) universe: Arc<Universe>,
    /// Those who pass, in its order, as places in the section.
    pub(crate) places: Vec<usize>,
    /// Those who would pass or fail by answers that are not there.
    pub(crate) unknown: Members,
}

/// Who passes a screen, and of whom nothing can be said: nothing else is counted.
///
/// # Errors
/// As [`survivors`].
pub(crate) fn passing(screen: &Screen, section: &Section<'_>) -> Result<Passing, UniverseError> {
    prepare(screen, section)?;
    let universe = universe(section, &screen.universe)?;
    let (judged, _) = judge(screen, &universe.members, section);
    let passes = Standings::new(screen, &judged, &universe.members).survivors();
    let mut unknown = Standings::at_best(screen, &judged, &universe.members).survivors();
    unknown.difference_with(&passes);
    let order = order(screen, section)?;
    let places = order.0.iter().map(|place| *place as usize).filter(|place| passes.contains(*place));
    Ok(Passing { places: places.take(screen.limit.unwrap_or(usize::MAX)).collect(), universe, unknown })
}

/// The columns of a screen, by place in the section.
#[must_use]
pub fn columns(screen: &Screen, section: &Section<'_>) -> Vec<Shown> {
    screen.columns.iter().map(|f| (f.clone(), shown(f, section))).collect()
}

/// What the criteria and columns ask for is answered together where it is not kept.
fn prepare(screen: &Screen, section: &Section<'_>) -> Result<(), UniverseError> {
    let criteria = screen.blocks.iter().flat_map(|b| &b.criteria).map(|c| &c.formula);
    let formulas: Vec<&String> = criteria.chain(&screen.columns).chain(screen.sort.iter().map(|s| &s.formula)).collect();
    if formulas.len() > FORMULAS_IN_ALL {
        return Err(UniverseError::TooMany(formulas.len()));
    }
    let compiled: Vec<Arc<Compiled>> = formulas.into_iter().filter_map(|f| section.compile(f).ok()).collect();
    let comparisons = Compiled::comparisons(compiled.iter().map(|c| &**c));
    if comparisons > COMPARISONS {
        return Err(UniverseError::TooWide(comparisons));
    }
    section.prepare(&compiled);
    Ok(())
}

fn shown(formula: &str, section: &Section<'_>) -> Result<(Unit, Arc<Column>), FormulaError> {
    let compiled = section.compile(formula)?;
    Ok((compiled.unit, section.column(&compiled)))
}

/// Survivors after each step: a criterion of an all block, or a whole other block.
fn narrowing(screen: &Screen, judged: &[Judged<'_>], standings: &Standings, universe: &Members) -> Vec<Step> {
    let mut left = universe.clone();
    let mut steps = vec![Step { step: "universe".to_owned(), criterion: None, left: left.count_ones(..), no_data: 0 }];
    for (b, block) in screen.blocks.iter().enumerate() {
        let mine: Vec<_> = judged.iter().filter(|j| j.block == b).collect();
        if mine.is_empty() {
            continue;
        }
        if block.need == Need::All {
            for j in mine {
                let no_data = left.intersection_count(&j.answers.unknown);
                left &= &*j.passes;
                steps.push(Step { step: j.criterion.formula.clone(), criterion: Some(j.place), left: left.count_ones(..), no_data });
            }
            continue;
        }
        let mut unknown = nobody(left.len());
        mine.iter().for_each(|j| unknown |= &j.answers.unknown);
        unknown &= &left;
        unknown.difference_with(standings.block(b));
        left &= standings.block(b);
        let need = match block.need {
            Need::AtLeast(k) => k.to_string(),
            _ => "any".to_owned(),
        };
        let no_data = unknown.count_ones(..);
        steps.push(Step { step: format!("block ({need})"), criterion: None, left: left.count_ones(..), no_data });
    }
    steps
}

/// All members of a section in a screen's order, by place.
struct Order(Vec<u32>);

impl Keep for Order {
    fn bytes(&self) -> usize {
        size_of_val(&*self.0)
    }
}

/// A screen's order: its sort keys, undefined last both ways, then by symbol. It is kept, for whoever passes.
fn order(screen: &Screen, section: &Section<'_>) -> Result<Arc<Order>, UniverseError> {
    let formulas: Vec<_> = screen.sort.iter().map(|s| section.compile(&s.formula)).collect::<Result<_, _>>()?;
    let descending: Vec<bool> = screen.sort.iter().map(|s| s.descending).collect();
    section.derived(&descending, &formulas, || {
        let keys: Vec<Arc<Column>> = formulas.iter().map(|f| section.column(f)).collect();
        let mut places: Vec<u32> = (0..).take(section.members().len()).collect();
        places.sort_by(|&a, &b| {
            let by_key = |(c, descending): (&Arc<Column>, &bool)| compare(&c.value(a as usize), &c.value(b as usize), *descending);
            keys.iter().zip(&descending).map(by_key).fold(Ordering::Equal, Ordering::then)
        });
        Ok(Order(places))
    })
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

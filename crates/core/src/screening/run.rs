//! Runs a screen: who passes what, the narrowing, the survivors in order.

use super::{
    costs::{NearMiss, Standings, costs},
    document::{Need, Screen},
    judged::{CriterionResult, Judged, judge},
    universe::{Refused, UniverseError, places},
};
use crate::{
    domain::Day,
    engine::Section,
    formula::{Column, Compiled, FormulaError, Unit, Value},
    panel::CompanyIndex,
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
    Ok(ScreenResult { as_of: section.t(), universe, refused, steps, criteria, survivors, near_misses, columns })
}

/// The companies that pass a screen, as places in the section in order of symbol: nothing is counted and nothing sorted.
///
/// # Errors
/// When the universe cannot be formed.
pub fn survivors(screen: &Screen, section: &Section<'_>) -> Result<Vec<usize>, UniverseError> {
    let (places, _) = places(section, &screen.universe)?;
    let bare = Screen { columns: Vec::new(), sort: Vec::new(), ..screen.clone() };
    prepare(&bare, section);
    let (judged, _) = judge(&bare, &places, section);
    let standings = Standings::new(&bare, &judged, places.len());
    let mut passing: Vec<usize> = (0..places.len()).filter(|&i| standings.passes(i)).map(|i| places[i]).collect();
    if let Some(limit) = screen.limit {
        passing = ordered(screen, passing, section)?;
        passing.truncate(limit);
    }
    Ok(passing)
}

/// What the criteria and columns ask for is answered together where it is not kept.
fn prepare(screen: &Screen, section: &Section<'_>) {
    let criteria = screen.blocks.iter().flat_map(|b| &b.criteria).map(|c| &c.formula);
    let formulas = criteria.chain(&screen.columns).chain(screen.sort.iter().map(|s| &s.formula));
    let compiled: Vec<Arc<Compiled>> = formulas.filter_map(|f| section.compile(f).ok()).collect();
    section.prepare(&compiled);
}

fn shown(formula: &str, section: &Section<'_>) -> Result<(Unit, Arc<Column>), FormulaError> {
    let compiled = section.compile(formula)?;
    Ok((compiled.unit, section.column(&compiled)))
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
    let keys = screen.sort.iter().map(|s| Ok((section.column(&*section.compile(&s.formula)?), s.descending)));
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

//! Each criterion by itself: who meets it, who does not, and of whom nothing is known.

use super::{
    document::{Criterion, Screen},
    histogram::Histogram,
    ordered::Ordered,
    sets::{Members, those},
};
use crate::{
    engine::Section,
    formula::{Column, Compiled, Fingerprint, FormulaError, Unit, Value},
};
use serde::Serialize;
use std::{collections::BTreeMap, sync::Arc};

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

/// One criterion with its answers over the section: both are kept, one by formula, the other by formula and bounds.
#[derive(Clone)]
pub(super) struct Judged<'s> {
    pub(super) block: usize,
    /// The criterion, counted over all blocks.
    pub(super) place: usize,
    pub(super) criterion: &'s Criterion,
    pub(super) formula: Arc<Compiled>,
    pub(super) answers: Arc<Ordered>,
    pub(super) passes: Arc<Members>,
}

/// Judges every company by every criterion that is on and can be evaluated.
pub(super) fn judge<'s>(screen: &'s Screen, universe: &Members, section: &Section<'_>) -> (Vec<Judged<'s>>, Vec<CriterionResult>) {
    let mut judged = Vec::new();
    let mut results = Vec::new();
    for (block, criterion) in screen.blocks.iter().enumerate().flat_map(|(b, block)| block.criteria.iter().map(move |c| (b, c))) {
        let place = results.len();
        let mut result = CriterionResult::blank(criterion);
        match section.compile(&criterion.formula).and_then(|c| bounds_suit(criterion, &c).map(|()| c)) {
            Err(error) => result.error = Some(error),
            Ok(formula) => {
                result.unit = Some(formula.unit);
                result.warnings.clone_from(&formula.warnings);
                result.warnings.extend(crossed(criterion));
                let answers = section.of_column(&formula, Fingerprint::NOTHING, Ordered::of);
                let passes = section.of_column(&formula, bounds(criterion), |column| passing(criterion, column));
                result.count(universe, &answers, &passes);
                if criterion.enabled {
                    judged.push(Judged { block, place, criterion, formula, answers, passes });
                }
            }
        }
        results.push(result);
    }
    (judged, results)
}

/// All of a criterion that decides who passes, beside its formula.
fn bounds(Criterion { min, max, equals, one_of, negate, .. }: &Criterion) -> Fingerprint {
    Fingerprint::of(&(min, max, equals, one_of, negate))
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

/// Those of a section who meet a criterion.
fn passing(criterion: &Criterion, column: &Column) -> Members {
    match column {
        // By far the commonest: no detour over values of any type.
        Column::Number(numbers) if criterion.equals.is_none() => {
            let (low, high) = (criterion.min.unwrap_or(f64::NEG_INFINITY), criterion.max.unwrap_or(f64::INFINITY));
            those(numbers.len(), |i| numbers[i].is_ok_and(|v| (low <= v && v <= high) != criterion.negate))
        }
        _ => those(column.len(), |i| meets(criterion, &column.value(i))),
    }
}

#[allow(clippy::float_cmp)]
fn meets(criterion: &Criterion, value: &Value) -> bool {
    let equals = |v: serde_json::Value| criterion.equals.as_ref().is_none_or(|e| *e == v);
    let answer = match value {
        Value::Undefined(_) => return false,
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
    answer != criterion.negate
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

    fn count(&mut self, universe: &Members, answers: &Ordered, passes: &Members) {
        let among = |set: &Members| universe.intersection_count(set);
        self.pass_alone = among(passes);
        self.undefined = among(&answers.unknown);
        self.fail_alone = universe.count_ones(..) - self.pass_alone - self.undefined;
        let reasons = answers.reasons.iter().map(|(why, set)| (why.to_string(), among(set)));
        self.undefined_why = reasons.filter(|(_, n)| *n > 0).collect();
    }
}

/// Bounds between which there is nothing.
fn crossed(criterion: &Criterion) -> Option<String> {
    let crossed = criterion.min.zip(criterion.max).is_some_and(|(min, max)| min > max);
    crossed.then(|| "The minimum is above the maximum, so that no figure can be between them.".to_owned())
}

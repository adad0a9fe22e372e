//! Which bound, drawn in, leaves as few as one can read about.

use super::{
    bounds::no_smaller,
    document::{Need, Screen},
    judged::judge,
    universe::{UniverseError, universe},
};
use crate::engine::Section;

/// Companies that one can read about in an evening.
const READABLE: usize = 10;

/// A criterion's bound drawn in.
#[derive(Clone, Debug, PartialEq)]
pub struct Tighter {
    /// The criterion, counted over all blocks.
    pub criterion: usize,
    /// The new least, where it has one.
    pub min: Option<f64>,
    /// The new most, where it has one.
    pub max: Option<f64>,
    /// How many of those that pass are left.
    pub leaves: usize,
}

/// For each criterion with one bound, of the blocks that ask for all, the bound that leaves ten of those that pass: ties stay
/// together, and the bound is rounded away from them, so that it may leave a few more. Fewest left first.
///
/// # Errors
/// When the universe cannot be formed.
pub fn tighter(screen: &Screen, section: &Section<'_>, passing: &[usize]) -> Result<Vec<Tighter>, UniverseError> {
    if passing.len() <= READABLE {
        return Ok(Vec::new());
    }
    let universe = universe(section, &screen.universe)?;
    let (judged, _) = judge(screen, &universe.members, section);
    let mut out = Vec::new();
    for j in judged.iter().filter(|j| screen.blocks[j.block].need == Need::All && !j.criterion.negate) {
        let upwards = match (j.criterion.min, j.criterion.max) {
            (Some(_), None) => true,
            (None, Some(_)) => false,
            _ => continue,
        };
        let column = section.column(&j.formula);
        // Looking from the better end, whichever it is.
        let sign = if upwards { -1.0 } else { 1.0 };
        let mut values: Vec<f64> = passing.iter().filter_map(|p| column.value(*p).number().ok()).map(|v| sign * v).collect();
        if values.len() <= READABLE {
            continue;
        }
        let (_, tenth, _) = values.select_nth_unstable_by(READABLE - 1, f64::total_cmp);
        let bound = no_smaller(*tenth);
        let leaves = values.iter().filter(|v| **v <= bound).count();
        let bound = sign * bound;
        if leaves < passing.len() {
            out.push(Tighter { criterion: j.place, min: upwards.then_some(bound), max: (!upwards).then_some(bound), leaves });
        }
    }
    out.sort_by_key(|t| (t.leaves, t.criterion));
    Ok(out)
}

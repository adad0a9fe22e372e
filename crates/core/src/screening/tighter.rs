//! Which bound, drawn in, leaves as few as one can read about.

use super::{
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
        let bound = outwards(*tenth);
        let leaves = values.iter().filter(|v| **v <= bound).count();
        let bound = sign * bound;
        if leaves < passing.len() {
            out.push(Tighter { criterion: j.place, min: upwards.then_some(bound), max: (!upwards).then_some(bound), leaves });
        }
    }
    out.sort_by_key(|t| (t.leaves, t.criterion));
    Ok(out)
}

/// Three digits, no smaller than a number.
fn outwards(x: f64) -> f64 {
    if x == 0.0 || !x.is_finite() {
        return x;
    }
    let step = 10f64.powf(x.abs().log10().floor() - 2.0);
    let rounded = (x / step).ceil() * step;
    // Through text, so that 0.15 is not a bit beside it; that may fall below again.
    format!("{rounded:.9e}").parse::<f64>().map_or(x, |near| if near < x { x } else { near })
}

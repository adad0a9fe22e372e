//! Bounds that are proposed: round, and such that a figure stays within.

use super::document::Criterion;

/// Bounds that let a company in.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Loosened {
    /// The new least, where the old one keeps it out.
    pub min: Option<f64>,
    /// The new most, where the old one keeps it out.
    pub max: Option<f64>,
}

/// The bounds at which a criterion takes a value that it does not take now: three digits, rounded away from the value. None when it
/// asks for no bounds, or for the contrary.
pub(super) fn loosened(criterion: &Criterion, value: f64) -> Option<Loosened> {
    let min = criterion.min.filter(|min| value < *min).map(|_| no_greater(value));
    let max = criterion.max.filter(|max| value > *max).map(|_| no_smaller(value));
    (!criterion.negate && value.is_finite() && (min.is_some() || max.is_some())).then_some(Loosened { min, max })
}

/// Three digits, no smaller than a number.
pub(super) fn no_smaller(x: f64) -> f64 {
    if x == 0.0 || !x.is_finite() {
        return x;
    }
    let step = 10f64.powf(x.abs().log10().floor() - 2.0);
    let rounded = (x / step).ceil() * step;
    // Through text, so that 0.15 is not a bit beside it; that may fall below again.
    format!("{rounded:.9e}").parse::<f64>().map_or(x, |near| if near < x { x } else { near })
}

fn no_greater(x: f64) -> f64 {
    -no_smaller(-x)
}

#[cfg(test)]
mod tests {
    use super::{Loosened, loosened, no_greater, no_smaller};
    use crate::screening::Criterion;

    #[test]
    fn proposed_bounds_are_round_and_on_the_far_side() {
        let up = [0.149_6, 20.969_211, -20.969_211, 1_234_567.0, 0.15, 0.0].map(no_smaller);
        assert_eq!(up, [0.15, 21.0, -20.9, 1_240_000.0, 0.15, 0.0]);
        let down = [0.149_6, 20.969_211, -20.969_211, 8.0].map(no_greater);
        assert_eq!(down, [0.149, 20.9, -21.0, 8.0]);
    }

    /// Of bounds that cross both give way, so that the one value is between them.
    #[test]
    fn a_value_is_let_in_from_whichever_side_it_is() {
        let between = |min, max| Criterion { min, max, ..Criterion::default() };
        let to = |min, max| Some(Loosened { min, max });
        assert_eq!(loosened(&between(Some(0.2), None), 0.179_94), to(Some(0.179), None));
        assert_eq!(loosened(&between(Some(5.0), Some(9.0)), 9.111), to(None, Some(9.12)));
        assert_eq!(loosened(&between(Some(9.0), Some(5.0)), 7.001), to(Some(7.0), Some(7.01)));
        assert_eq!(loosened(&between(Some(5.0), None), 6.0), None, "it passes");
        assert_eq!(loosened(&between(Some(5.0), None), f64::NEG_INFINITY), None);
        assert_eq!(loosened(&Criterion { negate: true, ..between(Some(5.0), None) }, 4.0), None);
    }
}

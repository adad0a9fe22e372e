//! Facts of one concept, period and unit: the same figure, rounded or not, or a contradiction.

use super::fact::{Exactness, Figure};
use rust_decimal::Decimal;

/// The figure that counts of several of one concept and period: the most exact one, if all agree.
///
/// They agree when each could be the same number: the intervals value ± half a unit overlap. Where exactness is not stated, when
/// they are equal or the rounder one is the other rounded to its last figure that is not 0.
pub(super) fn agreed(figures: &[Figure]) -> Option<usize> {
    let most_exact = |i: &usize| (figures[*i].exactness.rank(), significant(figures[*i].value), std::cmp::Reverse(*i));
    let best = (0..figures.len()).max_by_key(most_exact)?;
    figures.iter().all(|f| agree(&figures[best], f)).then_some(best)
}

fn agree(exact: &Figure, other: &Figure) -> bool {
    if exact.value == other.value {
        return true;
    }
    if exact.exactness == Exactness::Unstated && other.exactness == Exactness::Unstated {
        return significant(other.value) >= 2 && rounded_like(exact.value, other.value);
    }
    (exact.value - other.value).abs() <= exact.half_unit() + other.half_unit()
}

/// How many figures stand before the zeros at the end.
fn significant(value: Decimal) -> usize {
    value.mantissa().unsigned_abs().to_string().trim_end_matches('0').len()
}

/// Whether a number, rounded to the last figure of another that is not 0, is that other.
fn rounded_like(exact: Decimal, round: Decimal) -> bool {
    let round = round.normalize();
    let digits = round.mantissa().unsigned_abs().to_string();
    let zeros = digits.len() - digits.trim_end_matches('0').len();
    let half = if round.scale() > 0 {
        Decimal::new(5, round.scale() + 1)
    } else {
        Decimal::from(5 * 10_i128.pow(u32::try_from(zeros).unwrap_or(0))) / Decimal::TEN
    };
    (exact - round).abs() <= half
}

#[cfg(test)]
mod tests {
    use super::*;

    fn figures(all: &[(&str, Exactness)]) -> Vec<Figure> {
        all.iter().map(|(value, exactness)| Figure { value: value.parse().unwrap(), exactness: *exactness }).collect()
    }

    #[test]
    fn the_most_exact_of_those_that_agree_counts() {
        use Exactness::{Decimals, Exact, Unstated};
        let thousands = ("313937000", Decimals(-3));
        assert_eq!(agreed(&figures(&[thousands, ("313900000", Decimals(-5))])), Some(0));
        assert_eq!(agreed(&figures(&[("313900000", Decimals(-5)), thousands])), Some(1));
        assert_eq!(agreed(&figures(&[thousands, ("313937481", Exact)])), Some(1));
        assert_eq!(agreed(&figures(&[thousands, ("313938000", Decimals(-3))])), Some(0), "half a unit each: they may touch");
        assert_eq!(agreed(&figures(&[thousands, ("313939000", Decimals(-3))])), None);
        assert_eq!(agreed(&figures(&[("24851", Unstated), ("24900", Unstated)])), Some(0));
        assert_eq!(agreed(&figures(&[("24851", Unstated), ("20000", Unstated)])), None, "one figure is too round to tell");
        assert_eq!(agreed(&figures(&[("24851", Unstated), ("24800", Unstated)])), None);
        assert_eq!(agreed(&figures(&[("0.87", Unstated), ("0.9", Unstated)])), None);
        assert_eq!(agreed(&[]), None);
    }
}

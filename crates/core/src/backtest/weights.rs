//! How much of each: weights, and the value that is left after the cost of trading to them.

use super::document::Weights;

/// The weights of some companies by the rule; `caps` are their market values, where they have one. They add up to one, or to less
/// where too few could hold everything under the highest weight.
pub(super) fn weights(rule: Weights, caps: &[Option<f64>], most: Option<f64>) -> Vec<f64> {
    match rule {
        Weights::Equal => vec![1.0 / caps.len() as f64; caps.len()],
        Weights::MarketCap => {
            let caps: Vec<f64> = caps.iter().map(|cap| cap.unwrap_or(0.0)).collect();
            let sum: f64 = caps.iter().sum();
            let shares = caps.iter().map(|cap| if sum > 0.0 { cap / sum } else { 0.0 }).collect();
            most.map_or(shares, |most| capped(&caps, most))
        }
    }
}

/// Shares of the whole in proportion, none above `most`: what is above is cut, and the excess spread over those that are not cut, again
/// and again.
fn capped(caps: &[f64], most: f64) -> Vec<f64> {
    let mut cut = vec![false; caps.len()];
    loop {
        let rest = 1.0 - most * cut.iter().filter(|c| **c).count() as f64;
        let sum: f64 = caps.iter().zip(&cut).filter(|(_, cut)| !**cut).map(|(cap, _)| cap).sum();
        let share = |i: usize| {
            if cut[i] {
                most
            } else if sum > 0.0 {
                caps[i] / sum * rest.max(0.0)
            } else {
                0.0
            }
        };
        let shares: Vec<f64> = (0..caps.len()).map(share).collect();
        let above: Vec<usize> = (0..caps.len()).filter(|i| !cut[*i] && shares[*i] > most).collect();
        if above.is_empty() {
            return shares;
        }
        above.into_iter().for_each(|i| cut[i] = true);
    }
}

/// What is left of a value V after trading from what is held to the weights at a cost of c of every amount: the V' of
/// V' + c Σ |w V' − held| = V. `pairs` are weights with what is held.
///
/// The left side rises with V' and bends upward only, so that Newton's steps from V come down to the root, and stop at it.
pub(super) fn after_costs(value: f64, cost: f64, pairs: &(impl Iterator<Item = (f64, f64)> + Clone)) -> f64 {
    let mut left = value;
    loop {
        let (mut slope, mut rest) = (1.0, value);
        for (weight, held) in pairs.clone() {
            let sign = if weight * left >= held { cost } else { -cost };
            slope += sign * weight;
            rest += sign * held;
        }
        let next = rest / slope;
        // Rounding may take it a bit up again.
        if next >= left || left - next <= 1e-15 * value {
            return next;
        }
        left = next;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 60, 30 and 10 % with none above 40: the first is cut, 60 % go to the others three to one, so that the second is cut too and the
    /// third has the 20 % that are left.
    #[test]
    fn excess_goes_to_those_that_are_not_cut() {
        let of = |most| weights(Weights::MarketCap, &[Some(6.0), Some(3.0), Some(1.0)], most);
        let near = |got: Vec<f64>, want: [f64; 3]| assert!(got.iter().zip(want).all(|(a, b)| (a - b).abs() < 1e-12), "{got:?}");
        near(of(None), [0.6, 0.3, 0.1]);
        near(of(Some(0.4)), [0.4, 0.4, 0.2]);
        near(of(Some(0.2)), [0.2, 0.2, 0.2]);
        near(weights(Weights::Equal, &[None, Some(3.0), None], None), [1.0 / 3.0; 3]);
    }

    /// From cash to half and half at 1 %: V' (1 + 0.01) = 1. From all in the one to all in the other: V' + 0.01 (1 + V') = 1.
    #[test]
    fn costs_are_paid_out_of_the_value() {
        let from_cash = after_costs(1.0, 0.01, &[(0.5, 0.0), (0.5, 0.0)].into_iter());
        assert!((from_cash - 1.0 / 1.01).abs() < 1e-15);
        let turned = after_costs(1.0, 0.01, &[(0.0, 1.0), (1.0, 0.0)].into_iter());
        assert!((turned - 0.99 / 1.01).abs() < 1e-15);
        let unchanged = after_costs(2.0, 0.01, &[(0.25, 0.5), (0.75, 1.5)].into_iter());
        assert!((unchanged - 2.0).abs() < 1e-15);
    }

    /// Whatever is held, the equation holds.
    #[test]
    fn the_equation_holds() {
        for k in 1..200_u32 {
            let x = |n: u32| f64::from((k * n * 7_919) % 101) / 101.0;
            let total = x(1) + x(2) + x(3) + 0.1;
            let pairs = [(x(1) / total, x(5)), (x(2) / total, x(6)), (x(3) / total, x(7))];
            let value = x(5) + x(6) + x(7) + x(8) + 0.01;
            let left = after_costs(value, 0.02, &pairs.into_iter());
            let cost: f64 = pairs.iter().map(|(w, h)| 0.02 * (w * left - h).abs()).sum();
            assert!((left + cost - value).abs() < 1e-13, "{k}");
        }
    }
}

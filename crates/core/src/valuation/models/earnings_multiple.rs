//! Model 1: dividends over the horizon, then a sale at the usual multiple of earnings.

use super::{Case, positive};
use crate::Num;

/// Σ p·E_t ÷ (1+r)^t + E_N × X ÷ (1+r)^N, E0 > 0; X the own median P/E within the exit bounds.
///
/// With E0 = 1, p = 0, g = 0 up to gT = 2.5 % and X = 15 the value is 15 × E_N ÷ 1.09^10 = 15 × 1.0772 × 0.4224 = 6.83.
pub(super) fn value(case: &Case<'_>) -> Num {
    let earnings = positive(case.inputs.earnings)?;
    Ok(earnings * of_one(case, case.inputs.payout(), case.inputs.exit_pe(case.a)))
}

/// The value of one unit of starting earnings.
pub(super) fn of_one(case: &Case<'_>, payout: f64, exit: f64) -> f64 {
    payout * case.rate().present(&case.path) + case.path.at_last() * exit * case.rate().at_last()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::valuation::{Assumptions, inputs::tests::plain, models::Rates};

    #[test]
    fn hand_calculation() {
        let (inputs, a) = (plain(), Assumptions::standard());
        let worth = of_one(&Case::new(&inputs, &a, &Rates::new(&inputs, &a).unwrap(), 0.0), 0.0, 15.0);
        // fade 0.5, 1.0, 1.5, 2.0, 2.5 %: 1.005 × 1.01 × 1.015 × 1.02 × 1.025 = 1.0771…
        let expected = 15.0 * 1.005 * 1.01 * 1.015 * 1.02 * 1.025 / 1.09f64.powi(10);
        assert!((worth - expected).abs() < 1e-12 && (worth - 6.83).abs() < 0.02, "{worth}");
    }
}

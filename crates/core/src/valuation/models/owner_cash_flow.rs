//! Model 2: free cash flow to shareholders, discounted.

use super::{
    super::path::{compounded, multiples, present_value, terminal_growth},
    Case, positive,
};
use crate::Num;

/// Σ F_t ÷ (1+r)^t + F_N (1+gT) ÷ (r − gT) ÷ (1+r)^N, F0 > 0. The cash is after interest, so debt is not subtracted again.
///
/// Cash of 2 that grows by the terminal 2.5 % from the first year on is a growing perpetuity: at 9 % it is worth
/// 2 × 1.025 ÷ 0.065 = 31.54, however long the horizon.
pub(super) fn value(case: &Case<'_>) -> Num {
    Ok(positive(case.inputs.cash_flow)? * of_one(case, case.r))
}

/// The present value of one unit of starting cash flow at a discount rate.
pub(super) fn of_one(case: &Case<'_>, rate: f64) -> f64 {
    let terminal = terminal_growth(case.a, rate);
    let own = (rate.to_bits() != case.r.to_bits()).then(|| multiples(case.a, case.g, terminal));
    let path = own.as_ref().unwrap_or(&case.path);
    let last = path.last().copied().unwrap_or(1.0);
    let sold = last * (1.0 + terminal) / (rate - terminal);
    present_value(path.iter().copied(), rate) + sold / compounded(rate, case.a.horizon)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::valuation::{Assumptions, Inputs, inputs::tests::plain};

    #[test]
    fn at_terminal_growth_it_is_a_growing_perpetuity() {
        let inputs = Inputs { cash_flow: Ok(2.0), ..plain() };
        for horizon in [1, 10, 25] {
            let a = Assumptions { horizon, ..Assumptions::standard() };
            let worth = value(&Case::new(&inputs, &a, 0.025).unwrap()).unwrap();
            assert!((worth - 2.0 * 1.025 / 0.065).abs() < 1e-9, "{worth}");
        }
    }
}

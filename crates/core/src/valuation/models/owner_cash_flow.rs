//! Model 2: free cash flow to shareholders, discounted.

use super::{Account, Amount, Case, Path, Rate};
use crate::Why;

/// Σ F_t ÷ (1+r)^t + F_N (1+gT) ÷ (r − gT) ÷ (1+r)^N, F0 > 0. The cash is after interest, so debt is not subtracted again.
///
/// Cash of 2 that grows by the terminal 2.5 % from the first year on is a growing perpetuity: at 9 % it is worth
/// 2 × 1.025 ÷ 0.065 = 31.54, however long the horizon.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let start = case.start.cash_flow?.positive()?;
    cash(("Free cash flow", start), &case.path, case.rate, to);
    Ok(())
}

/// A growing figure of cash at a discount rate, and for ever after the horizon at terminal growth.
pub(super) fn cash<N: Amount>((figure, start): (&'static str, N), path: &Path<N>, rate: &Rate<N>, to: &mut impl Account<N>) {
    to.headed(figure, "Cash");
    for (growth, figure, discount) in rate.over(path, start) {
        to.year(growth, figure, figure, discount);
    }
    let after = start * path.at_last() * (N::of(1.0) + rate.terminal) / (rate.r - rate.terminal);
    to.part("everything after the horizon", after * rate.at_last());
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn at_terminal_growth_it_is_a_growing_perpetuity() {
        let inputs = Inputs { cash_flow: Ok(2.0), ..plain() };
        for horizon in [1, 10, 25] {
            let a = Assumptions { horizon, ..Assumptions::standard() };
            let worth = value_at(Model::OwnerCashFlow, &inputs, &a, 0.025).unwrap();
            assert!((worth - 2.0 * 1.025 / 0.065).abs() < 1e-9, "{worth}");
        }
    }
}

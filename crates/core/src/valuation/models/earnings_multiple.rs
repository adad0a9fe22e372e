//! Model 1: dividends over the horizon, then a sale at the usual multiple of earnings.

use super::{Account, Amount, Case};
use crate::Why;

/// Σ p·E_t ÷ (1+r)^t + E_N × X ÷ (1+r)^N, E0 > 0; X the own median P/E within the exit bounds.
///
/// With E0 = 1, p = 0, g = 0 up to gT = 2.5 % and X = 15 the value is 15 × E_N ÷ 1.09^10 = 15 × 1.0772 × 0.4224 = 6.83.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let start = case.start;
    paid_then_sold(case, ("Earnings", start.earnings?.positive()?), start.payout, start.exit_pe, to);
    Ok(())
}

/// A share of a growing figure is paid out each year, and at the horizon all is sold at a multiple of the figure.
pub(super) fn paid_then_sold<N: Amount>(
    case: &Case<'_, N>,
    (figure, start): (&'static str, N),
    payout: N,
    exit: N,
    to: &mut impl Account<N>,
) {
    to.headed(figure, "Dividends");
    for (growth, figure, discount) in case.rate.over(&case.path, start) {
        to.year(growth, figure, payout * figure, discount);
    }
    to.part("sale at the exit multiple", start * case.path.at_last() * exit * case.rate.at_last());
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { earnings: Ok(1.0), paid: Ok(0.0), own_pe: Ok(15.0), ..plain() };
        let worth = value_at(Model::EarningsMultiple, &inputs, &Assumptions::standard(), 0.0).unwrap();
        // fade 0.5, 1.0, 1.5, 2.0, 2.5 %: 1.005 × 1.01 × 1.015 × 1.02 × 1.025 = 1.0771…
        let expected = 15.0 * 1.005 * 1.01 * 1.015 * 1.02 * 1.025 / 1.09f64.powi(10);
        assert!((worth - expected).abs() < 1e-12 && (worth - 6.83).abs() < 0.02, "{worth}");
    }
}

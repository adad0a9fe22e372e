//! Model 9, for property companies: model 1 on funds from operations.

use super::{Account, Amount, Case, earnings_multiple};
use crate::Why;

/// As model 1 with FFO0 for E0, p = clamp(D0 ÷ FFO0, 0, 1) and X the own median P/FFO within its bounds.
///
/// FFO of 4, half of it paid out, grown by 10 % over a horizon of one year and sold at 12 times: (2.2 + 52.8) ÷ 1.09 = 50.46.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let i = case.start;
    let start = ("Funds from operations", i.ffo?.positive()?);
    earnings_multiple::paid_then_sold(case, start, i.payout_of_ffo, i.exit_pffo, to);
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { ffo: Ok(4.0), paid: Ok(2.0), own_pffo: Ok(12.0), ..plain() };
        let a = Assumptions { horizon: 1, growth_years: 1, ..Assumptions::standard() };
        let worth = value_at(Model::PropertyCashFlow, &inputs, &a, 0.10).unwrap();
        assert!((worth - 55.0 / 1.09).abs() < 1e-12, "{worth}");
    }
}

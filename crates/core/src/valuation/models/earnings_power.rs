//! Model 5: today's sales at the usual margin for ever, without growth.

use super::{Account, Amount, Case, less_claims};
use crate::Why;

/// Mean operating margin of five fiscal years × revenue × (1 − tax) ÷ w, less debt, preferred and minority capital, plus
/// cash; undefined when the mean margin is ≤ 0. Greenwald 2001.
///
/// 10 % of sales of 200 after 25 % tax is 15 a year, worth 166.67 at 9 % for ever, and with claims of 20 on it 146.67.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let i = case.start;
    let income = i.mean_margin?.positive()? * i.revenue? * (N::of(1.0) - i.tax?);
    to.part("usual operating income after tax, for ever", income / (case.firm)(case.g)?.0.r);
    less_claims(i.net_claims?, to);
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs {
            mean_margin: Ok(0.10),
            revenue: Ok(200.0),
            tax: Ok(0.25),
            net_claims: Ok(20.0),
            debt_outstanding: Ok(0.0),
            price: Ok(50.0),
            ..plain()
        };
        let worth = value_at(Model::EarningsPower, &inputs, &Assumptions::standard(), 0.0).unwrap();
        assert!((worth - (15.0 / 0.09 - 20.0)).abs() < 1e-9, "{worth}");
    }
}

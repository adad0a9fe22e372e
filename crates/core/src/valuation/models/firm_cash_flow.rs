//! Model 3: free cash flow of the firm, before interest, less what belongs to others.

use super::{Account, Amount, Case, less_claims, owner_cash_flow};
use crate::Why;

/// FCFF0 = operating income × (1 − tax) + mean of (depreciation − capital expenditure) over three fiscal years, > 0;
/// grown as in model 2, discounted at the firm's rate w, less debt, preferred and minority capital, plus cash.
///
/// Income of 10 taxed at 25 % less 0.5 put back is 7; without debt w is r, so that at 2.5 % growth it is worth
/// 7 × 1.025 ÷ 0.065 = 110.38, and with claims of 20 on it 90.38.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let i = case.start;
    let start = (i.operating_income? * (N::of(1.0) - i.tax?) + i.reinvestment?).positive()?;
    let (rate, path) = (case.firm)(case.g)?;
    owner_cash_flow::cash(("Free cash flow of the firm", start), &path, &rate, to);
    less_claims(i.net_claims?, to);
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs {
            operating_income: Ok(10.0),
            tax: Ok(0.25),
            reinvestment: Ok(-0.5),
            net_claims: Ok(20.0),
            debt_outstanding: Ok(0.0),
            price: Ok(50.0),
            ..plain()
        };
        let worth = value_at(Model::FirmCashFlow, &inputs, &Assumptions::standard(), 0.025).unwrap();
        assert!((worth - 90.38).abs() < 0.01, "{worth}");
    }
}

//! Model 7: the dividends alone.

use super::{Account, Amount, Case};
use crate::Why;

/// D0 [(1+gT) + H (g − gT)] ÷ (r − gT) with H = (5 + N) ÷ 2, half of the whole fade; needs a dividend in each of the last
/// five fiscal years. H-model, Fuller & Hsia 1984.
///
/// A dividend of 2 that grows by 5 %, r = 9 %: H = 7.5, 2 × (1.025 + 7.5 × 0.025) ÷ 0.065 = 37.31.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    case.start.dividend_each_year?.positive()?;
    let dividend = case.start.dividend?.positive()?;
    let (r, terminal) = (case.rate.r, case.rate.terminal);
    let half_life = (case.course.growth_years + N::of(case.course.horizon.into())) / N::of(2.0);
    to.part("dividends at terminal growth, for ever", dividend * (N::of(1.0) + terminal) / (r - terminal));
    to.part("growth unlike it in the years before", dividend * half_life * (case.g - terminal) / (r - terminal));
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { dividend: Ok(2.0), dividend_each_year: Ok(1.0), ..plain() };
        let worth = value_at(Model::DividendStream, &inputs, &Assumptions::standard(), 0.05).unwrap();
        assert!((worth - 37.31).abs() < 0.005, "{worth}");
    }
}

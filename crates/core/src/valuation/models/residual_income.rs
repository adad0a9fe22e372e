//! Model 4: book value plus what is earned above the required return on it.

use super::{Account, Amount, Case};
use crate::Why;

/// B_t = B_{t−1} + (1 − p) E_t; RI_t = E_t − r B_{t−1};
/// value = B0 + Σ RI_t ÷ (1+r)^t + ω RI_N ÷ (1 + r − ω) ÷ (1+r)^N; B0 > 0 and E0 > 0. Ohlson 1995.
///
/// Book value 100, earnings of 12 that neither grow nor are kept, r = 9 %: 3 a year above what is required, worth
/// 3 × 6.4177 = 19.25 over ten years and 0.6 × 3 ÷ 0.49 × 0.4224 = 1.55 after; together 120.80.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let (book0, earnings0) = (case.start.book?.positive()?, case.start.earnings?.positive()?);
    let (one, r, omega) = (N::of(1.0), case.rate.r, case.course.persistence);
    let kept = one - case.start.payout;
    let (mut book, mut excess) = (book0, N::of(0.0));
    to.headed("Earnings", "Above the required return");
    for (growth, earnings, discount) in case.rate.over(&case.path, earnings0) {
        excess = earnings - r * book;
        to.year(growth, earnings, excess, discount);
        book = book + kept * earnings;
    }
    to.part("book value today", book0);
    to.part("what persists after the horizon", omega * excess / (one + r - omega) * case.rate.at_last());
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { book: Ok(100.0), earnings: Ok(12.0), paid: Ok(12.0), ..plain() };
        let a = Assumptions { terminal_growth: 0.0, ..Assumptions::standard() };
        let worth = value_at(Model::ResidualIncome, &inputs, &a, 0.0).unwrap();
        assert!((worth - 120.80).abs() < 0.01, "{worth}");
    }
}

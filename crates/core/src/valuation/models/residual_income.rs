//! Model 4: book value plus what is earned above the required return on it.

use super::{super::path::compounded, Case, positive};
use crate::Num;

/// B_t = B_{t−1} + (1 − p) E_t; RI_t = E_t − r B_{t−1};
/// value = B0 + Σ RI_t ÷ (1+r)^t + ω RI_N ÷ (1 + r − ω) ÷ (1+r)^N; B0 > 0 and E0 > 0. Ohlson 1995.
///
/// Book value 100, earnings of 12 that neither grow nor are kept, r = 9 %: 3 a year above what is required, worth
/// 3 × 6.4177 = 19.25 over ten years and 0.6 × 3 ÷ 0.49 × 0.4224 = 1.55 after; together 120.80.
pub(super) fn value(case: &Case<'_>) -> Num {
    let (book0, earnings0) = (positive(case.inputs.book)?, positive(case.inputs.earnings)?);
    let (kept, r, omega) = (1.0 - case.inputs.payout(), case.r, case.a.persistence);
    let (mut book, mut worth, mut discount, mut excess) = (book0, book0, 1.0, 0.0);
    let a_year = 1.0 / (1.0 + r);
    for multiple in case.path.iter() {
        let earnings = earnings0 * multiple;
        discount *= a_year;
        excess = earnings - r * book;
        worth += excess * discount;
        book += kept * earnings;
    }
    Ok(worth + omega * excess / (1.0 + r - omega) / compounded(r, case.a.horizon))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::valuation::{Assumptions, Inputs, inputs::tests::plain};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { book: Ok(100.0), earnings: Ok(12.0), paid: Ok(12.0), ..plain() };
        let a = Assumptions { terminal_growth: 0.0, ..Assumptions::standard() };
        let worth = value(&Case::new(&inputs, &a, 0.0).unwrap()).unwrap();
        assert!((worth - 120.80).abs() < 0.01, "{worth}");
    }
}

//! Model 8, for banks and insurers: book value plus a return above the required one that fades away.

use super::{Account, Amount, Case};
use crate::Why;

/// ROE0 = median return on equity of five fiscal years, ROE_t = ROE0 + (r − ROE0) t ÷ N,
/// B_t = B_{t−1}(1 + (1 − p) ROE_t); value = B0 + Σ (ROE_t − r) B_{t−1} ÷ (1+r)^t.
///
/// Book value 50 that earned 15 %, fading to 9 % in two years: 12 % in the first, 3 points above what is required, and
/// none in the second: 50 + 0.03 × 50 ÷ 1.09 = 51.38.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let (book0, roe0, r) = (case.start.book?.positive()?, case.start.roe?, case.rate.r);
    let (one, years) = (N::of(1.0), N::of(case.course.horizon.into()));
    let kept = one - case.start.payout;
    let mut book = book0;
    to.headed("Book value", "Above the required return");
    for (t, discount) in (1..=case.course.horizon).zip(case.rate.factors()) {
        let roe = roe0 + (r - roe0) * N::of(t.into()) / years;
        to.year(roe, book, (roe - r) * book, *discount);
        book = book * (one + kept * roe);
    }
    to.part("book value today", book0);
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at};

    #[test]
    fn hand_calculation() {
        let inputs = Inputs { book: Ok(50.0), roe: Ok(0.15), ..plain() };
        let a = Assumptions { horizon: 2, ..Assumptions::standard() };
        let worth = value_at(Model::ExcessReturn, &inputs, &a, 0.0).unwrap();
        assert!((worth - (50.0 + 0.03 * 50.0 / 1.09)).abs() < 1e-12, "{worth}");
    }
}

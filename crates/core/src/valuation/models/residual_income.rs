//! Model 4: book value plus what is earned above the required return on it.

use super::{super::path::compounded, Case, positive};
use crate::Num;

/// B_t = B_{t−1} + (1 − p) E_t; RI_t = E_t − r B_{t−1};
/// value = B0 + Σ RI_t ÷ (1+r)^t + ω RI_N ÷ (1 + r − ω) ÷ (1+r)^N; B0 > 0 and E0 > 0. Ohlson 1995.
pub(super) fn value(case: &Case<'_>) -> Num {
    let (book0, earnings0) = (positive(case.inputs.book)?, positive(case.inputs.earnings)?);
    let (kept, r, omega) = (1.0 - case.inputs.payout(), case.r, case.a.persistence);
    let (mut book, mut worth, mut discount, mut excess) = (book0, book0, 1.0, 0.0);
    for multiple in case.path.iter() {
        let earnings = earnings0 * multiple;
        discount /= 1.0 + r;
        excess = earnings - r * book;
        worth += excess * discount;
        book += kept * earnings;
    }
    Ok(worth + omega * excess / (1.0 + r - omega) / compounded(r, case.a.horizon))
}

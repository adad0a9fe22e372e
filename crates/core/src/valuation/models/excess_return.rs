//! Model 8, for banks and insurers: book value plus a return above the required one that fades away.

use super::{Case, positive};
use crate::Num;

/// ROE0 = median return on equity of five fiscal years, ROE_t = ROE0 + (r − ROE0) t ÷ N,
/// B_t = B_{t−1}(1 + (1 − p) ROE_t); value = B0 + Σ (ROE_t − r) B_{t−1} ÷ (1+r)^t.
pub(super) fn value(case: &Case<'_>) -> Num {
    let (mut book, roe0, r) = (positive(case.inputs.book)?, case.inputs.roe?, case.r);
    let (kept, years) = (1.0 - case.inputs.payout(), case.a.horizon);
    let (mut worth, mut discount) = (book, 1.0);
    for t in 1..=years {
        let roe = roe0 + (r - roe0) * f64::from(t) / f64::from(years);
        discount /= 1.0 + r;
        worth += (roe - r) * book * discount;
        book *= 1.0 + kept * roe;
    }
    Ok(worth)
}

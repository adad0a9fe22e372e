//! Model 9, for property companies: model 1 on funds from operations.

use super::{Case, earnings_multiple, positive};
use crate::Num;

/// As model 1 with FFO0 for E0, p = clamp(D0 ÷ FFO0, 0, 1) and X the own median P/FFO within its bounds.
pub(super) fn value(case: &Case<'_>) -> Num {
    let i = case.inputs;
    Ok(positive(i.ffo)? * earnings_multiple::of_one(case, i.payout_of_ffo(), i.exit_pffo(case.a)))
}

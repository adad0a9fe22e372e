//! Model 7: the dividends alone.

use super::{super::path::terminal_growth, Case, positive};
use crate::Num;

/// D0 [(1+gT) + H (g − gT)] ÷ (r − gT) with H = (5 + N) ÷ 2, half of the whole fade; needs a dividend in each of the last
/// five fiscal years. H-model, Fuller & Hsia 1984.
pub(super) fn value(case: &Case<'_>) -> Num {
    case.inputs.dividend_each_year?;
    let dividend = positive(case.inputs.dividend)?;
    let terminal = terminal_growth(case.a, case.r);
    let half_life = f64::from(case.a.growth_years + case.a.horizon) / 2.0;
    Ok(dividend * ((1.0 + terminal) + half_life * (case.g - terminal)) / (case.r - terminal))
}

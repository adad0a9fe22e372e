//! Model 5: today's sales at the usual margin for ever, without growth.

use super::{Case, positive};
use crate::Num;

/// Mean operating margin of five fiscal years × revenue × (1 − tax) ÷ w, less debt, preferred and minority capital, plus
/// cash; undefined when the mean margin is ≤ 0. Greenwald 2001.
pub(super) fn value(case: &Case<'_>) -> Num {
    let i = case.inputs;
    let income = positive(i.mean_margin)? * i.revenue? * (1.0 - i.tax?);
    Ok(income / i.firm_rate(case.a)? - i.net_claims?)
}

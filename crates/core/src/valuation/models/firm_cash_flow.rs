//! Model 3: free cash flow of the firm, before interest, less what belongs to others.

use super::{Case, owner_cash_flow, positive};
use crate::Num;

/// FCFF0 = operating income × (1 − tax) + mean of (depreciation − capital expenditure) over three fiscal years, > 0;
/// grown as in model 2, discounted at the firm's rate w, less debt, preferred and minority capital, plus cash.
pub(super) fn value(case: &Case<'_>) -> Num {
    let i = case.inputs;
    let start = positive(Ok(i.operating_income? * (1.0 - i.tax?) + i.reinvestment?))?;
    Ok(start * owner_cash_flow::of_one(case, i.firm_rate(case.a)?) - i.net_claims?)
}

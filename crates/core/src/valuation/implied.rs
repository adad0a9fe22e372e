//! The growth that the price implies.

use super::{
    Assumptions, Inputs,
    models::{Company, Model},
};
use crate::{Num, Why};

/// Growth searched, a year.
const SEARCHED: (f64, f64) = (-0.5, 0.6);
/// The bracket at which the search ends.
const NEAR: f64 = 1e-6;

/// The growth of the first years at which model 2 (model 1 without cash flow or where model 2 does not apply, model 9 of
/// property) gives the price, by bisection; its bounds play no part. Undefined outside the growth searched.
pub(super) fn implied_growth(inputs: &Inputs, a: &Assumptions) -> Num {
    let suits = Model::for_kind(inputs.kind);
    let model = match () {
        () if suits.is_empty() => return Err(Why::NotMeaningful),
        () if suits.contains(&Model::PropertyCashFlow) => Model::PropertyCashFlow,
        () if suits.contains(&Model::OwnerCashFlow) && inputs.cash_flow.is_ok_and(|f| f > 0.0) => Model::OwnerCashFlow,
        () => Model::EarningsMultiple,
    };
    let price = inputs.price?;
    let company = Company::new(inputs, a)?;
    let over = |g: f64| Ok::<f64, Why>(company.worth(model, g)? - price);
    let (mut low, mut high) = SEARCHED;
    if over(low)? > 0.0 || over(high)? < 0.0 {
        return Err(Why::OutsideRange);
    }
    while high - low > NEAR {
        let middle = f64::midpoint(low, high);
        if over(middle)? < 0.0 { low = middle } else { high = middle }
    }
    Ok(f64::midpoint(low, high))
}

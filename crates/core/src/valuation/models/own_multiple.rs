//! Model 6: what the market has usually paid for this company.

use super::{Account, Amount, Case};
use crate::Why;

/// The fewest of the four parts.
const PARTS: usize = 2;

/// Mean of the defined ones among earnings × own P/E, sales × own P/S, book × own P/B and EBIT × own EV/EBIT less net
/// claims, ten-year medians, a unit outstanding; a part ≤ 0 is not defined; two are needed.
///
/// Earnings of 5 at an own P/E of 12 make 60, sales of 100 at an own P/S of 0.5 make 50: the mean is 55. One of them alone
/// makes no value.
pub(super) fn tell<N: Amount>(case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
    let i = case.start;
    let product = |a: Result<N, Why>, b: Result<N, Why>| Ok(a? * b?);
    let parts = [
        ("share of the mean: earnings at the own P/E", product(i.earnings, i.own_pe)),
        ("share of the mean: sales at the own P/S", product(i.revenue_outstanding, i.own_ps)),
        ("share of the mean: book value at the own P/B", product(i.book_outstanding, i.own_pb)),
        (
            "share of the mean: operating income at the own EV/EBIT, less claims",
            product(i.ebit_outstanding, i.own_ev_ebit).and_then(|v| Ok(v - i.net_claims_outstanding?)),
        ),
    ];
    N::shares_of_mean(&parts, PARTS, |words, share| to.part(words, share))
}

#[cfg(test)]
mod tests {
    use crate::{
        Why,
        valuation::{Assumptions, Inputs, Model, inputs::tests::plain, models::value_at},
    };

    #[test]
    fn hand_calculation() {
        let two = Inputs { earnings: Ok(5.0), own_pe: Ok(12.0), revenue_outstanding: Ok(100.0), own_ps: Ok(0.5), ..plain() };
        let one = Inputs { own_ps: Err(Why::HistoryTooShort), ..two.clone() };
        let a = Assumptions::standard();
        assert!((value_at(Model::OwnMultiple, &two, &a, 0.0).unwrap() - 55.0).abs() < 1e-12);
        assert!(value_at(Model::OwnMultiple, &one, &a, 0.0).is_err());
    }
}

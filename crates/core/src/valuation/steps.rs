//! How a cell of the grid comes to its value, year by year.

use super::{Account, Assumptions, Inputs, Model, models::Company};
use crate::Why;
use serde::Serialize;

/// One year of a valuation; amounts a traded unit in the listing's currency.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ValueStep {
    /// From 1.
    pub year: u32,
    /// Growth of the figure in that year, as a fraction; the return on equity for model 8.
    pub growth: f64,
    /// The figure that grows: earnings, cash flow, funds from operations; book value at its beginning for model 8.
    pub figure: f64,
    /// What counts of it in that year: dividends, cash, or what is above the required return.
    pub amount: f64,
    /// What one unit of that year is worth today.
    pub discount: f64,
    /// Amount × discount.
    pub present: f64,
}

/// A part of a value beside its years.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ValuePart {
    /// What it is, in words.
    pub words: &'static str,
    /// A traded unit in the listing's currency.
    pub amount: f64,
}

/// The way from the starting figure to a value.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ValueSteps {
    /// What grows.
    pub figure: &'static str,
    /// What counts of it.
    pub amount: &'static str,
    /// Year by year; empty for models that are one formula.
    pub years: Vec<ValueStep>,
    /// What is added to the sum of the years; years and parts together are the value.
    pub parts: Vec<ValuePart>,
    /// The value.
    pub value: f64,
}

/// The steps of a model at a growth (0 for models without scenarios).
///
/// # Errors
/// As the model.
pub fn steps(model: Model, inputs: &Inputs, a: &Assumptions, g: f64) -> Result<ValueSteps, Why> {
    let mut steps = ValueSteps::default();
    Company::new(inputs, a)?.tell(model, g, &mut steps)?;
    Ok(ValueSteps { value: steps.sum(), ..steps })
}

impl Account<f64> for ValueSteps {
    fn headed(&mut self, figure: &'static str, amount: &'static str) {
        (self.figure, self.amount) = (figure, amount);
    }

    fn year(&mut self, growth: f64, figure: f64, amount: f64, discount: f64) {
        let year = self.years.last().map_or(1, |last| last.year + 1);
        self.years.push(ValueStep { year, growth, figure, amount, discount, present: amount * discount });
    }

    fn part(&mut self, words: &'static str, amount: f64) {
        self.parts.push(ValuePart { words, amount });
    }
}

impl ValueSteps {
    /// Sum of the years and the parts.
    fn sum(&self) -> f64 {
        self.years.iter().map(|s| s.present).sum::<f64>() + self.parts.iter().map(|p| p.amount).sum::<f64>()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::valuation::{inputs::tests::plain, models::value_at};
    use proptest::prelude::*;

    fn rich(x: [f64; 8]) -> Inputs {
        Inputs {
            earnings: Ok(x[0]),
            cash_flow: Ok(x[1]),
            book: Ok(x[2]),
            dividend: Ok(x[0] * 0.3),
            paid: Ok(x[0] * 0.3),
            dividend_each_year: Ok(1.0),
            own_pe: Ok(x[3]),
            own_pffo: Ok(x[3]),
            roe: Ok(x[4]),
            tax: Ok(0.25),
            operating_income: Ok(x[0] * 1.5),
            reinvestment: Ok(0.0),
            revenue: Ok(x[5]),
            mean_margin: Ok(0.1),
            net_claims: Ok(x[6]),
            debt_outstanding: Ok(x[7]),
            interest_rate: Ok(0.06),
            price: Ok(x[2]),
            ffo: Ok(x[1]),
            ..plain()
        }
    }

    proptest! {
        /// Whatever the company, the years and parts of every model add up to what the grid has for it.
        #[test]
        fn steps_add_up_to_the_value(
            x in prop::array::uniform8(0.1f64..50.0), g in -0.1f64..0.2, r in 0.06f64..0.15, horizon in 1u32..15,
        ) {
            let a = Assumptions { required_return: super::super::RequiredReturn::Fixed(r), horizon, ..Assumptions::standard() };
            for model in Model::ALL {
                let steps = steps(model, &rich(x), &a, g);
                let value = value_at(model, &rich(x), &a, g);
                prop_assert_eq!(steps.is_ok(), value.is_ok());
                if let (Ok(steps), Ok(value)) = (steps, value) {
                    prop_assert!((steps.value - value).abs() <= 1e-9 * value.abs().max(1.0), "{model:?} {steps:?}");
                    prop_assert!(steps.years.is_empty() || steps.years.len() == horizon as usize);
                    prop_assert!(steps.years.iter().all(|s| (s.present - s.amount * s.discount).abs() < 1e-12));
                }
            }
        }
    }

    #[test]
    fn an_undefined_model_has_no_steps() {
        let none = steps(Model::EarningsPower, &plain(), &Assumptions::standard(), 0.0).map(|s| s.value);
        assert!(none.is_err());
    }
}

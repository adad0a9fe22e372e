//! How a cell of the grid comes to its value, year by year.

use super::{
    Assumptions, Inputs, Model,
    models::{Case, Rates, run},
    path::{Rate, multiples},
};
use crate::Why;
use serde::Serialize;

/// What a firm owes and has beside its business.
const CLAIMS: &str = "less debt and other claims, plus cash";

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

const fn part(words: &'static str, amount: f64) -> ValuePart {
    ValuePart { words, amount }
}

/// The way from the starting figure to a value.
#[derive(Clone, Debug, PartialEq, Serialize)]
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

/// The steps of a model at a growth (0 for models without scenarios); they add up to its value.
///
/// # Errors
/// As the model.
pub fn steps(model: Model, inputs: &Inputs, a: &Assumptions, g: f64) -> Result<ValueSteps, Why> {
    let rates = Rates::new(inputs, a)?;
    let case = Case::new(inputs, a, &rates, g);
    let value = run(model, &case)?;
    let discounted = match model {
        Model::EarningsMultiple => multiple(&case, inputs.earnings?, inputs.payout(), inputs.exit_pe(a), "Earnings"),
        Model::PropertyCashFlow => multiple(&case, inputs.ffo?, inputs.payout_of_ffo(), inputs.exit_pffo(a), "Funds from operations"),
        Model::OwnerCashFlow => cash(&case, inputs.cash_flow?, case.rate(), "Free cash flow"),
        Model::FirmCashFlow => {
            let start = inputs.operating_income? * (1.0 - inputs.tax?) + inputs.reinvestment?;
            let mut all = cash(&case, start, case.firm_rate()?, "Free cash flow of the firm");
            all.parts.push(part(CLAIMS, -inputs.net_claims?));
            all
        }
        Model::ResidualIncome => residual(&case, inputs.book?, inputs.earnings?),
        Model::ExcessReturn => excess(&case, inputs.book?, inputs.roe?),
        Model::EarningsPower => {
            let income = inputs.mean_margin? * inputs.revenue? * (1.0 - inputs.tax?) / case.firm_rate()?.r;
            formula(vec![part("usual operating income after tax, for ever", income), part(CLAIMS, -inputs.net_claims?)])
        }
        Model::DividendStream | Model::OwnMultiple => formula(vec![part("by its formula", value)]),
    };
    Ok(ValueSteps { value, ..discounted })
}

const fn formula(parts: Vec<ValuePart>) -> ValueSteps {
    ValueSteps { figure: "", amount: "", years: Vec::new(), parts, value: 0.0 }
}

/// The years of a growing figure of which `amount` counts.
fn years(path: &[f64], start: f64, rate: &Rate, amount: impl Fn(f64) -> f64) -> Vec<ValueStep> {
    let mut before = 1.0;
    let one = |(year, (x, &discount)): (u32, (&f64, &f64))| {
        let (growth, figure) = (x / before - 1.0, start * x);
        before = *x;
        ValueStep { year, growth, figure, amount: amount(figure), discount, present: amount(figure) * discount }
    };
    (1..).zip(path.iter().zip(rate.factors())).map(one).collect()
}

fn multiple(case: &Case<'_>, start: f64, payout: f64, exit: f64, figure: &'static str) -> ValueSteps {
    let last = start * case.path.at_last();
    ValueSteps {
        figure,
        amount: "Dividends",
        years: years(&case.path, start, case.rate(), |e| payout * e),
        parts: vec![part("sale at the exit multiple", last * exit * case.rate().at_last())],
        value: 0.0,
    }
}

fn cash(case: &Case<'_>, start: f64, rate: &Rate, figure: &'static str) -> ValueSteps {
    let path = multiples(case.a, case.g, rate.terminal);
    let after = start * path.at_last() * (1.0 + rate.terminal) / (rate.r - rate.terminal) * rate.at_last();
    ValueSteps {
        figure,
        amount: "Cash",
        years: years(&path, start, rate, |f| f),
        parts: vec![part("everything after the horizon", after)],
        value: 0.0,
    }
}

fn residual(case: &Case<'_>, book0: f64, start: f64) -> ValueSteps {
    let (kept, omega, mut book) = (1.0 - case.inputs.payout(), case.a.persistence, book0);
    let rate = case.rate();
    let mut all = years(&case.path, start, rate, |e| e);
    for step in &mut all {
        step.amount = step.figure - rate.r * book;
        step.present = step.amount * step.discount;
        book += kept * step.figure;
    }
    let last = all.last().map_or(0.0, |s| s.amount);
    let after = omega * last / (1.0 + rate.r - omega) * rate.at_last();
    let parts = vec![part("book value today", book0), part("what persists after the horizon", after)];
    ValueSteps { figure: "Earnings", amount: "Above the required return", years: all, parts, value: 0.0 }
}

fn excess(case: &Case<'_>, book0: f64, roe0: f64) -> ValueSteps {
    let (kept, years, r) = (1.0 - case.inputs.payout(), case.a.horizon, case.rate().r);
    let mut book = book0;
    let one = |(year, &discount): (u32, &f64)| {
        let roe = roe0 + (r - roe0) * f64::from(year) / f64::from(years);
        let (figure, amount) = (book, (roe - r) * book);
        book *= 1.0 + kept * roe;
        ValueStep { year, growth: roe, figure, amount, discount, present: amount * discount }
    };
    let years = (1..=years).zip(case.rate().factors()).map(one).collect();
    ValueSteps {
        figure: "Book value",
        amount: "Above the required return",
        years,
        parts: vec![part("book value today", book0)],
        value: 0.0,
    }
}

/// What the steps add up to; equal to the value but for rounding.
impl ValueSteps {
    /// Sum of the years and the parts.
    #[must_use]
    pub fn sum(&self) -> f64 {
        self.years.iter().map(|s| s.present).sum::<f64>() + self.parts.iter().map(|p| p.amount).sum::<f64>()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::valuation::inputs::tests::plain;
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
        /// Whatever the company, the years and parts of every model add up to what the model says.
        #[test]
        fn steps_add_up_to_the_value(
            x in prop::array::uniform8(0.1f64..50.0), g in -0.1f64..0.2, r in 0.06f64..0.15, horizon in 1u32..15,
        ) {
            let a = Assumptions { required_return: super::super::RequiredReturn::Fixed(r), horizon, ..Assumptions::standard() };
            for model in Model::ALL {
                if let Ok(steps) = steps(model, &rich(x), &a, g) {
                    prop_assert!((steps.sum() - steps.value).abs() <= 1e-9 * steps.value.abs().max(1.0), "{model:?} {steps:?}");
                    prop_assert!(steps.years.is_empty() || steps.years.len() == horizon as usize);
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

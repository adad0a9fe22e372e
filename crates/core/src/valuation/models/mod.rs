//! The models, one file each. Each tells the way to a value a traded unit in the listing's currency, or why there is none:
//! the value and the sheet of its steps come from the same words.

mod dividend_stream;
mod earnings_multiple;
mod earnings_power;
mod excess_return;
mod firm_cash_flow;
mod own_multiple;
mod owner_cash_flow;
mod property_cash_flow;
mod residual_income;

use super::{
    Assumptions, Cell, Inputs, Scenario,
    account::{Account, Total},
    path::{Path, Rate, multiples},
};
use crate::{Num, Why, domain::Kind};
use serde::{Deserialize, Serialize};
use std::cell::OnceCell;

/// A way to value a company.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub enum Model {
    EarningsMultiple,
    OwnerCashFlow,
    FirmCashFlow,
    ResidualIncome,
    EarningsPower,
    OwnMultiple,
    DividendStream,
    ExcessReturn,
    PropertyCashFlow,
}

impl Model {
    /// Every model by number.
    pub const ALL: [Model; 9] = [
        Model::EarningsMultiple,
        Model::OwnerCashFlow,
        Model::FirmCashFlow,
        Model::ResidualIncome,
        Model::EarningsPower,
        Model::OwnMultiple,
        Model::DividendStream,
        Model::ExcessReturn,
        Model::PropertyCashFlow,
    ];

    /// Its number in the documents, from 1.
    #[must_use]
    pub const fn number(self) -> u8 {
        self as u8 + 1
    }

    /// Its name in words.
    #[must_use]
    pub const fn label(self) -> &'static str {
        match self {
            Model::EarningsMultiple => "Earnings multiple",
            Model::OwnerCashFlow => "Owner cash flow",
            Model::FirmCashFlow => "Firm cash flow",
            Model::ResidualIncome => "Residual income",
            Model::EarningsPower => "Earnings power",
            Model::OwnMultiple => "Own normal multiple",
            Model::DividendStream => "Dividend stream",
            Model::ExcessReturn => "Excess return",
            Model::PropertyCashFlow => "Property cash flow",
        }
    }

    /// Whether it is computed for each growth scenario.
    #[must_use]
    pub const fn has_scenarios(self) -> bool {
        !matches!(self, Model::EarningsPower | Model::OwnMultiple | Model::ExcessReturn)
    }

    /// The models that suit a kind of company.
    #[must_use]
    pub const fn for_kind(kind: Kind) -> &'static [Model] {
        use Model::{
            DividendStream, EarningsMultiple, EarningsPower, ExcessReturn, FirmCashFlow, OwnMultiple, OwnerCashFlow, PropertyCashFlow,
            ResidualIncome,
        };
        match kind {
            Kind::Operating => &[EarningsMultiple, OwnerCashFlow, FirmCashFlow, ResidualIncome, EarningsPower, OwnMultiple, DividendStream],
            Kind::Bank | Kind::Insurer => &[EarningsMultiple, ResidualIncome, OwnMultiple, DividendStream, ExcessReturn],
            Kind::Property => &[EarningsMultiple, ResidualIncome, EarningsPower, OwnMultiple, DividendStream, PropertyCashFlow],
            Kind::Holding => &[ResidualIncome, OwnMultiple],
            Kind::Fund => &[],
        }
    }
}

/// The discount rates of a company; the firm's is made when a model asks for it.
pub(super) struct Rates {
    own: Rate,
    firm: OnceCell<Result<Rate, Why>>,
}

impl Rates {
    pub(super) fn new(inputs: &Inputs, a: &Assumptions) -> Result<Rates, Why> {
        Ok(Rates { own: Rate::new(a, a.required_return(inputs)?), firm: OnceCell::new() })
    }
}

/// What a model works with.
pub(super) struct Case<'c> {
    pub(super) inputs: &'c Inputs,
    pub(super) a: &'c Assumptions,
    rates: &'c Rates,
    /// Growth of the scenario (0 for models without scenarios).
    pub(super) g: f64,
    /// The multiples of a starting figure in years 1…N, with the terminal growth that goes with r.
    pub(super) path: Path,
}

impl<'c> Case<'c> {
    pub(super) fn new(inputs: &'c Inputs, a: &'c Assumptions, rates: &'c Rates, g: f64) -> Case<'c> {
        Case { inputs, a, rates, g, path: multiples(a, g, rates.own.terminal) }
    }

    /// The required return r.
    pub(super) fn rate(&self) -> &'c Rate {
        &self.rates.own
    }

    /// The discount rate w of the firm.
    pub(super) fn firm_rate(&self) -> Result<&'c Rate, Why> {
        let made = || Ok(Rate::new(self.a, self.inputs.firm_rate(self.a)?));
        self.rates.firm.get_or_init(made).as_ref().map_err(|why| *why)
    }
}

/// Every cell of the grid for the models that suit the company.
pub(super) fn cells(inputs: &Inputs, a: &Assumptions, growth: &[(Scenario, Num)]) -> Vec<Cell> {
    let rates = Rates::new(inputs, a);
    let case = |g: Num| rates.as_ref().map_err(|why| *why).and_then(|rates| Ok(Case::new(inputs, a, rates, g?)));
    let cases: Vec<(Scenario, Result<Case<'_>, Why>)> = growth.iter().map(|&(s, g)| (s, case(g))).collect();
    let level = case(Ok(0.0));
    let worth = |model, case: &Result<Case<'_>, Why>| case.as_ref().map_err(|why| *why).and_then(|case| run(model, case));
    let mut out = Vec::with_capacity(Model::ALL.len() * Scenario::ALL.len());
    for &model in Model::for_kind(inputs.kind) {
        if model.has_scenarios() {
            out.extend(cases.iter().map(|(s, case)| Cell::new(model, Some(*s), worth(model, case), a)));
        } else {
            out.push(Cell::new(model, None, worth(model, &level), a));
        }
    }
    out
}

/// What a model gives at a growth.
#[cfg(test)]
pub(super) fn value_at(model: Model, inputs: &Inputs, a: &Assumptions, g: f64) -> Num {
    run(model, &Case::new(inputs, a, &Rates::new(inputs, a)?, g))
}

/// What a model gives.
pub(super) fn run(model: Model, case: &Case<'_>) -> Num {
    let mut total = Total::default();
    tell(model, case, &mut total)?;
    Ok(total.0)
}

/// The way to what a model gives.
pub(super) fn tell(model: Model, case: &Case<'_>, to: &mut impl Account) -> Result<(), Why> {
    match model {
        Model::EarningsMultiple => earnings_multiple::tell(case, to),
        Model::OwnerCashFlow => owner_cash_flow::tell(case, to),
        Model::FirmCashFlow => firm_cash_flow::tell(case, to),
        Model::ResidualIncome => residual_income::tell(case, to),
        Model::EarningsPower => earnings_power::tell(case, to),
        Model::OwnMultiple => own_multiple::tell(case, to),
        Model::DividendStream => dividend_stream::tell(case, to),
        Model::ExcessReturn => excess_return::tell(case, to),
        Model::PropertyCashFlow => property_cash_flow::tell(case, to),
    }
}

/// What a firm owes and has beside its business, as a part of its value.
fn less_claims(claims: f64, to: &mut impl Account) {
    to.part("less debt and other claims, plus cash", -claims);
}

fn positive(x: Num) -> Num {
    x.and_then(|v| if v > 0.0 { Ok(v) } else { Err(Why::NotPositive) })
}

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
    Account, Amount, Assumptions, Cell, Course, Inputs, Path, Rate, Scenario,
    account::Total,
    path::{itself, multiples},
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

/// The starting figures as the models take them, a traded unit in the listing's currency.
#[derive(Clone, Debug)]
#[allow(missing_docs)]
pub struct StartingFigures<N> {
    pub earnings: Result<N, Why>,
    pub cash_flow: Result<N, Why>,
    pub book: Result<N, Why>,
    pub dividend: Result<N, Why>,
    pub dividend_each_year: Result<N, Why>,
    pub ffo: Result<N, Why>,
    pub roe: Result<N, Why>,
    pub tax: Result<N, Why>,
    pub operating_income: Result<N, Why>,
    pub reinvestment: Result<N, Why>,
    pub revenue: Result<N, Why>,
    pub mean_margin: Result<N, Why>,
    pub net_claims: Result<N, Why>,
    pub own_pe: Result<N, Why>,
    pub own_ps: Result<N, Why>,
    pub own_pb: Result<N, Why>,
    pub own_ev_ebit: Result<N, Why>,
    pub revenue_outstanding: Result<N, Why>,
    pub book_outstanding: Result<N, Why>,
    pub ebit_outstanding: Result<N, Why>,
    pub net_claims_outstanding: Result<N, Why>,
    /// The share of earnings, and of funds from operations, that is paid out.
    pub payout: N,
    pub payout_of_ffo: N,
    /// The multiples at which all is sold at the horizon.
    pub exit_pe: N,
    pub exit_pffo: N,
}

impl StartingFigures<f64> {
    pub(super) fn of(i: &Inputs, a: &Assumptions) -> StartingFigures<f64> {
        StartingFigures {
            earnings: i.earnings,
            cash_flow: i.cash_flow,
            book: i.book,
            dividend: i.dividend,
            dividend_each_year: i.dividend_each_year,
            ffo: i.ffo,
            roe: i.roe,
            tax: i.tax,
            operating_income: i.operating_income,
            reinvestment: i.reinvestment,
            revenue: i.revenue,
            mean_margin: i.mean_margin,
            net_claims: i.net_claims,
            own_pe: i.own_pe,
            own_ps: i.own_ps,
            own_pb: i.own_pb,
            own_ev_ebit: i.own_ev_ebit,
            revenue_outstanding: i.revenue_outstanding,
            book_outstanding: i.book_outstanding,
            ebit_outstanding: i.ebit_outstanding,
            net_claims_outstanding: i.net_claims_outstanding,
            payout: i.payout(),
            payout_of_ffo: i.payout_of_ffo(),
            exit_pe: i.exit_pe(a),
            exit_pffo: i.exit_pffo(a),
        }
    }
}

/// What a model works with.
pub struct Case<'c, N> {
    /// The starting figures.
    pub start: &'c StartingFigures<N>,
    /// What becomes of growth and return over the years.
    pub course: &'c Course<N>,
    /// The required return r.
    pub rate: &'c Rate<N>,
    /// Growth of the scenario (0 for models without scenarios).
    pub g: N,
    /// The multiples of a starting figure in years 1…N, with the terminal growth that goes with r.
    pub path: Path<N>,
    /// The discount rate w of the firm, with the multiples that go with it: made when a model asks for it.
    pub firm: &'c dyn Fn(N) -> Result<(Rate<N>, Path<N>), Why>,
}

/// A company under a set, before a growth is chosen.
pub(super) struct Company<'c> {
    start: StartingFigures<f64>,
    course: Course<f64>,
    rate: Rate<f64>,
    firm: OnceCell<Result<Rate<f64>, Why>>,
    inputs: &'c Inputs,
    a: &'c Assumptions,
}

impl<'c> Company<'c> {
    pub(super) fn new(inputs: &'c Inputs, a: &'c Assumptions) -> Result<Company<'c>, Why> {
        let course = Course::of(a);
        let rate = Rate::new(&course, a.required_return(inputs)?, itself);
        Ok(Company { start: StartingFigures::of(inputs, a), course, rate, firm: OnceCell::new(), inputs, a })
    }

    /// Under another required return and exit multiple from here on, for models that ask for neither the firm's rate nor FFO.
    pub(super) fn assume(&mut self, r: f64, exit: f64) {
        self.rate = Rate::new(&self.course, r, itself);
        self.start.exit_pe = exit;
    }

    fn firm(&self, g: f64) -> Result<(Rate<f64>, Path<f64>), Why> {
        let made = || Ok(Rate::new(&self.course, self.inputs.firm_rate(self.a)?, itself));
        let rate = (*self.firm.get_or_init(made))?;
        Ok((rate, multiples(&self.course, g, rate.terminal, itself)))
    }

    /// What a model gives at a growth.
    pub(super) fn worth(&self, model: Model, g: f64) -> Num {
        let mut total = Total::default();
        self.tell(model, g, &mut total)?;
        Ok(total.0)
    }

    /// The way to what a model gives at a growth.
    pub(super) fn tell(&self, model: Model, g: f64, to: &mut impl Account<f64>) -> Result<(), Why> {
        self.tell_along(model, g, multiples(&self.course, g, self.rate.terminal, itself), to)
    }

    fn tell_along(&self, model: Model, g: f64, path: Path<f64>, to: &mut impl Account<f64>) -> Result<(), Why> {
        let firm = |g| self.firm(g);
        tell(model, &Case { start: &self.start, course: &self.course, rate: &self.rate, g, path, firm: &firm }, to)
    }
}

/// Every cell of the grid for the models that suit the company.
pub(super) fn cells(inputs: &Inputs, a: &Assumptions, growth: &[(Scenario, Num)]) -> Vec<Cell> {
    let company = Company::new(inputs, a);
    // The multiples of a growth serve all models.
    let along = |g: Num| company.as_ref().map_err(|why| *why).and_then(|c| Ok((c, g?, multiples(&c.course, g?, c.rate.terminal, itself))));
    let worth = |model, at: &Result<(&Company<'_>, f64, Path<f64>), Why>| {
        let (company, g, path) = at.as_ref().map_err(|why| *why)?;
        let mut total = Total::default();
        company.tell_along(model, *g, *path, &mut total)?;
        Ok(total.0)
    };
    let (scenarios, level) = (growth.iter().map(|&(s, g)| (s, along(g))).collect::<Vec<_>>(), along(Ok(0.0)));
    let mut out = Vec::with_capacity(Model::ALL.len() * Scenario::ALL.len());
    for &model in Model::for_kind(inputs.kind) {
        if model.has_scenarios() {
            out.extend(scenarios.iter().map(|(s, at)| Cell::new(model, Some(*s), worth(model, at), a)));
        } else {
            out.push(Cell::new(model, None, worth(model, &level), a));
        }
    }
    out
}

/// What a model gives at a growth.
#[cfg(test)]
pub(super) fn value_at(model: Model, inputs: &Inputs, a: &Assumptions, g: f64) -> Num {
    Company::new(inputs, a)?.worth(model, g)
}

/// The way to what a model gives.
///
/// # Errors
/// When it gives nothing: why.
pub fn tell<N: Amount>(model: Model, case: &Case<'_, N>, to: &mut impl Account<N>) -> Result<(), Why> {
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
fn less_claims<N: Amount>(claims: N, to: &mut impl Account<N>) {
    to.part("less debt and other claims, plus cash", -claims);
}

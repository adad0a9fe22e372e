//! What a company is worth: several models under several growth scenarios, extremes set apart, one value and a range.
//!
//! Inputs are formulas over the panel ([`inputs`]); everything after them is plain arithmetic for one company.

mod assumptions;
mod combine;
mod inputs;
mod models;
mod path;
mod scenario;

pub use assumptions::{Assumptions, RequiredReturn};
pub use combine::{Cell, Standing, Status, Valuation};
pub use inputs::Inputs;
pub use models::Model;
pub use scenario::Scenario;

pub(crate) use inputs::input_formulas;

use crate::{
    Why,
    domain::Kind,
    formula::Evaluator,
    panel::{AsOf, CompanyAt, CompanyIndex},
};
use std::{collections::BTreeSet, sync::Arc};

/// The valuations of a chunk of rows.
pub(crate) fn value_rows<'a>(evaluator: &Evaluator<'a>, rows: &[CompanyAt<'a>]) -> Vec<Valuation> {
    inputs::inputs(evaluator, rows).iter().map(|i| value(i, &rows[0].view.settings.assumptions)).collect()
}

/// Values one company: every model that suits its kind under every scenario, then one value from many.
#[must_use]
pub fn value(inputs: &Inputs, assumptions: &Assumptions) -> Valuation {
    let growth = scenario::growths(inputs, assumptions);
    if inputs.kind == Kind::Fund {
        return Valuation { growth, ..Valuation::none(inputs, Why::NotMeaningful) };
    }
    let cells = models::cells(inputs, assumptions, &growth);
    combine::combine(inputs, assumptions, cells, growth)
}

/// The inputs and the valuation of one company.
#[must_use]
pub fn value_company(view: AsOf<'_>, company: CompanyIndex) -> (Inputs, Valuation) {
    let row = [view.company(company)];
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &BTreeSet::from([view.t]));
    let inputs = inputs::inputs(&evaluator, &row).remove(0);
    let valuation = value(&inputs, &view.settings.assumptions);
    (inputs, valuation)
}

/// The valuations of all companies of the dataset at the view's date, by position; computed once and kept.
#[must_use]
pub fn value_all(view: AsOf<'_>) -> Arc<Vec<Valuation>> {
    let mut evaluator = Evaluator::for_formulas(view, [], &BTreeSet::new());
    evaluator.all_valuations(view.t)
}

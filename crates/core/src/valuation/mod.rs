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

use crate::{Why, domain::Kind, formula::Evaluator, panel::CompanyAt};

/// The valuations of a chunk of rows.
pub(crate) fn value_rows<'a>(evaluator: &Evaluator<'a>, rows: &[CompanyAt<'a>]) -> Vec<Valuation> {
    inputs::inputs(evaluator, rows).iter().map(|i| value(i, &rows[0].view.settings.assumptions)).collect()
}

/// Values one company: every model that suits its kind under every scenario, then one value from many.
#[must_use]
pub fn value(inputs: &Inputs, assumptions: &Assumptions) -> Valuation {
    if inputs.kind == Kind::Fund {
        return Valuation::none(inputs, Why::NotMeaningful);
    }
    let growth = scenario::growths(inputs, assumptions);
    let cells = models::cells(inputs, assumptions, &growth);
    combine::combine(inputs, assumptions, cells, growth)
}

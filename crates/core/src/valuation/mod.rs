//! What a company is worth: several models under several growth scenarios, extremes set apart, one value and a range.
//!
//! Inputs are formulas over the panel ([`inputs`]); everything after them is plain arithmetic for one company.

mod assumptions;
mod combine;
mod draws;
mod implied;
mod inputs;
mod models;
mod multiple_range;
mod path;
mod scenario;

pub use assumptions::{Assumptions, RequiredReturn};
pub use combine::{Cell, Status, Valuation, Verdict};
pub use draws::{Draws, draws};
pub use inputs::Inputs;
pub use models::Model;
pub use multiple_range::{YearMultiple, yearly_multiples};
pub(crate) use multiple_range::{downside, middle, upside};
pub use scenario::Scenario;

pub(crate) use inputs::input_formulas;

use crate::{
    Why,
    domain::Kind,
    formula::Evaluator,
    panel::{AsOf, CompanyAt, CompanyIndex},
    quality,
};
use std::{collections::BTreeSet, sync::Arc};

/// Which part of a valuation is asked for: the other is left undefined.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum What {
    Value,
    Quality,
    Both,
}

/// The valuations of a chunk of rows.
pub(crate) fn value_rows<'a>(evaluator: &Evaluator<'a>, rows: &[CompanyAt<'a>], what: What) -> Vec<Valuation> {
    let sheet = evaluator.sheet(rows);
    let mut out: Vec<Valuation> = if what == What::Quality {
        rows.iter().map(|r| Valuation::not_asked(r.listing_currency())).collect()
    } else {
        inputs::inputs(&sheet).iter().map(|i| value(i, &rows[0].view.settings.assumptions)).collect()
    };
    if what != What::Value {
        let qualities = quality::quality_rows(&sheet);
        out.iter_mut().zip(qualities).for_each(|(v, q)| v.quality = q);
    }
    out
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
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &BTreeSet::from([view.t]), &row);
    let sheet = evaluator.sheet(&row);
    let inputs = inputs::inputs(&sheet).remove(0);
    let mut valuation = value(&inputs, &view.settings.assumptions);
    valuation.quality = quality::quality_rows(&sheet).remove(0);
    (inputs, valuation)
}

/// The valuations of all companies of the dataset at the view's date, by position; computed once and kept.
#[must_use]
pub fn value_all(view: AsOf<'_>) -> Arc<Vec<Valuation>> {
    let mut evaluator = Evaluator::for_formulas(view, [], &BTreeSet::new(), &[]);
    evaluator.all_valuations(view.t)
}

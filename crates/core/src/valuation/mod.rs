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
mod overrides;
mod path;
mod scenario;
mod steps;

pub use assumptions::{Assumptions, EarningsBase, Override, RequiredReturn};
pub use combine::{Cell, Status, Valuation, Verdict};
pub use draws::{Draws, draws};
pub use inputs::Inputs;
pub use models::Model;
pub use multiple_range::{YearMultiple, expected_earnings, yearly_multiples};
pub(crate) use multiple_range::{downside, middle, upside};
pub use overrides::Overrides;
pub use scenario::Scenario;
pub use steps::{ValuePart, ValueStep, ValueSteps, steps};

pub(crate) use inputs::input_formulas;

use crate::{
    Why,
    domain::{Day, Kind},
    formula::{CHUNK, Evaluator, FromFilings},
    panel::{AsOf, CompanyAt, CompanyIndex, Settings},
    quality::{self, Quality, Scale},
};
use rayon::prelude::*;
use std::{
    collections::BTreeSet,
    sync::{Arc, LazyLock},
};

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
        rows.iter().zip(inputs::inputs(&sheet)).map(|(r, i)| value_of(r.view.settings, &r.company().id, &i)).collect()
    };
    if what != What::Value {
        let judge = Judge::of(evaluator.settings());
        let qualities = quality::quality_rows(&sheet);
        out.iter_mut().zip(rows).zip(qualities).for_each(|((v, r), q)| v.quality = judge.judged(&Arc::new(q), r.kind()));
    }
    out
}

/// The scale on which a set measures quality, where it is not the shipped one.
struct Judge(Option<Scale>);

impl Judge {
    fn of(settings: &Settings) -> Judge {
        Judge(settings.assumptions.scale())
    }

    /// A quality of the shipped scale on this one.
    fn judged(&self, quality: &Arc<Quality>, kind: Kind) -> Arc<Quality> {
        self.0.as_ref().map_or_else(|| quality.clone(), |scale| Arc::new(quality.on(scale, kind)))
    }
}

/// The value of a company under the settings' set, with what the user assumes of it.
fn value_of(settings: &Settings, company: &str, inputs: &Inputs) -> Valuation {
    match settings.overrides.of(company) {
        None => value(inputs, &settings.assumptions),
        Some(own) => {
            let (assumptions, inputs) = own.applied(&settings.assumptions, inputs);
            Valuation { own: Some(own.clone()), ..value(&inputs, &assumptions) }
        }
    }
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

/// The valuation of one company with what it came from.
#[derive(Clone, Debug)]
pub struct CompanyValue {
    /// The starting figures as the filings give them.
    pub found: Inputs,
    /// The starting figures used: with what the user assumes of the company.
    pub inputs: Inputs,
    /// The assumptions used.
    pub assumptions: Assumptions,
    /// The outcome.
    pub valuation: Valuation,
}

/// The valuation of one company, in full.
#[must_use]
pub fn value_company(view: AsOf<'_>, company: CompanyIndex) -> CompanyValue {
    let row = [view.company(company)];
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &BTreeSet::from([view.t]), &row);
    let sheet = evaluator.sheet(&row);
    let found = inputs::inputs(&sheet).remove(0);
    let quality = Judge::of(view.settings).judged(&Arc::new(quality::quality_rows(&sheet).remove(0)), row[0].kind());
    let valuation = Valuation { quality, ..value_of(view.settings, &row[0].company().id, &found) };
    let own = view.settings.overrides.of(&row[0].company().id);
    let plain = || (view.settings.assumptions.clone(), found.clone());
    let (assumptions, inputs) = own.map_or_else(plain, |own| own.applied(&view.settings.assumptions, &found));
    CompanyValue { found, inputs, assumptions, valuation }
}

/// The values of one company at its own month ends, oldest first, each from what was known then; quality is not asked.
#[must_use]
pub fn value_series(view: AsOf<'_>, company: CompanyIndex, since: Day) -> Vec<(Day, Valuation)> {
    let rows = view.company(company).month_rows(since);
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &dates, &rows);
    rows.iter().map(CompanyAt::t).zip(value_rows(&evaluator, &rows, What::Value)).collect()
}

/// What the valuations of all companies start from, by position.
#[derive(Debug)]
pub(crate) struct Start {
    inputs: Vec<Inputs>,
    qualities: Vec<Arc<Quality>>,
}

/// The formulas of values and of quality that change only when something is filed.
static FROM_FILINGS: LazyLock<FromFilings> = LazyLock::new(|| FromFilings::among(inputs::usual_formulas().chain(quality::formulas())));

impl Start {
    /// Of all companies at a view's date.
    fn of_all(view: AsOf<'_>) -> Start {
        let evaluator = Evaluator::for_valuations(view);
        let all: Vec<CompanyIndex> = (0..CompanyIndex::try_from(view.snapshot.company_count()).unwrap_or_default()).collect();
        let some = |chunk: &[CompanyIndex]| {
            let rows: Vec<CompanyAt<'_>> = chunk.iter().map(|i| view.company(*i)).collect();
            let sheet = evaluator.sheet_with(&rows, &FROM_FILINGS);
            let qualities = quality::quality_rows(&sheet).into_iter().map(Arc::new).collect();
            Start { inputs: inputs::inputs(&sheet), qualities }
        };
        let parts: Vec<Start> = all.par_chunks(CHUNK).map(some).collect();
        let mut all = Start { inputs: Vec::new(), qualities: Vec::new() };
        for part in parts {
            all.inputs.extend(part.inputs);
            all.qualities.extend(part.qualities);
        }
        all
    }

    /// The valuations under a view's set.
    fn valued(&self, view: AsOf<'_>) -> Vec<Valuation> {
        let judge = Judge::of(view.settings);
        let one = |(company, (inputs, quality)): (usize, (&Inputs, &Arc<Quality>))| {
            let id = &view.snapshot.company(CompanyIndex::try_from(company).unwrap_or_default()).id;
            Valuation { quality: judge.judged(quality, inputs.kind), ..value_of(view.settings, id, inputs) }
        };
        self.inputs.par_iter().zip(&self.qualities).enumerate().with_min_len(64).map(one).collect()
    }
}

/// The valuations of all companies of the dataset at the view's date, by position; computed once and kept. Under
/// another set only what follows from the starting figures is computed anew.
#[must_use]
pub fn value_all(view: AsOf<'_>) -> Arc<Vec<Valuation>> {
    view.snapshot.valuations(view, || view.snapshot.start(view, || Start::of_all(view)).valued(view))
}

//! What a company is worth: several models under several growth scenarios, extremes set apart, one value and a range.
//!
//! Inputs are formulas over the panel ([`inputs`]); everything after them is plain arithmetic for one company.

mod account;
mod amount;
mod assumptions;
mod combine;
mod draws;
mod episodes;
mod implied;
mod inputs;
mod models;
mod multiple_range;
mod overrides;
mod path;
mod scenario;
mod steps;

pub use account::Account;
pub use amount::Amount;
pub use assumptions::{Assumptions, EarningsBase, Override, RequiredReturn};
pub use combine::{Cell, Status, Valuation, Verdict};
pub use draws::{Draws, draws};
pub use episodes::{Episode, episodes};
pub use inputs::Inputs;
pub use models::{Case, Model, StartingFigures, tell};
pub(crate) use multiple_range::range_number;
pub use multiple_range::{YearMultiple, expected_earnings, yearly_multiples};
pub use overrides::Overrides;
pub use path::{Course, Path, Rate, multiples};
pub use scenario::Scenario;
pub use steps::{ValuePart, ValueStep, ValueSteps, steps};

pub(crate) use inputs::input_formulas;

use crate::{
    Why,
    domain::{Day, Kind},
    formula::{Answers, CHUNK, Evaluator, FromFilings, View},
    panel::{CompanyAt, CompanyIndex},
    quality::{self, Quality, Scale},
};
use rayon::prelude::*;
use std::{
    collections::BTreeSet,
    sync::{Arc, LazyLock},
};

/// What is assumed: the set, and what differs for single companies.
#[derive(Clone, Copy, Debug)]
pub struct Premises<'p> {
    /// The set.
    pub assumptions: &'p Assumptions,
    /// Of single companies.
    pub overrides: &'p Overrides,
}

/// Which part of a valuation is asked for: the other is left undefined.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum What {
    Value,
    Quality,
    Both,
}

/// The valuations of a chunk of rows.
pub(crate) fn value_rows(sheet: &dyn Answers<'_>, what: What, premises: Premises<'_>) -> Vec<Valuation> {
    let (a, rows) = (premises.assumptions, sheet.rows());
    let mut out: Vec<Valuation> = if what == What::Quality {
        rows.iter().map(|r| Valuation::not_asked(r.listing_currency())).collect()
    } else {
        rows.iter().zip(inputs::inputs(sheet, a)).map(|(r, i)| value_of(premises, &r.company().id, &i)).collect()
    };
    if what != What::Value {
        let judge = Judge::of(a);
        let qualities = quality::quality_rows(sheet, a.quiet_months);
        out.iter_mut().zip(rows).zip(qualities).for_each(|((v, r), q)| v.quality = judge.judged(&Arc::new(q), r.kind()));
    }
    out
}

/// The scale on which a set measures quality, where it is not the shipped one.
struct Judge(Option<Scale>);

impl Judge {
    fn of(assumptions: &Assumptions) -> Judge {
        Judge(assumptions.scale())
    }

    /// A quality of the shipped scale on this one.
    fn judged(&self, quality: &Arc<Quality>, kind: Kind) -> Arc<Quality> {
        self.0.as_ref().map_or_else(|| quality.clone(), |scale| Arc::new(quality.on(scale, kind)))
    }
}

/// The value of a company under a set, with what the user assumes of it.
fn value_of(premises: Premises<'_>, company: &str, inputs: &Inputs) -> Valuation {
    match premises.overrides.of(company) {
        None => value(inputs, premises.assumptions),
        Some(own) => {
            let (assumptions, inputs) = own.applied(premises.assumptions, inputs);
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
pub fn value_company(view: View<'_>, company: CompanyIndex, premises: Premises<'_>) -> CompanyValue {
    let row = [view.as_of.company(company)];
    let a = premises.assumptions;
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &BTreeSet::from([view.as_of.t]), &row);
    let sheet = evaluator.sheet(&row);
    let found = inputs::inputs(&sheet, a).remove(0);
    let quality = Judge::of(a).judged(&Arc::new(quality::quality_rows(&sheet, a.quiet_months).remove(0)), row[0].kind());
    let valuation = Valuation { quality, ..value_of(premises, &row[0].company().id, &found) };
    let own = premises.overrides.of(&row[0].company().id);
    let plain = || (a.clone(), found.clone());
    let (assumptions, inputs) = own.map_or_else(plain, |own| own.applied(a, &found));
    CompanyValue { found, inputs, assumptions, valuation }
}

/// The values of one company at its own month ends, oldest first, each from what was known then; quality is not asked.
#[must_use]
pub fn value_series(view: View<'_>, company: CompanyIndex, since: Day, premises: Premises<'_>) -> Vec<(Day, Valuation)> {
    let rows = view.as_of.company(company).month_rows(since);
    let dates = rows.iter().map(CompanyAt::t).collect();
    let evaluator = Evaluator::for_formulas(view, input_formulas(), &dates, &rows);
    rows.iter().map(CompanyAt::t).zip(value_rows(&evaluator.sheet(&rows), What::Value, premises)).collect()
}

/// A company on one of some days: what its price is over its value, and how good it is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Valued {
    /// Which of the days.
    pub(crate) day: usize,
    /// A traded unit, in the listing's currency.
    pub(crate) price: Option<f64>,
    pub(crate) value: Option<f64>,
    /// 0–100.
    pub(crate) quality: Option<f64>,
}

/// Some companies on those of some days, which come in order, on which they are in the universe: one company after the other.
pub(crate) fn valued_on(view: View<'_>, days: &[Day], companies: &[CompanyIndex], premises: Premises<'_>) -> Vec<Vec<Valued>> {
    let evaluator = Evaluator::for_any_valuation(view, days.first().copied().unwrap_or(view.as_of.t));
    let one = |company: &CompanyIndex| {
        view.host.go_on();
        let rows = view.as_of.company(*company).rows_on(days);
        let (of, rows): (Vec<usize>, Vec<CompanyAt<'_>>) = rows.into_iter().enumerate().filter(|(_, row)| row.in_universe()).unzip();
        let valued = value_rows(&evaluator.sheet(&rows), What::Both, premises);
        let each = |(day, v): (usize, Valuation)| Valued { day, price: v.price.ok(), value: v.value.ok(), quality: v.quality.score.ok() };
        of.into_iter().zip(valued).map(each).collect()
    };
    companies.par_iter().map(one).collect()
}

/// The valuations of all companies by position, on each of some days, which come in order: one company after the other.
pub(crate) fn valuations_on(view: View<'_>, days: &[Day], premises: Premises<'_>) -> Vec<Vec<Valuation>> {
    let Some(first) = days.first() else { return Vec::new() };
    let evaluator = Evaluator::for_any_valuation(view, *first);
    let all = 0..CompanyIndex::try_from(view.as_of.snapshot.company_count()).unwrap_or_default();
    let one = |company: CompanyIndex| {
        view.host.go_on();
        let rows = view.as_of.company(company).rows_on(days);
        value_rows(&evaluator.sheet(&rows), What::Both, premises)
    };
    let by_company: Vec<Vec<Valuation>> = all.into_par_iter().map(one).collect();
    let mut out: Vec<Vec<Valuation>> = days.iter().map(|_| Vec::with_capacity(by_company.len())).collect();
    by_company.into_iter().for_each(|of| of.into_iter().zip(&mut out).for_each(|(valuation, day)| day.push(valuation)));
    out
}

/// The chance that they are under value, drawn for some companies on those of some days on which they are in the universe and have one.
pub(crate) fn chances_on(view: View<'_>, days: &[Day], companies: &[CompanyIndex], premises: Premises<'_>) -> Vec<Vec<(usize, f64)>> {
    let evaluator = Evaluator::for_any_valuation(view, days.first().copied().unwrap_or(view.as_of.t));
    let one = |company: &CompanyIndex| {
        view.host.go_on();
        let rows = view.as_of.company(*company).rows_on(days);
        let (of, rows): (Vec<usize>, Vec<CompanyAt<'_>>) = rows.into_iter().enumerate().filter(|(_, row)| row.in_universe()).unzip();
        let found = inputs::inputs(&evaluator.sheet(&rows), premises.assumptions);
        let chance = |(row, found): (&CompanyAt<'_>, &Inputs)| {
            let own = premises.overrides.of(&row.company().id);
            let (a, inputs) =
                own.map_or_else(|| (premises.assumptions.clone(), found.clone()), |own| own.applied(premises.assumptions, found));
            draws(view.at(row.t()), row, &inputs, &a).and_then(|d| d.chance_undervalued).ok()
        };
        let chances = rows.iter().zip(&found).map(chance);
        of.into_iter().zip(chances).filter_map(|(day, chance)| Some((day, chance?))).collect()
    };
    companies.par_iter().map(one).collect()
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
    pub(crate) fn of_all(view: View<'_>, a: &Assumptions) -> Start {
        let evaluator = Evaluator::for_valuations(view);
        let all: Vec<CompanyIndex> = (0..CompanyIndex::try_from(view.as_of.snapshot.company_count()).unwrap_or_default()).collect();
        let some = |chunk: &[CompanyIndex]| {
            view.host.go_on();
            let rows: Vec<CompanyAt<'_>> = chunk.iter().map(|i| view.as_of.company(*i)).collect();
            let sheet = evaluator.sheet_with(&rows, &FROM_FILINGS);
            let qualities = quality::quality_rows(&sheet, a.quiet_months).into_iter().map(Arc::new).collect();
            Start { inputs: inputs::inputs(&sheet, a), qualities }
        };
        let parts: Vec<Start> = all.par_chunks(CHUNK).map(some).collect();
        let mut all = Start { inputs: Vec::new(), qualities: Vec::new() };
        for part in parts {
            all.inputs.extend(part.inputs);
            all.qualities.extend(part.qualities);
        }
        all
    }

    /// Roughly the memory it takes, in bytes.
    pub(crate) fn bytes(&self) -> usize {
        size_of_val(&*self.inputs) + self.qualities.iter().map(|q| q.bytes()).sum::<usize>()
    }

    /// The valuations of all companies.
    pub(crate) fn valued(&self, view: View<'_>, premises: Premises<'_>) -> Vec<Valuation> {
        let judge = Judge::of(premises.assumptions);
        let one = |(company, (inputs, quality)): (usize, (&Inputs, &Arc<Quality>))| {
            let id = &view.as_of.snapshot.company(CompanyIndex::try_from(company).unwrap_or_default()).id;
            Valuation { quality: judge.judged(quality, inputs.kind), ..value_of(premises, id, inputs) }
        };
        self.inputs.par_iter().zip(&self.qualities).enumerate().with_min_len(64).map(one).collect()
    }
}

//! Why the value of a company changed between two dates.

use super::{
    mixture::{Cause, Mixture, Side},
    shapley::shares,
    words,
};
use crate::{
    Num, Why,
    domain::{Currency, Day},
    engine::Context,
    formula::Unit,
    panel::CompanyIndex,
    valuation::{self, Inputs, Verdict},
};

/// Why a value changed.
#[derive(Clone, Debug)]
pub struct ValueChange {
    /// Of all amounts, which are a traded unit on the split basis of the later date.
    pub currency: Currency,
    /// The earlier date.
    pub before: ValuePoint,
    /// The later date.
    pub after: ValuePoint,
    /// What each cause added to the value, the largest first; they add up to the change. Why not, where it cannot be told.
    pub value: Result<Vec<Part>, Why>,
    /// The same for the margin of safety.
    pub margin: Result<Vec<Part>, Why>,
    /// The figures from filings whose change weighs most, each alone; three at most.
    pub figures: Vec<ChangedFigure>,
    /// When filings came between the dates, oldest first.
    pub filings: Vec<Day>,
    /// All of it in a sentence.
    pub sentence: String,
}

/// A valuation at one of the dates.
#[derive(Clone, Copy, Debug)]
#[allow(missing_docs)]
pub struct ValuePoint {
    pub date: Day,
    pub value: Num,
    pub price: Num,
    pub margin_of_safety: Num,
    pub quality: Num,
    pub verdict: Verdict,
    /// The return that is required, and the yield of good bonds.
    pub required_return: Num,
    pub aaa_yield: Num,
}

/// What one cause added, or several that cannot be parted.
#[derive(Clone, Debug, PartialEq)]
pub struct Part {
    /// The causes.
    pub causes: Vec<Cause>,
    /// An amount a unit, or of the margin.
    pub amount: f64,
}

/// A starting figure that changed.
#[derive(Clone, Copy, Debug)]
pub struct ChangedFigure {
    /// What it is.
    pub label: &'static str,
    /// Its unit: an amount a unit, or a fraction.
    pub unit: Unit,
    /// At the earlier date.
    pub before: Num,
    /// At the later date.
    pub after: Num,
    /// What it alone would have changed of the value at the earlier date.
    pub weight: f64,
}

/// Why the value of a company changed from one date to another: the Shapley values of the causes over all mixtures of both dates,
/// at prices, values and amounts on the split basis of the later date. Each date has its own assumptions.
#[must_use]
pub fn value_change(before: (&Context, Day), after: (&Context, Day), company: CompanyIndex) -> ValueChange {
    let later = after.0.as_of(after.1).company(company);
    let mixture = Mixture { before: Side::new(before.0, before.1, company, &later), after: Side::new(after.0, after.1, company, &later) };
    let mut change = ValueChange {
        currency: later.listing_currency(),
        before: point(&mixture.before),
        after: point(&mixture.after),
        value: parted(&mixture, |changed| value(&mixture, changed)),
        margin: parted(&mixture, |changed| Ok(1.0 - mixture.inputs(changed).price? / value(&mixture, changed)?)),
        figures: figures(&mixture),
        filings: mixture.filings(),
        sentence: String::new(),
    };
    change.sentence = words::sentence(&change);
    change
}

fn point(side: &Side<'_>) -> ValuePoint {
    let v = &side.value.valuation;
    let on_basis = |amount: Num| Ok(amount? / side.splits);
    ValuePoint {
        date: side.company.t(),
        value: on_basis(v.value),
        price: on_basis(v.price),
        margin_of_safety: v.margin_of_safety(),
        quality: v.quality.score,
        verdict: v.verdict(&side.value.assumptions),
        required_return: side.value.assumptions.required_return(&side.inputs),
        aaa_yield: side.inputs.aaa_yield,
    }
}

/// The value of a mixture, under the assumptions of its side.
fn value(mixture: &Mixture<'_>, changed: u32) -> Num {
    valued(&mixture.inputs(changed), mixture.side(changed, Cause::Assumptions))
}

fn valued(inputs: &Inputs, side: &Side<'_>) -> Num {
    match side.own() {
        None => valuation::value(inputs, side.premises.assumptions).value,
        Some(own) => {
            let (assumptions, inputs) = own.applied(side.premises.assumptions, inputs);
            valuation::value(&inputs, &assumptions).value
        }
    }
}

/// The parts of the causes that changed, the largest first.
fn parted(mixture: &Mixture<'_>, of: impl Fn(u32) -> Num) -> Result<Vec<Part>, Why> {
    let causes: Vec<Cause> = Cause::ALL.into_iter().filter(|c| mixture.moved(*c)).collect();
    let bits = |which: u32| causes.iter().enumerate().filter(move |(i, _)| which >> i & 1 == 1).map(|(_, c)| *c);
    let n = u32::try_from(causes.len()).unwrap_or_default();
    let shares = shares(n, |which| of(bits(which).map(Cause::bit).sum()))?;
    let part = |s: &super::Share| Part { causes: bits(s.groups).collect(), amount: s.amount };
    let mut parts: Vec<Part> = shares.iter().map(part).filter(|p| p.amount != 0.0).collect();
    parts.sort_by(|a, b| b.amount.abs().total_cmp(&a.amount.abs()));
    Ok(parts)
}

/// A figure from filings: what it is, its unit, where it is read, and all that is replaced with it.
type FromFilings = (&'static str, Unit, fn(&Inputs) -> Num, fn(&mut Inputs, &Inputs));

/// The figures from filings that are told of. What is counted a unit diluted and a unit outstanding is one figure.
const FIGURES: [FromFilings; 13] = [
    ("earnings per share", Unit::PerShare, |i| i.earnings, |i, from| i.earnings = from.earnings),
    ("free cash flow per share", Unit::PerShare, |i| i.cash_flow, |i, from| i.cash_flow = from.cash_flow),
    (
        "book value per share",
        Unit::PerShare,
        |i| i.book,
        |i, from| {
            (i.book, i.book_outstanding) = (from.book, from.book_outstanding);
        },
    ),
    (
        "dividend",
        Unit::PerShare,
        |i| i.dividend,
        |i, from| {
            (i.dividend, i.paid, i.dividend_each_year) = (from.dividend, from.paid, from.dividend_each_year);
        },
    ),
    ("return on equity", Unit::Percent, |i| i.roe, |i, from| i.roe = from.roe),
    ("growth of past earnings", Unit::Percent, |i| i.past_growth, |i, from| i.past_growth = from.past_growth),
    ("tax rate", Unit::Percent, |i| i.tax, |i, from| i.tax = from.tax),
    (
        "operating income per share",
        Unit::PerShare,
        |i| i.operating_income,
        |i, from| {
            (i.operating_income, i.ebit_outstanding) = (from.operating_income, from.ebit_outstanding);
        },
    ),
    ("depreciation less investment per share", Unit::PerShare, |i| i.reinvestment, |i, from| i.reinvestment = from.reinvestment),
    (
        "revenue per share",
        Unit::PerShare,
        |i| i.revenue,
        |i, from| {
            (i.revenue, i.revenue_outstanding) = (from.revenue, from.revenue_outstanding);
        },
    ),
    ("operating margin", Unit::Percent, |i| i.mean_margin, |i, from| i.mean_margin = from.mean_margin),
    (
        "net debt per share",
        Unit::PerShare,
        |i| i.net_claims,
        |i, from| {
            (i.net_claims, i.net_claims_outstanding) = (from.net_claims, from.net_claims_outstanding);
            (i.debt_outstanding, i.interest_rate) = (from.debt_outstanding, from.interest_rate);
        },
    ),
    ("funds from operations per share", Unit::PerShare, |i| i.ffo, |i, from| i.ffo = from.ffo),
];

/// The figures told of at most.
const TOLD: usize = 3;

/// The figures from filings that weigh most: each replaced alone at the earlier date.
fn figures(mixture: &Mixture<'_>) -> Vec<ChangedFigure> {
    let (before, after) = (mixture.inputs(0), mixture.inputs(Cause::Filings.bit()));
    let Ok(start) = valued(&before, &mixture.before) else { return Vec::new() };
    let changed = |(label, unit, read, replace): FromFilings| {
        let mut alone = before.clone();
        replace(&mut alone, &after);
        let weight = valued(&alone, &mixture.before).ok()? - start;
        (weight != 0.0).then(|| ChangedFigure { label, unit, before: read(&before), after: read(&after), weight })
    };
    let mut all: Vec<ChangedFigure> = FIGURES.into_iter().filter_map(changed).collect();
    all.sort_by(|a, b| b.weight.abs().total_cmp(&a.weight.abs()));
    all.truncate(TOLD);
    all
}

//! Why the value of a company changed since a day.

use crate::{AppError, Ctx, figures::figure::Figure};
use artemon_core::{
    Why,
    changes::{self, Cause, ChangedFigure, Part, ValueChange, ValuePoint},
    domain::Day,
    formula::Unit,
    valuation::Verdict,
};
use serde::Serialize;
use utoipa::ToSchema;

/// Why a value changed between two days; amounts a share in the listing's currency, on the split basis of the later day.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ValueChangeAnswer {
    pub currency: String,
    /// All of it in a sentence.
    pub sentence: String,
    pub before: ValueThen,
    pub after: ValueThen,
    /// What each cause added to the value, the largest first: they add up to the change. None where it cannot be told.
    pub value: Vec<ChangePart>,
    /// What each cause added to the margin of safety.
    pub margin: Vec<ChangePart>,
    /// Why the causes cannot be told.
    pub reason: Option<String>,
    /// The figures from filings whose change weighs most, each alone.
    pub figures: Vec<FigureChange>,
    /// The days on which filings came in between.
    #[schema(value_type = Vec<String>)]
    pub filings: Vec<Day>,
}

/// A valuation on one of the days.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ValueThen {
    #[schema(value_type = String)]
    pub date: Day,
    pub value: Figure,
    pub price: Figure,
    pub margin_of_safety: Figure,
    pub quality: Figure,
    #[schema(value_type = String)]
    pub verdict: Verdict,
}

/// What one cause added, or several that cannot be parted.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ChangePart {
    pub causes: Vec<Cause>,
    /// The causes as one says them.
    pub label: String,
    /// An amount a share, or a part of the margin.
    pub amount: f64,
}

/// A figure from filings that changed.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FigureChange {
    pub label: &'static str,
    pub unit: Unit,
    pub before: Figure,
    pub after: Figure,
    /// What it alone would have changed of the earlier value.
    pub weight: f64,
}

/// Why the value of a company changed since a day; since the day before its newest filing when none is given.
///
/// # Errors
/// An unknown company; a date outside the data, or a day that is not before it.
pub fn value_change(ctx: &Ctx, symbol: &str, since: Option<Day>, as_of: Option<Day>) -> Result<ValueChangeAnswer, AppError> {
    let t = ctx.date(as_of)?;
    let c = ctx.company(symbol, t)?;
    let first = ctx.snapshot().sessions().map_or(t, |s| s.0);
    let before_filing = || c.newest_filing().map_or_else(|| t.plus_months(-3), |d| d.plus_days(-1)).max(first);
    let since = since.map_or_else(|| Ok(before_filing()), |d| ctx.date(Some(d)))?;
    if since >= t {
        return Err(AppError::Unusable { what: format!("The day {since}"), problem: format!("it is not before {t}") });
    }
    Ok(change_answer(changes::value_change((&ctx.engine, since), (&ctx.engine, t), c.index)))
}

/// A change as it is told.
pub(crate) fn change_answer(change: ValueChange) -> ValueChangeAnswer {
    let reason = change.value.as_ref().err().map(Why::to_string);
    ValueChangeAnswer {
        currency: change.currency.to_string(),
        sentence: change.sentence,
        before: then(&change.before),
        after: then(&change.after),
        value: change.value.unwrap_or_default().into_iter().map(part).collect(),
        margin: change.margin.unwrap_or_default().into_iter().map(part).collect(),
        reason,
        figures: change.figures.into_iter().map(figure).collect(),
        filings: change.filings,
    }
}

fn then(p: &ValuePoint) -> ValueThen {
    ValueThen {
        date: p.date,
        value: p.value.into(),
        price: p.price.into(),
        margin_of_safety: p.margin_of_safety.into(),
        quality: p.quality.into(),
        verdict: p.verdict,
    }
}

fn part(p: Part) -> ChangePart {
    let labels: Vec<&str> = p.causes.iter().map(|c| c.label()).collect();
    ChangePart { label: labels.join(", "), causes: p.causes, amount: p.amount }
}

fn figure(f: ChangedFigure) -> FigureChange {
    FigureChange { label: f.label, unit: f.unit, before: f.before.into(), after: f.after.into(), weight: f.weight }
}

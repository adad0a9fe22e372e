//! One decision: what was seen then, what is seen now, why the value changed, what was thought of it since.

use super::{
    super::{books::order_states, index::index_compared},
    page::{DecisionRow, DecisionsRequest, read, row},
    reasons::Reasons,
    review::Review,
    seen::{Seen, seen},
};
use crate::{
    AppError, Ctx,
    companies::{ValueChangeAnswer, change_answer},
};
use artemon_core::{
    changes::value_change,
    domain::Day,
    engine::{Context, Settings},
    formula::Unit,
    panel::CompanyAt,
    quality::FLAGS,
    wording::figures::quoted,
};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// A correction is told of from this part of the value on.
const CORRECTED: f64 = 0.005;

/// A decision, then and now.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct DecisionAnswer {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub row: DecisionRow,
    pub reasons: Reasons,
    /// As it was seen then.
    pub seen: Seen,
    /// As it is seen on that day; none of a company that is not there, or before the decision.
    pub now: Option<Seen>,
    /// Headline figures then and now.
    pub figures: Vec<FigureThenAndNow>,
    /// Why the value changed, with the assumptions of then and of now.
    pub change: Option<ValueChangeAnswer>,
    /// What the dataset says today of that day, where it is another value than was seen: filings were corrected since.
    pub corrected: Option<String>,
    /// The sentences of flags that were raised since.
    pub new_flags: Vec<String>,
    /// Oldest first.
    pub reviews: Vec<Review>,
}

/// A headline figure then and now.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct FigureThenAndNow {
    pub label: String,
    pub formula: String,
    pub unit: Unit,
    pub then: Option<f64>,
    pub now: Option<f64>,
}

/// One decision, as of a day.
///
/// # Errors
/// A decision that is not there; a day outside the data.
pub fn decision(ctx: &Ctx, id: &str, request: &DecisionsRequest) -> Result<DecisionAnswer, AppError> {
    let t = ctx.date(request.as_of)?;
    let found = read(ctx, Day::MAX)?.into_iter().find(|d| d.id == id);
    let found = found.ok_or_else(|| AppError::Missing { what: "The decision".to_owned() })?;
    let index = index_compared(ctx, t, request.index.as_deref())?;
    let row = row(ctx, &found, t.max(found.decided_on), index.as_deref(), &order_states(ctx, t)?);
    let then = &found.body.seen;
    let c = found.company.filter(|_| t >= found.decided_on).map(|i| ctx.engine.as_of(t).company(i));
    let now = c.as_ref().map(|c| seen(ctx, c));
    let change = c.as_ref().filter(|c| found.decided_on < c.t()).map(|c| {
        let before = as_assumed_then(ctx, c, then);
        value_change((&before, found.decided_on), (&ctx.engine, t), c.index)
    });
    let corrected = change.as_ref().zip(row.value_then).and_then(|(change, then)| corrected(change.before.value.ok(), then));
    let raised = |code: &String| now.as_ref().is_some_and(|n| n.flags.contains(code)) && !then.flags.contains(code);
    let new_flags = FLAGS.iter().filter(|f| raised(&f.id.to_owned())).map(|f| f.says.to_owned());
    let of_now = |formula: &str| now.as_ref()?.figures.iter().find(|f| f.formula == formula)?.value;
    let figure = |f: &super::SeenFigure| FigureThenAndNow {
        label: f.label.clone(),
        formula: f.formula.clone(),
        unit: f.unit,
        then: f.value,
        now: of_now(&f.formula),
    };
    Ok(DecisionAnswer {
        as_of: t,
        figures: then.figures.iter().map(figure).collect(),
        new_flags: new_flags.collect(),
        corrected,
        change: change.map(change_answer),
        now,
        reasons: found.body.reasons,
        seen: found.body.seen,
        reviews: found.reviews,
        row,
    })
}

/// The same data under the assumptions that were in use.
fn as_assumed_then(ctx: &Ctx, c: &CompanyAt<'_>, then: &Seen) -> Context {
    let now = ctx.settings();
    let overrides = Arc::new(now.overrides.with(&c.company().id, then.own.clone()));
    ctx.engine.with(Settings { assumptions: then.assumptions.clone(), overrides, ..now.clone() })
}

fn corrected(today: Option<f64>, then: f64) -> Option<String> {
    let today = today?;
    let differs = (today / then - 1.0).abs() > CORRECTED;
    let says = || format!("The value of that day would be {} from the data as it is now: it was corrected since.", quoted(today));
    differs.then(says)
}

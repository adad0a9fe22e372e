//! What was seen when something was decided: a copy that no later filing or correction changes.

use crate::{
    Ctx,
    companies::{Cases, headline_figures},
    documents::{kind::DocumentKind, of_company},
};
use artemon_core::{
    Num,
    domain::Day,
    formula::Unit,
    panel::CompanyAt,
    quality::FLAGS,
    valuation::{Assumptions, Override},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What was seen of a company on a day; amounts a share in the listing's currency, on the split basis of that day.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Seen {
    #[schema(value_type = String)]
    pub as_of: Day,
    pub currency: String,
    pub price: Option<f64>,
    pub value: Option<f64>,
    pub value_low: Option<f64>,
    pub value_high: Option<f64>,
    pub buy_below: Option<f64>,
    pub margin_of_safety: Option<f64>,
    pub quality: Option<f64>,
    pub verdict: String,
    /// Ids of the flags that were raised.
    pub flags: Vec<String>,
    pub figures: Vec<SeenFigure>,
    /// The assumption set that was in use.
    #[schema(value_type = Object)]
    pub assumptions: Assumptions,
    /// What the person assumed of the company.
    #[schema(value_type = Object)]
    pub own: Override,
    /// What the person forecast of it, where they did.
    #[schema(value_type = Option<Object>)]
    pub cases: Option<Cases>,
}

/// A headline figure as it was seen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct SeenFigure {
    pub formula: String,
    pub label: String,
    pub unit: Unit,
    pub value: Option<f64>,
    /// Why there was none.
    pub reason: Option<String>,
}

/// What is seen of a company at its date.
pub(super) fn seen(ctx: &Ctx, c: &CompanyAt<'_>) -> Seen {
    let valued = ctx.engine.value_company(c.t(), c.index);
    let (v, assumptions) = (&valued.valuation, &ctx.settings().assumptions);
    let some = |n: Num| n.ok();
    let flags = v.quality.flags.iter().zip(FLAGS).filter(|(raised, _)| **raised == Ok(true));
    let figure = |f: crate::companies::NamedFigure| SeenFigure {
        formula: f.formula,
        label: f.label,
        unit: f.unit,
        value: f.figure.value.number().ok(),
        reason: f.figure.reason,
    };
    let cases = of_company::kept::<Cases>(ctx, DocumentKind::Case, c).ok();
    Seen {
        as_of: c.t(),
        currency: c.listing_currency().to_string(),
        price: some(v.price),
        value: some(v.value),
        value_low: some(v.low),
        value_high: some(v.high),
        buy_below: some(v.buy_below(assumptions)),
        margin_of_safety: some(v.margin_of_safety()),
        quality: some(v.quality.score),
        verdict: v.verdict(assumptions).to_string(),
        flags: flags.map(|(_, f)| f.id.to_owned()).collect(),
        figures: headline_figures(&ctx.engine, c).into_iter().map(figure).collect(),
        assumptions: assumptions.clone(),
        own: ctx.settings().overrides.of(&c.company().id).map(|o| (**o).clone()).unwrap_or_default(),
        cases: cases.filter(|k| k.version > 0).map(|k| k.own),
    }
}

//! The valuation of one company, in full.

use crate::{
    App, AppError,
    evaluate::Figure,
    quality::{QualityAnswer, quality},
    rank::{Spread, spread},
};
use artemon_core::{
    Num,
    domain::Day,
    panel::CompanyAt,
    valuation::{Inputs, Model, Status, Valuation, Verdict, draws, value_company},
};
use serde::Serialize;
use utoipa::ToSchema;

/// The valuation of one company.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ValueAnswer {
    pub symbol: String,
    pub name: String,
    #[schema(value_type = String)]
    pub as_of: Day,
    /// The assumption set used.
    pub assumptions: String,
    pub margin: f64,
    /// The currency of all amounts, which are a share.
    pub currency: String,
    pub price: Figure,
    pub intrinsic_value: Figure,
    pub value_low: Figure,
    pub value_high: Figure,
    pub value_agreement: Figure,
    pub margin_of_safety: Figure,
    pub buy_below: Figure,
    pub expected_return: Figure,
    /// "in range", "close", "wait", "pass" or "cannot value".
    #[schema(value_type = String)]
    pub verdict: Verdict,
    /// The growth that the price implies.
    pub implied_growth: Figure,
    pub quality: QualityAnswer,
    /// What the value may be when growth, required return and exit multiple are drawn ten thousand times.
    pub draws: Option<DrawsAnswer>,
    pub spread: Option<Spread>,
    /// The scenarios with their growth.
    pub scenarios: Vec<ScenarioAnswer>,
    /// One row a model.
    pub models: Vec<ModelAnswer>,
    /// What the valuation starts from.
    pub starting: Vec<StartingFigure>,
}

/// The value under draws of what cannot be known.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct DrawsAnswer {
    /// P5, P25, P50, P75 and P95 a share.
    pub percentiles: [f64; 5],
    /// The share of draws above the price.
    pub chance_undervalued: Figure,
}

/// A growth scenario.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScenarioAnswer {
    pub id: String,
    pub growth: Figure,
}

/// A model under every scenario.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ModelAnswer {
    pub number: u8,
    pub model: Model,
    pub label: &'static str,
    /// Weighted mean of its kept cells.
    pub mean: Option<f64>,
    pub cells: Vec<CellAnswer>,
}

/// One model under one scenario.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CellAnswer {
    /// Absent for models without scenarios.
    pub scenario: Option<String>,
    pub value: Figure,
    pub status: Status,
}

/// A figure that the valuation starts from.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct StartingFigure {
    pub label: &'static str,
    /// "per_share", "percent" or "ratio".
    pub unit: &'static str,
    pub value: Figure,
}

/// Values one company at a date.
///
/// # Errors
/// An unknown company, a date outside the data.
pub fn value(app: &App, symbol: &str, as_of: Option<Day>) -> Result<ValueAnswer, AppError> {
    let panel = app.panel();
    let view = panel.view(as_of)?;
    Ok(answer(&view.company(panel.find(symbol)?)))
}

pub(crate) fn answer(c: &CompanyAt<'_>) -> ValueAnswer {
    let (inputs, v) = value_company(c.view, c.index);
    let a = &c.view.settings.assumptions;
    ValueAnswer {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        as_of: c.t(),
        assumptions: a.name.clone(),
        margin: a.margin,
        currency: v.currency.to_string(),
        price: v.price.into(),
        intrinsic_value: v.value.into(),
        value_low: v.low.into(),
        value_high: v.high.into(),
        value_agreement: v.agreement.into(),
        margin_of_safety: v.margin_of_safety().into(),
        buy_below: v.buy_below(a.margin).into(),
        expected_return: v.expected_return.into(),
        verdict: v.verdict(a),
        implied_growth: v.implied_growth.into(),
        quality: quality(&v.quality, c),
        draws: draws(c, &inputs, a)
            .ok()
            .map(|d| DrawsAnswer { percentiles: d.percentiles, chance_undervalued: d.chance_undervalued.into() }),
        spread: spread(&v, a.margin),
        scenarios: v.growth.iter().map(|(s, g)| ScenarioAnswer { id: s.to_string(), growth: (*g).into() }).collect(),
        models: Model::for_kind(c.kind()).iter().map(|m| model(*m, &v)).collect(),
        starting: starting(&inputs, a),
    }
}

fn model(model: Model, v: &Valuation) -> ModelAnswer {
    let cell = |c: &artemon_core::valuation::Cell| CellAnswer {
        scenario: c.scenario.map(|s| s.to_string()),
        value: c.value.into(),
        status: c.status,
    };
    ModelAnswer {
        number: model.number(),
        model,
        label: model.label(),
        mean: v.models.iter().find(|m| m.0 == model).map(|m| m.1),
        cells: v.cells.iter().filter(|c| c.model == model).map(cell).collect(),
    }
}

fn starting(i: &Inputs, a: &artemon_core::valuation::Assumptions) -> Vec<StartingFigure> {
    let figure = |label, unit, value: Num| StartingFigure { label, unit, value: value.into() };
    vec![
        figure("Earnings, last 12 months", "per_share", i.earnings),
        figure("Free cash flow, mean of 3 years", "per_share", i.cash_flow),
        figure("Book value", "per_share", i.book),
        figure("Dividends of a year", "per_share", i.dividend),
        figure("Share of earnings paid out", "percent", Ok(i.payout())),
        figure("Exit multiple of earnings", "ratio", Ok(i.exit_pe(a))),
        figure("Required return", "percent", i.required_return),
        figure("Discount rate of the firm", "percent", i.firm_rate(a)),
        figure("Tax rate", "percent", i.tax),
    ]
}

//! The valuation of one company, in full.

use super::{
    assumptions::checked,
    overrides::check_override,
    quality::{QualityAnswer, quality},
    spread::{Spread, spread},
};
use crate::{
    AppError, Ctx,
    figures::figure::{Figure, number},
};
use artemon_core::{
    Num, Why,
    domain::Day,
    engine::Context,
    panel::CompanyAt,
    valuation::{
        Assumptions, CompanyValue, EarningsBase, Inputs, Model, Override, Scenario, Status, Valuation, ValueSteps, Verdict, YearMultiple,
        draws, expected_earnings, steps, yearly_multiples,
    },
};
use serde::{Deserialize, Serialize};
use std::sync::Arc;
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
    /// The margin that this value asks for: wider when unsure, where the set says so.
    pub required_margin: f64,
    /// The growth that the price implies.
    pub implied_growth: Figure,
    pub quality: QualityAnswer,
    /// What the user assumes of the company.
    pub own: Override,
    /// What the value may be when growth, required return and exit multiple are drawn ten thousand times.
    pub draws: Option<DrawsAnswer>,
    pub spread: Option<Spread>,
    /// The scenarios with their growth.
    pub scenarios: Vec<ScenarioAnswer>,
    /// One row a model.
    pub models: Vec<ModelAnswer>,
    /// What the valuation starts from.
    pub starting: Vec<StartingFigure>,
    /// What the price would be in twelve months at multiples of the last years.
    pub range: MultipleRange,
    /// How the cell asked for comes to its value.
    pub steps: Option<ValueSteps>,
}

/// A valuation as it would be under other assumptions; nothing is kept.
#[derive(Clone, Debug, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ValueRequest {
    /// The date; the newest session when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub as_of: Option<Day>,
    /// The set; that in use when absent.
    #[serde(default)]
    pub assumptions: Option<Assumptions>,
    /// What is assumed of the company; what is kept when absent.
    #[serde(default)]
    pub own: Option<Override>,
    /// The cell to be shown year by year.
    #[serde(default)]
    pub steps: Option<CellAsked>,
}

/// A cell of the grid.
#[derive(Clone, Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CellAsked {
    /// Its model.
    pub model: Model,
    /// Its scenario; absent for models without scenarios.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub scenario: Option<Scenario>,
}

/// The earnings that analysts expect of the year in progress, at what the market paid in the last fiscal years.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct MultipleRange {
    /// Newest first; years with a loss are left out.
    pub years: Vec<YearRange>,
    /// Today's price over earnings of the latest twelve months.
    pub pe: Figure,
    pub expected_earnings: Figure,
    pub downside: Figure,
    pub middle: Figure,
    pub upside: Figure,
    /// How far the analysts' target is above the price, as a fraction.
    pub target_upside: Figure,
}

/// What was paid in a fiscal year.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct YearRange {
    pub fiscal_year: i32,
    pub low_price: f64,
    pub high_price: f64,
    /// From low to high, as a fraction.
    pub rise: f64,
    pub low_pe: f64,
    pub high_pe: f64,
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
pub fn value(ctx: &Ctx, symbol: &str, as_of: Option<Day>) -> Result<ValueAnswer, AppError> {
    value_with(ctx, symbol, &ValueRequest { as_of, ..ValueRequest::default() })
}

/// Values one company as it would be under other assumptions.
///
/// # Errors
/// As [`value`]; assumptions that cannot be meant; steps of a cell that has no value.
pub fn value_with(ctx: &Ctx, symbol: &str, request: &ValueRequest) -> Result<ValueAnswer, AppError> {
    let company = ctx.find(symbol)?;
    let t = ctx.date(request.as_of)?;
    let mut settings = ctx.settings().clone();
    if let Some(set) = &request.assumptions {
        checked(set)?;
        settings.assumptions = set.clone();
    }
    if let Some(own) = &request.own {
        check_override(own)?;
        settings.overrides = Arc::new(settings.overrides.with(&ctx.snapshot().company(company).id, own.clone()));
    }
    let context = ctx.engine.with(settings);
    let c = context.as_of(t).company(company);
    answer(&context, &c, context.value_company(t, company), request.steps.as_ref())
}

/// The answer of a valuation that was made with a context's settings.
pub(crate) fn answer(
    context: &Context,
    c: &CompanyAt<'_>,
    value: CompanyValue,
    asked: Option<&CellAsked>,
) -> Result<ValueAnswer, AppError> {
    let CompanyValue { inputs, assumptions: a, valuation: v, .. } = value;
    Ok(ValueAnswer {
        symbol: c.symbol().to_owned(),
        name: c.company().name.clone(),
        as_of: c.t(),
        assumptions: a.label(),
        margin: a.margin,
        currency: v.currency.to_string(),
        price: v.price.into(),
        intrinsic_value: v.value.into(),
        value_low: v.low.into(),
        value_high: v.high.into(),
        value_agreement: v.agreement.into(),
        margin_of_safety: v.margin_of_safety().into(),
        buy_below: v.buy_below(&a).into(),
        expected_return: v.expected_return.into(),
        verdict: v.verdict(&a),
        required_margin: v.required_margin(&a),
        implied_growth: v.implied_growth.into(),
        quality: quality(&v.quality, c, context),
        own: v.own.as_deref().cloned().unwrap_or_default(),
        draws: draws(context.view(c.t()), &context.as_of(c.t()).company(c.index), &inputs, &a)
            .ok()
            .map(|d| DrawsAnswer { percentiles: d.percentiles, chance_undervalued: d.chance_undervalued.into() }),
        spread: spread(&v, &a),
        scenarios: v.growth.iter().map(|(s, g)| ScenarioAnswer { id: s.to_string(), growth: (*g).into() }).collect(),
        models: Model::for_kind(c.kind()).iter().map(|m| model(*m, &v)).collect(),
        starting: starting(&inputs, &a),
        range: range(context, c),
        steps: asked.map(|cell| steps_of(cell, &inputs, &a, &v)).transpose()?,
    })
}

fn range(context: &Context, c: &CompanyAt<'_>) -> MultipleRange {
    let number = |formula| number(context, c, formula);
    let year = |y: &YearMultiple| YearRange {
        fiscal_year: y.fiscal_year,
        low_price: y.low_price,
        high_price: y.high_price,
        rise: y.high_price / y.low_price - 1.0,
        low_pe: y.low,
        high_pe: y.high,
    };
    MultipleRange {
        years: yearly_multiples(c, context.settings().assumptions.range_years).iter().map(year).collect(),
        pe: number("pe").into(),
        expected_earnings: expected_earnings(c).into(),
        downside: number("range_downside").into(),
        middle: number("range_middle").into(),
        upside: number("range_upside").into(),
        target_upside: number("target_upside").into(),
    }
}

fn steps_of(cell: &CellAsked, inputs: &Inputs, a: &Assumptions, v: &Valuation) -> Result<ValueSteps, AppError> {
    let no_value = |why: Why| AppError::Unusable {
        what: format!("{}{}", cell.model.label(), cell.scenario.map(|s| format!(", growth \"{s}\"")).unwrap_or_default()),
        problem: format!("it has no value here: {why}"),
    };
    let growth = match cell.scenario {
        None => Ok(0.0),
        Some(s) => v.growth.iter().find(|g| g.0 == s).map_or(Err(Why::NoAnswer), |g| g.1),
    };
    steps(cell.model, inputs, a, growth.map_err(no_value)?).map_err(no_value)
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

fn starting(i: &Inputs, a: &Assumptions) -> Vec<StartingFigure> {
    let earnings = match a.earnings {
        EarningsBase::Ltm => "Earnings, last 12 months",
        EarningsBase::Average3 => "Earnings, mean of 3 years",
        EarningsBase::Average5 => "Earnings, mean of 5 years",
        EarningsBase::Normal => "Earnings at the usual margin",
    };
    let figure = |label, unit, value: Num| StartingFigure { label, unit, value: value.into() };
    vec![
        figure(earnings, "per_share", i.earnings),
        figure("Free cash flow, mean of 3 years", "per_share", i.cash_flow),
        figure("Book value", "per_share", i.book),
        figure("Dividends of a year", "per_share", i.dividend),
        figure("Share of earnings paid out", "percent", Ok(i.payout())),
        figure("Exit multiple of earnings", "ratio", Ok(i.exit_pe(a))),
        figure("Required return", "percent", a.required_return(i)),
        figure("Discount rate of the firm", "percent", i.firm_rate(a)),
        figure("Tax rate", "percent", i.tax),
    ]
}

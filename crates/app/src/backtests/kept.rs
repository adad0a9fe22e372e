//! A backtest as it is kept.

use crate::{AppError, Ctx};
use artemon_core::{
    backtest::{Backtest, Outcome, VariantOutcome, words},
    domain::Day,
};
use artemon_store::{EndedBacktest, KeptBacktest, WAITING};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;

/// Points of the small curve of a list.
const POINTS: usize = 60;

/// How a backtest stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum BacktestState {
    /// It waits for its turn, or is being worked on.
    Waiting,
    Done,
    Refused,
    Cancelled,
    /// It broke off by a fault of the product.
    Failed,
}

impl BacktestState {
    pub(super) const fn code(self) -> &'static str {
        match self {
            BacktestState::Waiting => WAITING,
            BacktestState::Done => "done",
            BacktestState::Refused => "refused",
            BacktestState::Cancelled => "cancelled",
            BacktestState::Failed => "failed",
        }
    }

    fn of(code: &str) -> BacktestState {
        let all = [BacktestState::Waiting, BacktestState::Done, BacktestState::Refused, BacktestState::Cancelled];
        all.into_iter().find(|s| s.code() == code).unwrap_or(BacktestState::Failed)
    }
}

/// The figures of the list.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct BacktestSummary {
    #[schema(value_type = String)]
    pub first: Day,
    #[schema(value_type = String)]
    pub last: Day,
    pub annualised_return: f64,
    pub benchmark_annualised_return: f64,
    pub excess: f64,
    pub max_drawdown: f64,
    pub sharpe: Option<f64>,
    /// Where it falls among random portfolios.
    pub percentile: f64,
    pub turnover_a_year: f64,
    pub average_held: f64,
    /// How many things speak against believing it.
    pub warnings: usize,
    /// The value at some month ends, for a small curve.
    pub curve: Vec<f64>,
}

/// A backtest in the list.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct BacktestEntry {
    pub id: String,
    pub name: String,
    /// The name of the screen that it tries.
    pub screen: String,
    pub settings: Backtest,
    /// How it buys and compares, in a sentence.
    pub says: String,
    pub state: BacktestState,
    /// Why it was refused.
    pub message: String,
    /// RFC 3339.
    pub asked_at: String,
    pub ended_at: Option<String>,
    pub deleted_at: Option<String>,
    /// By what the data is known that it ran on.
    pub dataset: String,
    pub assumptions: String,
    /// Of the product.
    pub version: String,
    pub summary: Option<BacktestSummary>,
    /// What it comes to with one thing changed at a time, where that was asked for.
    pub variants: Option<Vec<VariantOutcome>>,
}

/// How many different settings of each screen were tried: whatever was run to its end.
pub(super) fn tried(all: &[KeptBacktest]) -> BTreeMap<String, usize> {
    let mut settings: BTreeMap<String, BTreeSet<&str>> = BTreeMap::new();
    for kept in all.iter().filter(|k| k.summary.is_some()) {
        settings.entry(kept.screen.clone()).or_default().insert(&kept.settings);
    }
    settings.into_iter().map(|(screen, variants)| (screen, variants.len())).collect()
}

pub(super) fn kept(ctx: &Ctx, id: &str) -> Result<KeptBacktest, AppError> {
    ctx.home.people.backtest(&ctx.person, id)?.ok_or_else(missing)
}

pub(super) fn missing() -> AppError {
    AppError::Missing { what: "This backtest".to_owned() }
}

pub(super) fn settings_of(kept: &KeptBacktest) -> Result<Backtest, AppError> {
    let unreadable = |e: serde_json::Error| AppError::Unusable { what: "The backtest".to_owned(), problem: e.to_string() };
    serde_json::from_str(&kept.settings).map_err(unreadable)
}

pub(super) fn entry(kept: KeptBacktest) -> Result<BacktestEntry, AppError> {
    let settings = settings_of(&kept)?;
    Ok(BacktestEntry {
        says: words(&settings),
        settings,
        state: BacktestState::of(&kept.state),
        summary: kept.summary.and_then(|s| serde_json::from_str(&s).ok()),
        variants: kept.variants.and_then(|s| serde_json::from_str(&s).ok()),
        id: kept.id,
        name: kept.name,
        screen: kept.screen,
        message: kept.message,
        asked_at: kept.asked_at,
        ended_at: kept.ended_at,
        deleted_at: kept.deleted_at,
        dataset: kept.dataset,
        assumptions: kept.assumptions,
        version: kept.version,
    })
}

/// One that ended without an outcome.
pub(super) const fn ended(state: BacktestState, message: &str) -> EndedBacktest<'_> {
    let (dataset, assumptions, version) = ("", "", env!("CARGO_PKG_VERSION"));
    EndedBacktest { state: state.code(), message, dataset, assumptions, version, summary: None, outcome: None }
}

/// The figures of the list.
pub(super) fn summary(of: &Outcome) -> BacktestSummary {
    let step = of.curve.len().div_ceil(POINTS).max(1);
    BacktestSummary {
        first: of.first,
        last: of.last,
        annualised_return: of.annualised_return,
        benchmark_annualised_return: of.benchmark_annualised_return,
        excess: of.excess,
        max_drawdown: of.max_drawdown,
        sharpe: of.sharpe,
        percentile: of.luck.percentile,
        turnover_a_year: of.turnover_a_year,
        average_held: of.average_held,
        warnings: of.said.len(),
        curve: of.curve.iter().step_by(step).chain(of.curve.last()).map(|p| p.value).collect(),
    }
}

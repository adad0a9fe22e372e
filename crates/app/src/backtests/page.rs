//! One backtest, and one that is run at once.

use super::{
    kept::{BacktestEntry, entry, kept, settings_of, tried},
    screen::screen_of,
};
use crate::{AppError, Ctx};
use artemon_core::{
    backtest::{self, Backtest, HoldingsAt, Outcome},
    domain::Day,
};
use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;

/// One backtest.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct BacktestAnswer {
    #[serde(flatten)]
    #[allow(missing_docs)]
    pub entry: BacktestEntry,
    /// What came of it, where it is done.
    pub outcome: Option<Outcome>,
    /// The companies in it, by symbol.
    pub names: BTreeMap<String, CompanyName>,
    /// How many different settings of its screen were tried.
    pub tried: usize,
    /// The annual return over the benchmark that the best of so many lucky ones would show.
    pub best_by_luck: Option<f64>,
    /// Whether the data and assumptions are still those that it ran on.
    pub is_current: bool,
}

/// A company of a backtest.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CompanyName {
    pub name: String,
    pub sector: String,
}

/// One backtest with all that came of it.
///
/// # Errors
/// When there is none.
pub fn backtest(ctx: &Ctx, id: &str) -> Result<BacktestAnswer, AppError> {
    let found = kept(ctx, id)?;
    let outcome = outcome(ctx, id)?;
    let tried = tried(&ctx.home.people.backtests(&ctx.person)?).get(&found.screen).copied().unwrap_or_default();
    let best = |o: &Outcome| o.luck.best_of.get(tried.max(1).min(o.luck.best_of.len()) - 1).copied();
    let entry = entry(found)?;
    Ok(BacktestAnswer {
        names: outcome.as_ref().map(|o| names(ctx, o)).unwrap_or_default(),
        tried,
        best_by_luck: outcome.as_ref().and_then(best),
        is_current: outcome.is_none()
            || (entry.dataset == ctx.dataset.fingerprint() && entry.assumptions == ctx.settings().assumptions.label()),
        outcome,
        entry,
    })
}

pub(super) fn outcome(ctx: &Ctx, id: &str) -> Result<Option<Outcome>, AppError> {
    let text = ctx.home.people.backtest_outcome(&ctx.person, id)?;
    let unreadable = |e: serde_json::Error| AppError::Unusable { what: "What came of the backtest".to_owned(), problem: e.to_string() };
    text.map(|text| serde_json::from_str(&text).map_err(unreadable)).transpose()
}

/// Names of all companies that were held.
pub(super) fn names(ctx: &Ctx, outcome: &Outcome) -> BTreeMap<String, CompanyName> {
    let symbols: BTreeSet<&String> = outcome.picks.iter().map(|p| &p.symbol).chain(outcome.notes.iter().map(|n| &n.symbol)).collect();
    let name = |symbol: &String| {
        let company = ctx.snapshot().company(ctx.snapshot().find(symbol)?);
        Some((symbol.clone(), CompanyName { name: company.name.clone(), sector: company.sector.clone() }))
    };
    symbols.into_iter().filter_map(name).collect()
}

/// What a backtest held at the close of a day.
///
/// # Errors
/// When there is none, or it has no outcome.
pub fn backtest_holdings(ctx: &Ctx, id: &str, day: Day) -> Result<HoldingsAt, AppError> {
    let settings = settings_of(&kept(ctx, id)?)?;
    let outcome = outcome(ctx, id)?.ok_or_else(|| AppError::Missing { what: "What came of this backtest".to_owned() })?;
    Ok(backtest::holdings_at(&ctx.engine, &settings, &outcome, day))
}

/// Runs a backtest at once, without keeping it.
///
/// # Errors
/// When it cannot be run.
pub fn backtest_here(ctx: &Ctx, settings: &Backtest) -> Result<Outcome, AppError> {
    let screen = screen_of(ctx, &settings.screen)?;
    Ok(backtest::run(&ctx.engine, settings, &screen, &mut |_| {})?)
}

/// What a backtest held at the close of a day.
#[must_use]
pub fn holdings_here(ctx: &Ctx, settings: &Backtest, outcome: &Outcome, day: Day) -> HoldingsAt {
    backtest::holdings_at(&ctx.engine, settings, outcome, day)
}

/// Whom each decision of a backtest had to choose from, by symbol.
///
/// # Errors
/// When it cannot be run.
pub fn candidates_here(ctx: &Ctx, settings: &Backtest) -> Result<Vec<(Day, Vec<String>)>, AppError> {
    let screen = screen_of(ctx, &settings.screen)?;
    Ok(backtest::candidates(&ctx.engine, settings, &screen)?)
}

//! Asks for a backtest.

use super::{
    kept::{BacktestEntry, entry, kept},
    screen::screen_of,
    work::{CALIBRATION, Wanted, work_on_backtests},
};
use crate::{AppError, Ctx, names::check_name, people::room_for_a_backtest};
use artemon_core::{
    backtest::{self, Backtest, Benchmark, Exit, ScreenRef, Weights},
    screening::Screen,
};
use serde::Deserialize;
use utoipa::ToSchema;

/// Years that a proposed backtest goes back, and the years of data before them that measures look at.
const YEARS: i32 = 15;
const YEARS_BEFORE: i32 = 5;
/// How many a proposed backtest holds, every so many months, at what cost.
const TOP: usize = 20;
const EVERY: u32 = 3;
const COST_BPS: f64 = 20.0;
/// The longest name.
const LONGEST_NAME: usize = 80;

/// A backtest to be run.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AskBacktest {
    /// What it is called in the list; the screen's name when absent.
    #[serde(default)]
    pub name: String,
    /// Its document.
    pub settings: Backtest,
}

/// A screen for which settings are wanted.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ProposeBacktest {
    /// The screen.
    pub screen: ScreenRef,
    /// What is picked by, where it is no screen's order.
    #[serde(default)]
    pub by: Option<String>,
}

/// Asks for a backtest, which is then worked on in the background.
///
/// # Errors
/// When it cannot be run: settings that cannot be meant, dates without data, a screen with a mistake.
pub fn ask_backtest(ctx: &Ctx, asked: &AskBacktest) -> Result<BacktestEntry, AppError> {
    room_for_a_backtest(ctx)?;
    let screen = screen_of(ctx, &asked.settings.screen)?;
    backtest::check(&ctx.engine, &asked.settings, &screen)?;
    let name = named(&asked.name, &screen)?;
    let settings = Backtest { screen: ScreenRef::Document(Box::new(Screen { as_of: None, ..screen.clone() })), ..asked.settings.clone() };
    let body = serde_json::to_string(&settings).unwrap_or_default();
    let id = ctx.home.people.ask_backtest(&ctx.person, &name, &screen.name, &body)?;
    work_on_backtests(&ctx.home);
    entry(kept(ctx, &id)?)
}

/// What a backtest is called.
pub(super) fn named(asked: &str, screen: &Screen) -> Result<String, AppError> {
    let name = if asked.trim().is_empty() { screen.name.trim() } else { asked.trim() };
    let name = if name.is_empty() { "Unnamed screen" } else { name };
    check_name(name, LONGEST_NAME).map_err(|problem| AppError::Unusable { what: "The name".to_owned(), problem })?;
    Ok(name.to_owned())
}

/// Asks for the variants of a backtest that is done: with one thing changed at a time.
///
/// # Errors
/// When there is none, or it has no outcome.
pub fn try_variants(ctx: &Ctx, id: &str) -> Result<BacktestEntry, AppError> {
    let found = kept(ctx, id)?;
    if found.summary.is_none() {
        let problem = "it has no outcome yet; wait for it".to_owned();
        return Err(AppError::Unusable { what: "The backtest".to_owned(), problem });
    }
    ctx.home.workshop.want(&ctx.person, Wanted::Variants(id.to_owned()));
    work_on_backtests(&ctx.home);
    entry(found)
}

/// Sensible settings for a screen: the last fifteen years as far as the data go back and five years before them, its first twenty in equal
/// parts every three months, against its universe.
///
/// # Errors
/// A screen that is not there; an empty dataset.
pub fn propose_backtest(ctx: &Ctx, asked: &ProposeBacktest) -> Result<Backtest, AppError> {
    let screen = screen_of(ctx, &asked.screen)?;
    let (first, last) = ctx.snapshot().sessions().ok_or(AppError::Empty)?;
    let earliest = first.plus_months(12 * YEARS_BEFORE).max(last.plus_months(-12 * YEARS));
    // Of few years of data those that there are.
    let from = if earliest < last.plus_months(-24) { earliest } else { first };
    Ok(Backtest {
        package: None,
        screen: ScreenRef::Document(Box::new(Screen { as_of: None, ..screen })),
        from: from.month_end(),
        to: last,
        every: EVERY,
        top: Some(TOP),
        by: asked.by.clone(),
        descending: true,
        weights: Weights::Equal,
        max_weight: None,
        cost_bps: COST_BPS,
        base: ctx.settings().base,
        benchmark: Benchmark::UniverseEqual,
        exit: Exit::Rebalance,
        seed: 1,
    })
}

/// Asks for the record of the values to be worked out.
///
/// # Errors
/// An empty dataset.
pub fn ask_values_record(ctx: &Ctx) -> Result<(), AppError> {
    ctx.date(None)?;
    ctx.home.workshop.want(&ctx.person, Wanted::Calibration);
    work_on_backtests(&ctx.home);
    Ok(())
}

/// Ends the work on it.
pub fn give_up_values_record(ctx: &Ctx) {
    ctx.home.workshop.do_without(&Wanted::Calibration);
    ctx.home.workshop.give_up(&ctx.person, CALIBRATION);
}

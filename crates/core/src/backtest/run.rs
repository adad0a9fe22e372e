//! Runs a backtest.

use super::{
    BacktestError,
    calendar::Calendar,
    decide::Chooser,
    document::{Backtest, Benchmark},
    luck::{DRAWS, Luck, bootstrap},
    outcome::Outcome,
    report,
    statistics::monthly,
    tested::{Progress, Tested},
};
use crate::{domain::Day, engine::Context, index_levels::index_levels, screening::Screen};

/// Runs a backtest of a screen under the context's settings, in the backtest's base currency.
///
/// # Errors
/// Settings that cannot be meant; dates without data; a universe that cannot be formed, or nobody in it; a formula with a mistake; an
/// index that is not there, or has no level by the first day.
pub fn run(context: &Context, settings: &Backtest, screen: &Screen, progress: &mut dyn FnMut(Progress)) -> Result<Outcome, BacktestError> {
    let tested = Tested::new(context, settings, screen, progress)?;
    let (benchmark, index) = tested.benchmark()?;
    let story = tested.account();
    progress(Progress::Drawing);
    let sizes: Vec<usize> = story.portfolios.iter().map(Vec::len).collect();
    let luck = Luck::drawn(settings, &tested.decisions, &tested.field, &sizes, DRAWS);
    let ends = tested.calendar.month_ends();
    let pairs: Vec<(f64, f64)> = monthly(&story.curve, &ends).into_iter().zip(monthly(&benchmark, &ends)).collect();
    let interval = bootstrap(&pairs, DRAWS, settings.seed);
    Ok(report::outcome(&tested, story, &benchmark, index, &luck, interval))
}

/// Refuses what cannot be run, before anything is computed.
///
/// # Errors
/// As [`run`], but for what only the figures show.
pub fn check(context: &Context, settings: &Backtest, screen: &Screen) -> Result<(), BacktestError> {
    settings.check()?;
    let calendar = Calendar::of(context.snapshot(), settings)?;
    Chooser::new(context, settings, screen)?;
    if let Benchmark::Index(id) = &settings.benchmark {
        let level = index_levels(context, id, &calendar.sessions[..1]).ok_or_else(|| BacktestError::NoIndex(id.clone()))?;
        if level[0].is_none() {
            return Err(BacktestError::NoLevel { index: id.clone(), day: calendar.sessions[0] });
        }
    }
    Ok(())
}

/// Whom each decision of a backtest had to choose from, by symbol.
///
/// # Errors
/// As [`run`].
pub fn candidates(context: &Context, settings: &Backtest, screen: &Screen) -> Result<Vec<(Day, Vec<String>)>, BacktestError> {
    let tested = Tested::new(context, settings, screen, &mut |_| {})?;
    let symbol = |i: &u32| context.snapshot().symbol(*i).to_owned();
    Ok(tested.decisions.iter().map(|d| (d.day, d.candidates().iter().map(symbol).collect())).collect())
}

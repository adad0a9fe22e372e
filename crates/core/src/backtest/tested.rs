//! What a backtest rests on: its days, who was chosen on them, and what became of everybody who could have been.

use super::{
    BacktestError,
    account::{Account, Story},
    calendar::Calendar,
    decide::{Among, Chooser, Decision},
    document::{Backtest, Benchmark},
    exits::Exits,
    field::Field,
    priced::Prices,
};
use crate::{
    domain::Day,
    engine::{Context, Settings},
    formula::Fingerprint,
    index_levels::{index_levels, is_derived},
    panel::CompanyIndex,
    screening::Screen,
};
use std::{hash::Hasher, sync::Arc};

/// How far a backtest has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Progress {
    /// So many of so many decisions are taken.
    Decided(usize, usize),
    /// The prices of all candidates are followed.
    Following,
    /// Random portfolios are drawn.
    Drawing,
}

/// The index that a backtest is compared with.
pub(super) struct IndexUsed {
    pub(super) id: String,
    pub(super) derived: bool,
}

/// A backtest with all that its days have in common.
pub(super) struct Tested<'r> {
    pub(super) context: Context,
    pub(super) settings: &'r Backtest,
    pub(super) calendar: Calendar,
    pub(super) decisions: Vec<Arc<Decision>>,
    pub(super) field: Arc<Field>,
}

impl<'r> Tested<'r> {
    pub(super) fn new(
        context: &Context,
        settings: &'r Backtest,
        screen: &Screen,
        progress: &mut dyn FnMut(Progress),
    ) -> Result<Tested<'r>, BacktestError> {
        settings.check()?;
        let context = context.with(Settings { base: settings.base, ..context.settings().clone() });
        let calendar = Calendar::of(context.snapshot(), settings)?;
        let chooser = Chooser::new(&context, settings, screen)?;
        let decisions = decisions(&context, &chooser, &calendar, progress)?;
        progress(Progress::Following);
        let among: Vec<Arc<Among>> = decisions.iter().map(|d| d.among.clone()).collect();
        let field = field(&context, &calendar, &among);
        Ok(Tested { context, settings, calendar, decisions, field })
    }

    /// The value of the benchmark by session, 1 at the first, and the index that it is.
    pub(super) fn benchmark(&self) -> Result<(Vec<f64>, Option<IndexUsed>), BacktestError> {
        match &self.settings.benchmark {
            Benchmark::UniverseEqual => Ok((self.field.equal.clone(), None)),
            Benchmark::UniverseCap => Ok((self.field.cap.clone(), None)),
            Benchmark::Index(id) => {
                let sessions = &self.calendar.sessions;
                let levels = index_levels(&self.context, id, sessions).ok_or_else(|| BacktestError::NoIndex(id.clone()))?;
                let without = || BacktestError::NoLevel { index: id.clone(), day: sessions[0] };
                let levels: Vec<f64> = levels.into_iter().map(|level| level.ok_or_else(without)).collect::<Result<_, _>>()?;
                let used = IndexUsed { id: id.clone(), derived: is_derived(&self.context, id) };
                Ok((levels.iter().map(|level| level / levels[0]).collect(), Some(used)))
            }
        }
    }

    pub(super) fn account(&self) -> Story {
        let among = self.decisions.iter().map(|d| &d.among);
        let prices = Prices::new(self.context.as_of(self.last_day()), &self.calendar, &everybody(among));
        let exits = Exits::new(&self.context, &self.calendar);
        Account::new(self.settings, &self.calendar, &self.decisions, &prices, exits).run()
    }

    pub(super) fn last_day(&self) -> Day {
        self.calendar.sessions[self.calendar.last()]
    }
}

/// The decisions of all rebalances. Nobody among whom to choose on any of them is refused.
pub(super) fn decisions(
    context: &Context,
    chooser: &Chooser,
    calendar: &Calendar,
    progress: &mut dyn FnMut(Progress),
) -> Result<Vec<Arc<Decision>>, BacktestError> {
    let (apart, all) = (context.apart(), calendar.rebalances.len());
    let days: Vec<Day> = calendar.rebalances.iter().map(|r| calendar.sessions[r.decision]).collect();
    let mut out = Vec::with_capacity(all);
    // The oldest first: own histories are then made far enough back for all.
    for some in days.chunks(Context::days_together(chooser.formulas())) {
        progress(Progress::Decided(out.len(), all));
        let missing: Vec<Day> = some.iter().copied().filter(|day| !chooser.has_decided(context, *day)).collect();
        apart.prepare_days(&missing, chooser.formulas());
        for day in some {
            context.cancel().check();
            progress(Progress::Decided(out.len(), all));
            out.push(chooser.decision(context, &apart, *day)?);
        }
    }
    if out.iter().all(|d| d.candidates().is_empty()) {
        return Err(BacktestError::Nobody);
    }
    Ok(out)
}

/// All candidates, each once.
fn everybody<'a>(among: impl Iterator<Item = &'a Arc<Among>>) -> Vec<CompanyIndex> {
    let mut all: Vec<CompanyIndex> = among.flat_map(|a| a.candidates.iter().copied()).collect();
    all.sort_unstable();
    all.dedup();
    all
}

/// Many numbers as one.
fn hashed(numbers: impl Iterator<Item = u32>) -> u64 {
    let mut hash = rustc_hash::FxHasher::default();
    numbers.for_each(|n| hash.write_u32(n));
    hash.finish()
}

/// What became of all candidates, kept: it depends on who they are, and not on what is held.
pub(super) fn field(context: &Context, calendar: &Calendar, among: &[Arc<Among>]) -> Arc<Field> {
    let last = calendar.sessions[calendar.last()];
    let sizes: Vec<usize> = among.iter().map(|a| a.candidates.len()).collect();
    let told = (&calendar.rebalances, calendar.sessions[0], sizes, hashed(among.iter().flat_map(|a| a.candidates.iter().copied())));
    context.of_day::<Field>(last, Fingerprint::of(&told), || {
        let prices = Prices::new(context.as_of(last), calendar, &everybody(among.iter()));
        Field::new(&prices, calendar, among, &|| context.cancel().check())
    })
}

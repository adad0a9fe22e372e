//! Works on backtests, one after the other: what waits goes on waiting over a restart, and begins again then.

use super::{
    kept::{BacktestState, ended, kept, settings_of, summary},
    record::work_out,
    screen::screen_of,
};
use crate::{AppError, Ctx, Home};
use artemon_core::{
    backtest::{self, Progress},
    engine::{Cancel, Cancelled},
};
use artemon_store::{EndedBacktest, KeptBacktest, PersonId};
use serde::Serialize;
use std::{
    panic::{AssertUnwindSafe, catch_unwind},
    sync::{
        Arc, Mutex, MutexGuard, PoisonError,
        atomic::{AtomicBool, Ordering},
    },
};
use tokio::sync::watch;
use utoipa::ToSchema;

/// The share of the work that is done when all decisions are taken, and when prices are followed.
const DECIDED: f64 = 0.9;
const FOLLOWED: f64 = 0.95;

/// A backtest that is being worked on.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct RunningBacktest {
    #[allow(missing_docs)]
    pub id: String,
    /// How much is done, 0 to 1.
    pub share: f64,
    /// What is being done, in words.
    pub doing: String,
}

/// Work that is asked for again after a restart.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum Wanted {
    /// The variants of a backtest.
    Variants(String),
    /// The record of the values.
    Calibration,
}

/// By what the work on the record of the values is known among what runs.
pub(crate) const CALIBRATION: &str = "calibration";

#[derive(Debug)]
struct Current {
    person: PersonId,
    running: RunningBacktest,
    cancel: Cancel,
}

/// What is being worked on, and who hears of it.
#[derive(Debug, Default)]
pub(crate) struct Workshop {
    /// Held by the one that works.
    working: Mutex<()>,
    /// Whether another waits to work after it: a third would find nothing that these do not.
    waiting: AtomicBool,
    current: Mutex<Option<Current>>,
    /// What is wanted beside backtests that wait.
    wanted: Mutex<Vec<(PersonId, Wanted)>>,
    changed: Changed,
}

#[derive(Debug)]
struct Changed(watch::Sender<u64>);

impl Default for Changed {
    fn default() -> Changed {
        Changed(watch::Sender::new(0))
    }
}

pub(super) fn held<T>(of: &Mutex<T>) -> MutexGuard<'_, T> {
    of.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Workshop {
    /// Takes back what is wanted.
    pub(super) fn do_without(&self, what: &Wanted) {
        held(&self.wanted).retain(|wanted| wanted.1 != *what);
    }

    pub(crate) fn want(&self, person: &PersonId, what: Wanted) {
        let wanted = (person.clone(), what);
        let mut all = held(&self.wanted);
        if !all.contains(&wanted) {
            all.push(wanted);
        }
    }

    fn tell(&self) {
        self.changed.0.send_modify(|n| *n += 1);
    }

    fn begin(&self, person: &PersonId, id: &str, cancel: &Cancel) {
        let running = RunningBacktest { id: id.to_owned(), share: 0.0, doing: "begins".to_owned() };
        *held(&self.current) = Some(Current { person: person.clone(), running, cancel: cancel.clone() });
        self.tell();
    }

    fn went_on(&self, share: f64, doing: String) {
        if let Some(current) = &mut *held(&self.current) {
            (current.running.share, current.running.doing) = (share, doing);
        }
        self.tell();
    }

    /// Ends what runs, if it is this.
    pub(crate) fn give_up(&self, person: &PersonId, id: &str) {
        if let Some(current) = held(&self.current).as_ref().filter(|c| c.running.id == id && c.person == *person) {
            current.cancel.cancel();
        }
        self.tell();
    }

    /// Ends whatever runs of a person, and wants nothing of theirs any more.
    pub(crate) fn give_up_all(&self, person: &PersonId) {
        held(&self.wanted).retain(|wanted| wanted.0 != *person);
        if let Some(current) = held(&self.current).as_ref().filter(|c| c.person == *person) {
            current.cancel.cancel();
        }
        self.tell();
    }

    fn end(&self) {
        *held(&self.current) = None;
        self.tell();
    }
}

/// Works on all that waits, in the background; of nothing no thread begins.
pub fn work_on_backtests(home: &Arc<Home>) {
    if matches!(home.people.next_backtest(), Ok(None)) && held(&home.workshop.wanted).is_empty() {
        return;
    }
    if home.workshop.waiting.swap(true, Ordering::SeqCst) {
        return;
    }
    let home = home.clone();
    std::thread::spawn(move || {
        let _working = held(&home.workshop.working);
        // From here on it looks; who asks later needs another.
        home.workshop.waiting.store(false, Ordering::SeqCst);
        loop {
            match home.people.next_backtest() {
                Ok(Some((person, kept))) => work_on(&home, &person, &kept),
                Ok(None) => {
                    let next = held(&home.workshop.wanted).pop();
                    match next {
                        Some((person, Wanted::Variants(id))) => work_on_variants(&home, &person, &id),
                        Some((person, Wanted::Calibration)) => work_on_calibration(&home, &person),
                        None => return,
                    }
                }
                Err(e) => return tracing::warn!("backtests cannot be read: {e}"),
            }
        }
    });
}

/// What became of a piece of work.
enum Came<T> {
    To(T),
    Refused(String),
    Cancelled,
    Broken,
}

/// Runs a piece of work for a person, which may be cancelled and may fail without taking the others with it.
fn attempt<T>(home: &Arc<Home>, person: &PersonId, id: &str, work: impl FnOnce(&Ctx) -> Result<T, AppError>) -> Came<T> {
    let cancel = Cancel::default();
    home.workshop.begin(person, id, &cancel);
    let run = || home.ctx(person, cancel).and_then(|ctx| work(&ctx));
    let came = match catch_unwind(AssertUnwindSafe(|| Cancelled::caught(run))) {
        Ok(Ok(Ok(done))) => Came::To(done),
        Ok(Ok(Err(e))) => Came::Refused(e.to_string()),
        Ok(Err(Cancelled)) => Came::Cancelled,
        Err(_) => Came::Broken,
    };
    home.workshop.end();
    came
}

fn work_on(home: &Arc<Home>, person: &PersonId, kept: &KeptBacktest) {
    let worked = attempt(home, person, &kept.id, |ctx| {
        let settings = settings_of(kept)?;
        let screen = screen_of(ctx, &settings.screen)?;
        let mut progress = |p: Progress| {
            let (share, doing) = said(p);
            home.workshop.went_on(share, doing);
        };
        let outcome = backtest::run(&ctx.engine, &settings, &screen, &mut progress)?;
        let (short, whole) = (serde_json::to_string(&summary(&outcome)), serde_json::to_string(&outcome));
        Ok((short.unwrap_or_default(), whole.unwrap_or_default(), ctx.dataset.fingerprint(), ctx.settings().assumptions.label()))
    });
    let over = match &worked {
        Came::To((short, whole, dataset, assumptions)) => {
            EndedBacktest { dataset, assumptions, summary: Some(short), outcome: Some(whole), ..ended(BacktestState::Done, "") }
        }
        Came::Refused(message) => ended(BacktestState::Refused, message),
        Came::Cancelled => ended(BacktestState::Cancelled, ""),
        Came::Broken => {
            let message = "It broke off by a fault of the product. Try it again; if it fails again, with other settings.";
            ended(BacktestState::Failed, message)
        }
    };
    if let Err(e) = home.people.end_backtest(person, &kept.id, &over) {
        tracing::warn!("the outcome of a backtest cannot be kept: {e}");
        // It would otherwise be tried for ever.
        home.people.end_backtest(person, &kept.id, &ended(BacktestState::Failed, &e.to_string())).ok();
    }
    home.workshop.tell();
}

fn work_on_variants(home: &Arc<Home>, person: &PersonId, id: &str) {
    let worked = attempt(home, person, id, |ctx| {
        let settings = settings_of(&kept(ctx, id)?)?;
        let screen = screen_of(ctx, &settings.screen)?;
        let mut progress = |done: usize, all: usize| {
            home.workshop.went_on(done as f64 / all as f64, format!("variant {} of {all}", done + 1));
        };
        Ok(backtest::variants(&ctx.engine, &settings, &screen, &mut progress)?)
    });
    if let Came::To(variants) = worked {
        let text = serde_json::to_string(&variants).unwrap_or_default();
        if let Err(e) = home.people.keep_variants(person, id, &text) {
            tracing::warn!("the variants of a backtest cannot be kept: {e}");
        }
    }
    home.workshop.tell();
}

fn work_on_calibration(home: &Arc<Home>, person: &PersonId) {
    let worked = attempt(home, person, CALIBRATION, |ctx| {
        work_out(ctx, &mut |share| home.workshop.went_on(share, "following what became of past values".to_owned()))
    });
    if let Came::Refused(e) = worked {
        tracing::warn!("the record of the values cannot be kept: {e}");
    }
    home.workshop.tell();
}

fn said(progress: Progress) -> (f64, String) {
    match progress {
        Progress::Decided(done, all) => (DECIDED * done as f64 / all as f64, format!("decision {} of {all}", done + 1)),
        Progress::Following => (DECIDED, "following prices".to_owned()),
        Progress::Drawing => (FOLLOWED, "drawing random portfolios".to_owned()),
    }
}

/// The person's backtests that are being worked on.
#[must_use]
pub fn running_backtests(ctx: &Ctx) -> Vec<RunningBacktest> {
    let current = held(&ctx.home.workshop.current);
    current.iter().filter(|c| c.person == ctx.person).map(|c| c.running.clone()).collect()
}

/// Hears whenever a backtest goes on or ends.
#[must_use]
pub fn backtest_changes(ctx: &Ctx) -> watch::Receiver<u64> {
    ctx.home.workshop.changed.0.subscribe()
}

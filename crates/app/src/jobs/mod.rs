//! Imports that run while the server goes on answering: progress, cancelling, what became of them.

use crate::dataset::import::report::ImportReport;
use serde::Serialize;
use std::{
    collections::BTreeMap,
    sync::{Mutex, PoisonError},
};
use tokio::sync::watch;
use utoipa::ToSchema;

/// Jobs remembered; older ones are forgotten (their reports are kept in the store).
const REMEMBERED: usize = 20;

/// How a job stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum JobState {
    Running,
    /// All rows are read and stored; the figures are being made anew.
    Done,
    /// The data was refused; nothing was taken.
    Refused,
    Cancelled,
}

/// A job as it stands.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct JobInfo {
    pub id: u64,
    pub title: String,
    pub state: JobState,
    /// Rows read so far.
    pub rows: u64,
    /// Share of the bytes read so far.
    pub share: f64,
    pub rows_per_second: f64,
    /// The table being read.
    pub table: String,
    /// What went wrong, as a sentence.
    pub message: String,
    pub report: Option<ImportReport>,
}

#[derive(Debug)]
struct Job {
    info: JobInfo,
    cancelled: bool,
}

/// All jobs of this run of the program.
#[derive(Debug)]
pub(crate) struct Jobs {
    all: Mutex<BTreeMap<u64, Job>>,
    changed: watch::Sender<u64>,
}

impl Default for Jobs {
    fn default() -> Jobs {
        Jobs { all: Mutex::default(), changed: watch::Sender::new(0) }
    }
}

impl Jobs {
    fn with<T>(&self, work: impl FnOnce(&mut BTreeMap<u64, Job>) -> T) -> T {
        let done = work(&mut self.all.lock().unwrap_or_else(PoisonError::into_inner));
        self.changed.send_modify(|n| *n += 1);
        done
    }

    pub(crate) fn change(&self, id: u64, change: impl FnOnce(&mut JobInfo)) {
        self.with(|all| all.get_mut(&id).map(|job| change(&mut job.info)));
    }

    /// Begins a job, unless one is running: then the title of that one.
    pub(crate) fn begin(&self, title: &str) -> Result<JobInfo, String> {
        self.with(|all| {
            if let Some(running) = all.values().find(|j| j.info.state == JobState::Running) {
                return Err(running.info.title.clone());
            }
            let id = all.keys().last().map_or(1, |last| last + 1);
            let info = JobInfo {
                id,
                title: title.to_owned(),
                state: JobState::Running,
                rows: 0,
                share: 0.0,
                rows_per_second: 0.0,
                table: String::new(),
                message: String::new(),
                report: None,
            };
            all.insert(id, Job { info: info.clone(), cancelled: false });
            while all.len() > REMEMBERED {
                all.pop_first();
            }
            Ok(info)
        })
    }

    /// All, newest first.
    pub(crate) fn list(&self) -> Vec<JobInfo> {
        self.read(|all| all.values().rev().map(|j| j.info.clone()).collect())
    }

    /// Hears of every change.
    pub(crate) fn changes(&self) -> watch::Receiver<u64> {
        self.changed.subscribe()
    }

    /// Asks a job to end.
    pub(crate) fn cancel(&self, id: u64) -> bool {
        self.with(|all| all.get_mut(&id).map(|j| j.cancelled = true).is_some())
    }

    pub(crate) fn is_cancelled(&self, id: u64) -> bool {
        self.read(|all| all.get(&id).is_some_and(|j| j.cancelled))
    }

    fn read<T>(&self, look: impl FnOnce(&BTreeMap<u64, Job>) -> T) -> T {
        look(&self.all.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

//! Imports that run while the server goes on answering: progress, cancelling, what became of them.

use crate::dataset::import::report::ImportReport;
use artemon_store::PersonId;
use serde::Serialize;
use std::sync::{Mutex, PoisonError};
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
    pub id: String,
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
    person: PersonId,
    info: JobInfo,
    cancelled: bool,
}

/// All jobs of this run of the program, the oldest first.
#[derive(Debug)]
pub(crate) struct Jobs {
    all: Mutex<Vec<Job>>,
    changed: watch::Sender<u64>,
}

impl Default for Jobs {
    fn default() -> Jobs {
        Jobs { all: Mutex::default(), changed: watch::Sender::new(0) }
    }
}

impl Jobs {
    fn with<T>(&self, work: impl FnOnce(&mut Vec<Job>) -> T) -> T {
        let done = work(&mut self.all.lock().unwrap_or_else(PoisonError::into_inner));
        self.changed.send_modify(|n| *n += 1);
        done
    }

    pub(crate) fn change(&self, id: &str, change: impl FnOnce(&mut JobInfo)) {
        self.with(|all| all.iter_mut().find(|job| job.info.id == id).map(|job| change(&mut job.info)));
    }

    /// Begins a job of a person, unless one is running: then what it is called, where it is theirs.
    pub(crate) fn begin(&self, person: &PersonId, title: &str) -> Result<JobInfo, Option<String>> {
        self.with(|all| {
            if let Some(running) = all.iter().find(|j| j.info.state == JobState::Running) {
                return Err((running.person == *person).then(|| running.info.title.clone()));
            }
            let info = JobInfo {
                id: uuid::Uuid::new_v4().to_string(),
                title: title.to_owned(),
                state: JobState::Running,
                rows: 0,
                share: 0.0,
                rows_per_second: 0.0,
                table: String::new(),
                message: String::new(),
                report: None,
            };
            all.push(Job { person: person.clone(), info: info.clone(), cancelled: false });
            let too_many = all.len().saturating_sub(REMEMBERED);
            all.drain(..too_many);
            Ok(info)
        })
    }

    /// Those of a person, newest first.
    pub(crate) fn list(&self, person: &PersonId) -> Vec<JobInfo> {
        self.read(|all| all.iter().rev().filter(|j| j.person == *person).map(|j| j.info.clone()).collect())
    }

    /// Hears of every change.
    pub(crate) fn changes(&self) -> watch::Receiver<u64> {
        self.changed.subscribe()
    }

    /// Asks a job of a person to end.
    pub(crate) fn cancel(&self, person: &PersonId, id: &str) -> bool {
        self.with(|all| all.iter_mut().find(|j| j.info.id == id && j.person == *person).map(|j| j.cancelled = true).is_some())
    }

    pub(crate) fn is_cancelled(&self, id: &str) -> bool {
        self.read(|all| all.iter().any(|j| j.info.id == id && j.cancelled))
    }

    fn read<T>(&self, look: impl FnOnce(&[Job]) -> T) -> T {
        look(&self.all.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

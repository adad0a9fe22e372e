//! Imports that run while the server goes on answering: progress, cancelling, what became of them.

use crate::{App, AppError, ImportReport, ImportRequest, Source};
use artemon_formats::{Progress, ReadError};
use serde::Serialize;
use std::{
    collections::BTreeMap,
    ops::ControlFlow,
    path::PathBuf,
    sync::{
        Arc, Mutex, PoisonError,
        atomic::{AtomicBool, Ordering},
    },
    time::Instant,
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
    cancel: Arc<AtomicBool>,
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

    fn change(&self, id: u64, change: impl FnOnce(&mut JobInfo)) {
        self.with(|all| all.get_mut(&id).map(|job| change(&mut job.info)));
    }

    fn read<T>(&self, look: impl FnOnce(&BTreeMap<u64, Job>) -> T) -> T {
        look(&self.all.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

impl App {
    /// The jobs of this run, newest first.
    #[must_use]
    pub fn jobs(&self) -> Vec<JobInfo> {
        self.jobs.read(|all| all.values().rev().map(|j| j.info.clone()).collect())
    }

    /// Hears of every change of a job.
    #[must_use]
    pub fn job_changes(&self) -> watch::Receiver<u64> {
        self.jobs.changed.subscribe()
    }

    /// Asks a job to end; what it did so far is undone.
    #[must_use]
    pub fn cancel_job(&self, id: u64) -> bool {
        self.jobs.read(|all| all.get(&id).map(|j| j.cancel.store(true, Ordering::Relaxed)).is_some())
    }

    /// Starts an import on a thread of its own. `staged` is removed when it has ended.
    ///
    /// # Errors
    /// When another import is running.
    pub fn start_import(self: &Arc<App>, request: ImportRequest, staged: Option<PathBuf>) -> Result<JobInfo, AppError> {
        let cancel = Arc::new(AtomicBool::new(false));
        let info = self.jobs.with(|all| {
            if let Some(running) = all.values().find(|j| j.info.state == JobState::Running) {
                let problem = format!("\"{}\" is still being imported; wait for it or cancel it", running.info.title);
                return Err(AppError::Unusable { what: "The import".to_owned(), problem });
            }
            let id = all.keys().last().map_or(1, |last| last + 1);
            let info = JobInfo {
                id,
                title: request.title.clone(),
                state: JobState::Running,
                rows: 0,
                share: 0.0,
                rows_per_second: 0.0,
                table: String::new(),
                message: String::new(),
                report: None,
            };
            all.insert(id, Job { info: info.clone(), cancel: cancel.clone() });
            while all.len() > REMEMBERED {
                all.pop_first();
            }
            Ok(info)
        })?;
        let (app, id) = (self.clone(), info.id);
        std::thread::spawn(move || {
            app.run_import(id, &request, &cancel);
            if let Some(folder) = staged {
                std::fs::remove_dir_all(folder).ok();
            }
        });
        Ok(info)
    }

    fn run_import(&self, id: u64, request: &ImportRequest, cancel: &AtomicBool) {
        let started = Instant::now();
        let watch = |p: Progress| {
            self.jobs.change(id, |info| {
                info.rows = p.rows;
                info.share = p.bytes as f64 / (p.bytes_in_all.max(1)) as f64;
                info.rows_per_second = p.rows as f64 / started.elapsed().as_secs_f64().max(0.001);
                p.table.code().clone_into(&mut info.table);
            });
            if cancel.load(Ordering::Relaxed) { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }
        };
        let done = self.import(request, &watch);
        self.jobs.change(id, |info| match done {
            Ok(report) => {
                info.rows = report.rows + report.bad_rows;
                info.share = 1.0;
                info.state = JobState::Done;
                info.report = Some(report);
            }
            Err(AppError::Read(ReadError::Cancelled)) => {
                info.state = JobState::Cancelled;
                info.message = ReadError::Cancelled.to_string();
            }
            Err(e) => {
                info.state = JobState::Refused;
                info.message = e.to_string();
                if let AppError::BadRows(report) = e {
                    info.report = Some((*report).into());
                }
            }
        });
    }
}

impl Source {
    /// The file or folder.
    #[must_use]
    pub const fn path(&self) -> &PathBuf {
        match self {
            Source::Package(path) | Source::Csv(path, _) => path,
        }
    }
}

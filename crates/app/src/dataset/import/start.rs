//! Imports that run while the server goes on answering.

use super::{report::ImportRequest, run::import_here};
use crate::{
    AppError, Ctx,
    jobs::{JobInfo, JobState},
    people::noted,
};
use artemon_core::engine::Cancel;
use artemon_formats::{Progress, ReadError};
use std::{ops::ControlFlow, path::PathBuf, time::Instant};
use tokio::sync::watch;

/// Starts an import on a thread of its own. `staged` is removed when it has ended.
///
/// # Errors
/// When another import is running.
pub fn start_import(ctx: &Ctx, request: ImportRequest, staged: Option<PathBuf>) -> Result<JobInfo, AppError> {
    let busy = |running: Option<String>| AppError::Unusable {
        what: "The import".to_owned(),
        problem: match running {
            Some(running) => format!("\"{running}\" is still being imported; wait for it or cancel it"),
            None => "somebody else imports at this moment; wait until that has ended".to_owned(),
        },
    };
    // Not given up when the request that began it is answered.
    let ctx = ctx.home.ctx(&ctx.person, Cancel::default())?.asked_from(ctx.visitor.clone());
    let info = ctx.home.jobs.begin(&ctx.person, &request.title).map_err(busy)?;
    noted(&ctx, "imported", &request.title)?;
    let id = info.id.clone();
    std::thread::spawn(move || {
        run(&ctx, &id, &request);
        if let Some(folder) = staged {
            std::fs::remove_dir_all(folder).ok();
        }
    });
    Ok(info)
}

fn run(ctx: &Ctx, id: &str, request: &ImportRequest) {
    let (jobs, started) = (&ctx.home.jobs, Instant::now());
    let watch = |p: Progress| {
        jobs.change(id, |info| {
            info.rows = p.rows;
            info.share = p.bytes as f64 / (p.bytes_in_all.max(1)) as f64;
            info.rows_per_second = p.rows as f64 / started.elapsed().as_secs_f64().max(0.001);
            p.table.code().clone_into(&mut info.table);
        });
        if jobs.is_cancelled(id) { ControlFlow::Break(()) } else { ControlFlow::Continue(()) }
    };
    let done = import_here(ctx, request, &watch);
    jobs.change(id, |info| match done {
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

/// The caller's jobs of this run, newest first.
#[must_use]
pub fn jobs(ctx: &Ctx) -> Vec<JobInfo> {
    ctx.home.jobs.list(&ctx.person)
}

/// Hears of every change of a job.
#[must_use]
pub fn job_changes(ctx: &Ctx) -> watch::Receiver<u64> {
    ctx.home.jobs.changes()
}

/// Asks a job to end; what it did so far is undone.
///
/// # Errors
/// When there is none.
pub fn cancel_job(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    if ctx.home.jobs.cancel(&ctx.person, id) { Ok(()) } else { Err(AppError::Missing { what: "This import".to_owned() }) }
}

//! A folder into which scripts put packages: `incoming` in the data folder.
//!
//! A script writes `NAME.lock`, then `NAME`, and removes the lock when it has finished; or it writes `NAME.part` and renames it. What is
//! locked, half-written or hidden is left alone. What was taken moves to `incoming/taken`; what was refused moves to `incoming/refused`
//! with a report beside it.

use crate::{
    AppError, Ctx, Home,
    dataset::import::{Choices, ImportRequest, import_here, plan},
};
use artemon_core::engine::Cancel;
use std::{
    fs, io,
    ops::ControlFlow,
    path::{Path, PathBuf},
    sync::Arc,
};

const INCOMING: &str = "incoming";
const TAKEN: &str = "taken";
const REFUSED: &str = "refused";

/// Takes what lies ready in the folder, by name; says how many packages and tables were taken. There is no folder until somebody makes
/// it.
///
/// # Errors
/// When the folder cannot be read, or what was taken cannot be moved.
pub fn take_incoming(home: &Arc<Home>) -> Result<usize, AppError> {
    let folder = home.folder().join(INCOMING);
    let mut taken = 0;
    for path in ready(&folder).map_err(|e| failed(&folder, &e))? {
        let ctx = home.ctx(&home.local(), Cancel::default())?;
        let outcome = take(&ctx, &path);
        taken += usize::from(outcome.is_ok());
        let aside = folder.join(if outcome.is_ok() { TAKEN } else { REFUSED });
        put_aside(&path, &aside, outcome.err()).map_err(|e| failed(&path, &e))?;
    }
    Ok(taken)
}

fn failed(path: &Path, e: &io::Error) -> AppError {
    AppError::Unusable { what: path.display().to_string(), problem: e.to_string() }
}

/// What lies in the folder and is whole, by name.
fn ready(folder: &Path) -> io::Result<Vec<PathBuf>> {
    let entries = match fs::read_dir(folder) {
        Err(e) if e.kind() == io::ErrorKind::NotFound => return Ok(Vec::new()),
        entries => entries?,
    };
    let mut all: Vec<PathBuf> = entries.filter_map(|e| Some(e.ok()?.path())).filter(|p| is_ready(p)).collect();
    all.sort();
    Ok(all)
}

fn is_ready(path: &Path) -> bool {
    let Some(name) = path.file_name().and_then(|n| n.to_str()) else { return false };
    let aside = name == TAKEN || name == REFUSED || name.starts_with('.');
    let half = [".lock", ".part", ".tmp"].iter().any(|ending| name.ends_with(ending));
    !aside && !half && !path.with_file_name(format!("{name}.lock")).exists()
}

fn take(ctx: &Ctx, path: &Path) -> Result<(), AppError> {
    let (sources, _) = plan(&ctx.home.people, &[path.to_owned()], &Choices::default())?;
    let title = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    import_here(ctx, &ImportRequest { title, sources, ..ImportRequest::default() }, &|_| ControlFlow::Continue(())).map(drop)
}

/// Moves a file or folder, under a name that is free there; a refusal is written beside it.
fn put_aside(path: &Path, folder: &Path, refusal: Option<AppError>) -> io::Result<()> {
    fs::create_dir_all(folder)?;
    let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let free = (1..).map(|n| if n == 1 { name.clone() } else { format!("{n}-{name}") }).find(|n| !folder.join(n).exists());
    let to = folder.join(free.unwrap_or(name));
    fs::rename(path, &to)?;
    let Some(refusal) = refusal else { return Ok(()) };
    let mut report = format!("{refusal}\n");
    if let AppError::BadRows(all) = &refusal {
        report.extend(all.bad.iter().map(|bad| format!("{bad}\n")));
    }
    fs::write(format!("{}.report.txt", to.display()), report)
}

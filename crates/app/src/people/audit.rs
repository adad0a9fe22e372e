//! The audit log: who did what that others may have to know of, when, and from where. It is only added to.

use crate::{AppError, Ctx};
use artemon_store::{KeptEntry, NewEntry};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Entries of a page.
const PAGE: i64 = 100;

/// An entry of the audit log.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct AuditEntry {
    /// Its number, from 1.
    pub n: i64,
    /// As RFC 3339.
    pub at: String,
    /// Who did it, as known then; empty at the terminal.
    pub name: String,
    /// What was done, in words.
    pub what: String,
    /// To what or whom.
    pub about: String,
    /// The address of the machine; empty at the terminal.
    pub address: String,
}

/// A page of the audit log, the newest first.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AuditPage {
    pub entries: Vec<AuditEntry>,
    /// Whether there are older ones.
    pub more: bool,
}

/// Which entries.
#[derive(Clone, Copy, Debug, Default, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct AuditRequest {
    /// Older than the entry of this number.
    pub before: Option<i64>,
    /// Those of everybody, which owners may read.
    #[serde(default)]
    pub everybody: bool,
}

/// What the caller did, or everybody.
///
/// # Errors
/// When it cannot be read.
pub fn audit_log(ctx: &Ctx, request: AuditRequest) -> Result<AuditPage, AppError> {
    let of = if request.everybody { None } else { Some(&ctx.person) };
    let mut entries = ctx.home.people.entries(of, request.before.unwrap_or(i64::MAX), PAGE + 1)?;
    let more = entries.len() > PAGE as usize;
    entries.truncate(PAGE as usize);
    Ok(AuditPage { entries: entries.into_iter().map(told).collect(), more })
}

fn told(e: KeptEntry) -> AuditEntry {
    AuditEntry { n: e.n, at: e.at, name: e.name, what: e.what, about: e.about, address: e.address }
}

/// Notes that the caller did something. A person alone on their machine needs no log.
///
/// # Errors
/// When it cannot be written.
pub(crate) fn noted(ctx: &Ctx, what: &str, about: &str) -> Result<(), AppError> {
    if ctx.home.is_shared() {
        with_entry(ctx, what, about, |entry| ctx.home.people.add_entry(entry))?;
    }
    Ok(())
}

/// The entry of something that the caller does.
pub(crate) fn with_entry<T>(
    ctx: &Ctx,
    what: &str,
    about: &str,
    write: impl FnOnce(&NewEntry<'_>) -> Result<T, artemon_store::StoreError>,
) -> Result<T, AppError> {
    let known = ctx.home.people.credential(&ctx.person)?;
    let name = known.map(|k| k.name).unwrap_or_default();
    Ok(write(&NewEntry { person: ctx.person.as_str(), name: &name, what, about, address: &ctx.visitor.address })?)
}

//! The person's alerts, with what each waits for and whether it can.

use super::body::{AlertBody, Repeat};
use crate::{
    AppError, Ctx,
    documents::{body::read, kind::DocumentKind},
};
use serde::Serialize;
use std::collections::HashMap;
use utoipa::ToSchema;

/// An alert as it stands.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AlertEntry {
    /// The id of its document.
    pub id: String,
    pub name: String,
    pub version: i32,
    pub body: Option<AlertBody>,
    /// What it waits for, and of whom.
    pub says: String,
    /// Why it cannot wait for it: it is paused until that is mended.
    pub problem: Option<String>,
    /// It has said what it had to, and waits no more.
    pub done: bool,
    /// The last session on which it said something.
    pub last: Option<String>,
}

/// An alert as it is worked with.
pub(super) struct Alert {
    pub(super) id: String,
    pub(super) name: String,
    version: i32,
    pub(super) body: Result<AlertBody, String>,
}

/// All alerts of the person, by name.
pub(super) fn all(ctx: &Ctx) -> Result<Vec<Alert>, AppError> {
    let documents = ctx.home.people.whole_documents(&ctx.person, DocumentKind::Alert.code())?;
    let alert = |d: artemon_store::Document| Alert { body: read(&d.body), id: d.head.id, name: d.head.name, version: d.head.version };
    Ok(documents.into_iter().map(alert).collect())
}

/// When each alert said something last.
pub(super) fn said(ctx: &Ctx) -> Result<HashMap<String, String>, AppError> {
    Ok(ctx.home.people.last_firings(&ctx.person)?.into_iter().collect())
}

/// The person's alerts, by name.
///
/// # Errors
/// When they cannot be read.
pub fn alerts(ctx: &Ctx) -> Result<Vec<AlertEntry>, AppError> {
    let said = said(ctx)?;
    let entry = |a: Alert| {
        let last = said.get(&a.id).cloned();
        let checked = a.body.clone().and_then(|body| body.check(ctx).map_err(|e| e.to_string()).map(|()| body));
        AlertEntry {
            says: a.body.as_ref().map_or_else(|_| "cannot be read".to_owned(), |b| b.in_words(ctx)),
            done: last.is_some() && a.body.as_ref().is_ok_and(|b| b.repeat == Repeat::Once),
            problem: checked.err(),
            body: a.body.ok(),
            id: a.id,
            name: a.name,
            version: a.version,
            last,
        }
    };
    Ok(all(ctx)?.into_iter().map(entry).collect())
}

/// How many things that alerts said nobody has seen.
///
/// # Errors
/// When they cannot be read.
pub fn unseen_alerts(ctx: &Ctx) -> Result<usize, AppError> {
    Ok(usize::try_from(ctx.home.people.unseen_firings(&ctx.person)?).unwrap_or(0))
}

/// The person has seen what alerts said.
///
/// # Errors
/// When it cannot be kept.
pub fn see_alerts(ctx: &Ctx) -> Result<(), AppError> {
    Ok(ctx.home.people.see_firings(&ctx.person)?)
}

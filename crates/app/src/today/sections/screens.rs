//! Which companies entered and left the person's screens.

use super::super::{line::Line, look::Look};
use crate::{
    AppError,
    documents::{self, kind::DocumentKind},
};
use artemon_core::screening::{self, Change, Screen};
use serde::Serialize;
use utoipa::ToSchema;

/// A saved screen, and what changed in it.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ScreenLine {
    #[serde(flatten)]
    pub line: Line,
    /// Of its document.
    pub id: String,
    pub name: String,
    pub entered: Vec<Named>,
    pub left: Vec<Named>,
    /// How many pass now.
    pub now: usize,
    /// Why it cannot be run.
    pub problem: Option<String>,
}

/// A company by symbol and name.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Named {
    pub symbol: String,
    pub name: String,
}

/// The screens that changed first, then those that cannot be run, then the others; each by name.
pub(crate) fn screens(look: &Look<'_>) -> Result<Vec<ScreenLine>, AppError> {
    let (ctx, mut all) = (look.ctx, Vec::new());
    for document in ctx.home.people.whole_documents(&ctx.person, DocumentKind::Screen.code())? {
        let changes = documents::body::read::<Screen>(&document.body).and_then(|screen| {
            let screen = Screen { as_of: None, ..screen };
            screening::changes(&screen, &look.then, &look.now).map_err(|e| e.to_string())
        });
        let named = |all: &[Change]| all.iter().map(|c| named(look, c)).collect::<Vec<_>>();
        let (entered, left, now, problem) = match changes {
            Ok(c) => (named(&c.entered), named(&c.left), c.stayed + c.entered.len(), None),
            Err(problem) => (Vec::new(), Vec::new(), 0, Some(problem)),
        };
        let state: Vec<&str> =
            entered.iter().map(|n| n.symbol.as_str()).chain(["/"]).chain(left.iter().map(|n| n.symbol.as_str())).collect();
        let line = look.away.line("screens", &document.head.id, &state.join(" "));
        all.push(ScreenLine { line, id: document.head.id, name: document.head.name, entered, left, now, problem });
    }
    let unchanged = |s: &ScreenLine| s.entered.is_empty() && s.left.is_empty();
    all.sort_by_key(|s| (unchanged(s), s.problem.is_none()));
    Ok(all)
}

fn named(look: &Look<'_>, change: &Change) -> Named {
    let snapshot = look.ctx.snapshot();
    Named { symbol: snapshot.symbol(change.company).to_owned(), name: snapshot.company(change.company).name.clone() }
}

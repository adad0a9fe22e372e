//! What people let each other read: a screen, a list, columns, a measure, an assumption set, a forecast or a backtest, by a link that
//! counts for everybody on this server until it is taken back. It is read with the eyes of whoever shares it, and never changed; who
//! wants to work with it takes a copy.

mod copy;
mod read;

pub use copy::{Copied, take_copy};
pub use read::{SharedAnswer, SharedCompany, SharedList, SharedScreen, shared};

use crate::{
    AppError, Ctx,
    documents::{self, DocumentKind},
    people::with_entry,
};
use artemon_core::engine::Cancel;
use artemon_store::KeptShare;
use serde::{Deserialize, Serialize};
use std::fmt;
use utoipa::ToSchema;

/// What a share is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ShareKind {
    /// A screen, a list, columns, a measure, an assumption set or a forecast.
    Document,
    /// A backtest.
    Backtest,
}

impl ShareKind {
    const fn code(self) -> &'static str {
        match self {
            ShareKind::Document => "document",
            ShareKind::Backtest => "backtest",
        }
    }
}

/// What to share.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct ShareRequest {
    pub kind: ShareKind,
    pub id: String,
}

/// What a thing is, and its name.
struct Named {
    what: String,
    name: String,
}

impl fmt::Display for Named {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "the {} {}", self.what, self.name)
    }
}

/// Something that one shares.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Share {
    /// In the link.
    pub token: String,
    /// Whoever has it and is signed in may read.
    pub link: String,
    pub kind: ShareKind,
    /// Of what is shared.
    pub id: String,
    /// What it is, in words, like "screen".
    pub what: String,
    pub name: String,
    /// Since when, as RFC 3339.
    pub shared_at: String,
}

/// What is shared: what it is in words, and its name. Nothing where it is gone, or is of a kind that is one's own alone.
fn named(ctx: &Ctx, kind: ShareKind, id: &str) -> Result<Option<Named>, AppError> {
    if kind == ShareKind::Backtest {
        let found = ctx.home.people.backtest(&ctx.person, id)?.filter(|b| b.deleted_at.is_none());
        return Ok(found.map(|b| Named { what: "backtest".to_owned(), name: b.name }));
    }
    let Some(found) = ctx.home.people.document(&ctx.person, id, None)?.filter(|d| d.head.deleted_at.is_none()) else { return Ok(None) };
    let kind = DocumentKind::of(&found.head.kind).filter(|kind| !matches!(kind, DocumentKind::Note | DocumentKind::Alert));
    let name = if kind == Some(DocumentKind::Case) { documents::of_company::company_name(ctx, &found) } else { found.head.name };
    Ok(kind.map(|kind| Named { what: kind.label().to_owned(), name }))
}

fn missing() -> AppError {
    AppError::Missing { what: "What this link led to".to_owned() }
}

/// Shares something of the caller's, by a link.
///
/// # Errors
/// When there is no such thing, or it is of a kind that is not shared; on a machine that one uses alone.
pub fn share(ctx: &Ctx, request: &ShareRequest) -> Result<Share, AppError> {
    if !ctx.home.is_shared() {
        return Err(AppError::Refused("Nobody else is here. Start the server with --shared to share with others.".to_owned()));
    }
    let nothing = || AppError::Missing { what: "This, or a way to share it,".to_owned() };
    let named = named(ctx, request.kind, &request.id)?.ok_or_else(nothing)?;
    let share =
        with_entry(ctx, "shared", &named.to_string(), |entry| ctx.home.people.share(&ctx.person, request.kind.code(), &request.id, entry))?;
    Ok(told(ctx, share, request.kind, named))
}

fn told(ctx: &Ctx, share: KeptShare, kind: ShareKind, named: Named) -> Share {
    let link = ctx.home.link(&format!("/shared/{}", share.token));
    Share { link, token: share.token, kind, id: share.object, what: named.what, name: named.name, shared_at: share.shared_at }
}

fn kind_of(share: &KeptShare) -> ShareKind {
    if share.kind == ShareKind::Backtest.code() { ShareKind::Backtest } else { ShareKind::Document }
}

/// What the caller shares, the newest first.
///
/// # Errors
/// When it cannot be read.
pub fn shares(ctx: &Ctx) -> Result<Vec<Share>, AppError> {
    let mut all = Vec::new();
    for share in ctx.home.people.shares(&ctx.person)? {
        let kind = kind_of(&share);
        if let Some(named) = named(ctx, kind, &share.object)? {
            all.push(told(ctx, share, kind, named));
        }
    }
    Ok(all)
}

/// Takes back what the caller shares: its link leads nowhere from this moment on.
///
/// # Errors
/// When nothing is shared under it.
pub fn take_share_back(ctx: &Ctx, token: &str) -> Result<(), AppError> {
    let of = shares(ctx)?.into_iter().find(|s| s.token == token);
    let about = of.map(|s| Named { what: s.what, name: s.name }.to_string()).unwrap_or_default();
    let gone = with_entry(ctx, "took back", &about, |entry| ctx.home.people.take_share_back(&ctx.person, token, entry))?;
    if gone { Ok(()) } else { Err(missing()) }
}

/// What a link leads to, and the context of whoever shares it.
fn opened(ctx: &Ctx, token: &str) -> Result<(KeptShare, ShareKind, Named, Ctx), AppError> {
    let share = ctx.home.people.shared(token)?.ok_or_else(missing)?;
    let theirs = ctx.home.ctx(&share.person, Cancel::clone(ctx.engine.cancel()))?;
    let kind = kind_of(&share);
    let named = named(&theirs, kind, &share.object)?.ok_or_else(missing)?;
    Ok((share, kind, named, theirs))
}

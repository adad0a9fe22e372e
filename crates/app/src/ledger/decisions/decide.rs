//! Decisions written down.

use super::{
    reasons::{Reasons, tell_when_wrong},
    seen::{Seen, seen},
};
use crate::{
    AppError, Ctx,
    documents::{self, kind::DocumentKind, known::KnownCompany},
};
use artemon_core::{decisions::Choice, panel::CompanyAt};
use artemon_store as store;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A decision to be written down without an order.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct NewDecision {
    /// A symbol, ISIN or id.
    pub symbol: String,
    pub choice: Choice,
    #[serde(default)]
    pub reasons: Reasons,
}

/// A decision that was written down.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Decided {
    pub id: String,
}

/// A decision as it is kept.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(super) struct Body {
    pub(super) choice: Choice,
    pub(super) reasons: Reasons,
    /// The screen from which the company came, as it was named then.
    #[serde(default)]
    pub(super) screen: Option<Screened>,
    pub(super) seen: Seen,
}

/// A saved screen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub struct Screened {
    pub id: String,
    pub name: String,
}

/// Writes a decision down as of the newest session, with a copy of what is seen.
///
/// # Errors
/// An unknown company, reasons that cannot be meant; when it cannot be written.
pub fn decide(ctx: &Ctx, new: &NewDecision) -> Result<Decided, AppError> {
    let c = ctx.company(&new.symbol, ctx.date(None)?)?;
    let written = written(ctx, &c, new.choice, &new.reasons, None)?;
    let id = ctx.home.people.decide(&ctx.person, &written)?;
    tell_when_wrong(ctx, &c, &new.reasons)?;
    Ok(Decided { id })
}

/// A decision about a company at its date, as it is to be kept.
///
/// # Errors
/// Reasons that cannot be meant.
pub(crate) fn written(
    ctx: &Ctx,
    c: &CompanyAt<'_>,
    choice: Choice,
    reasons: &Reasons,
    order: Option<&str>,
) -> Result<store::NewDecision, AppError> {
    reasons.check(ctx, c.t())?;
    let body = Body { choice, reasons: reasons.clone(), screen: screened(ctx, reasons.screen.as_deref())?, seen: seen(ctx, c) };
    let json =
        |of: serde_json::Result<String>| of.map_err(|e| AppError::Unusable { what: "The decision".to_owned(), problem: e.to_string() });
    Ok(store::NewDecision {
        decided_on: c.t().to_string(),
        company: json(serde_json::to_string(&KnownCompany::of(c)))?,
        order_name: order.map(str::to_owned),
        body: json(serde_json::to_string(&body))?,
    })
}

fn screened(ctx: &Ctx, id: Option<&str>) -> Result<Option<Screened>, AppError> {
    let Some(id) = id else { return Ok(None) };
    let found = documents::document(ctx, id, None)?;
    if found.entry.kind != DocumentKind::Screen {
        return Err(AppError::Missing { what: "The screen from which it came".to_owned() });
    }
    Ok(Some(Screened { id: found.entry.id, name: found.entry.name }))
}

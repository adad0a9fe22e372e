//! What is the person's own and cannot be used as it is: named, and given what it needs.

use super::overrides::kept;
use crate::{
    AppError, Ctx,
    settings::{Broken, Unmatched},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What waits to be repaired.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct Repairs {
    /// What is kept but not understood; save it again as a document to repair it.
    pub broken: Vec<Broken>,
    /// What is kept about companies that this dataset does not have.
    pub unmatched: Vec<Unmatched>,
}

/// Which company is meant now.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MatchRequest {
    /// The id under which something is kept.
    pub company_id: String,
    /// Symbol, ISIN or id of the company in this dataset; none forgets what is kept.
    #[serde(default)]
    pub symbol: Option<String>,
}

/// What waits to be repaired.
#[must_use]
pub fn repairs(ctx: &Ctx) -> Repairs {
    Repairs { broken: ctx.own.broken.clone(), unmatched: ctx.own.unmatched.clone() }
}

/// Says which company is meant by what is kept about another, or forgets it.
///
/// # Errors
/// An unknown company; when nothing is kept under the id.
pub fn match_company(ctx: &Ctx, request: &MatchRequest) -> Result<(), AppError> {
    let missing = || AppError::Missing { what: format!("Anything of yours about the company {}", request.company_id) };
    let all = ctx.home.people.overrides(&ctx.person)?;
    let found = all.into_iter().find(|o| o.company_id == request.company_id).ok_or_else(missing)?;
    let done = match &request.symbol {
        None => ctx.home.people.forget_override(&ctx.person, &found.company_id)?,
        Some(symbol) => {
            let now = kept(&ctx.company(symbol, ctx.date(None)?)?, found.body);
            ctx.home.people.move_override(&ctx.person, &found.company_id, &now)?
        }
    };
    if done { Ok(()) } else { Err(missing()) }
}

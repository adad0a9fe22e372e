//! What the person assumes of single companies.

use crate::{AppError, Ctx};
use artemon_core::{panel::CompanyAt, valuation::Override};
use artemon_store::KeptOverride;

/// Keeps what the person assumes of a company; nothing assumed forgets it.
///
/// # Errors
/// An unknown company; an assumption outside its bounds; a soundness without a reason.
pub fn assume_of_company(ctx: &Ctx, symbol: &str, own: &Override) -> Result<(), AppError> {
    let c = ctx.company(symbol, ctx.date(None)?)?;
    check_override(own)?;
    if own.is_empty() && own.reason.trim().is_empty() {
        ctx.home.people.forget_override(&ctx.person, &c.company().id)?;
    } else {
        ctx.home.people.keep_override(&ctx.person, &kept(&c, serde_json::to_string(own).unwrap_or_default()))?;
    }
    Ok(())
}

/// With how the company is known now.
pub(crate) fn kept(c: &CompanyAt<'_>, body: String) -> KeptOverride {
    KeptOverride {
        company_id: c.company().id.to_string(),
        symbol: c.symbol().to_owned(),
        isin: c.listing().map(|l| l.isin.clone()).unwrap_or_default(),
        name: c.company().name.clone(),
        body,
    }
}

pub(crate) fn check_override(own: &Override) -> Result<(), AppError> {
    own.check().map_err(|problem| AppError::Unusable { what: "What you assume of the company".to_owned(), problem })
}

//! What the person assumes of single companies.

use crate::{AppError, Ctx, settings::company_of};
use artemon_core::{panel::CompanyAt, valuation::Override};
use artemon_store::KeptOverride;
use serde::Deserialize;
use utoipa::ToSchema;

/// Keeps what the person assumes of a company; nothing assumed forgets it.
///
/// # Errors
/// An unknown company; an assumption outside its bounds; a soundness without a reason.
pub fn assume_of_company(ctx: &Ctx, symbol: &str, own: &Override) -> Result<(), AppError> {
    let c = ctx.company(symbol, ctx.date(None)?)?;
    check_override(own)?;
    let people = &ctx.home.people;
    // Under the id that the company had in a dataset before, if what was assumed comes from there.
    let of_company = |o: &KeptOverride| company_of(o, ctx.snapshot()) == Some(c.index);
    let known: Vec<String> = people.overrides(&ctx.person)?.into_iter().filter(of_company).map(|o| o.company_id).collect();
    if own.is_empty() && own.reason.trim().is_empty() {
        return known.iter().try_for_each(|id| Ok(people.forget_override(&ctx.person, id).map(drop)?));
    }
    let now = kept(&c, serde_json::to_string(own).unwrap_or_default());
    for id in known.iter().filter(|id| **id != now.company_id) {
        people.move_override(&ctx.person, id, &now)?;
    }
    Ok(people.keep_override(&ctx.person, &now)?)
}

/// How sound the person thinks a company is.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnSoundness {
    /// 1 (best) to 4; none takes it back.
    pub soundness: Option<u8>,
    /// Why.
    pub reason: String,
}

/// Keeps how sound the person thinks a company is, beside all else that is assumed of it.
///
/// # Errors
/// As [`assume_of_company`].
pub fn judge_soundness(ctx: &Ctx, symbol: &str, own: OwnSoundness) -> Result<(), AppError> {
    let c = ctx.company(symbol, ctx.date(None)?)?;
    let before = ctx.settings().overrides.of(&c.company().id).map(|o| (**o).clone()).unwrap_or_default();
    assume_of_company(ctx, symbol, &Override { soundness: own.soundness, reason: own.reason, ..before })
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

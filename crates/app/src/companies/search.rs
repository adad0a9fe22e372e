//! Finding companies by name, symbol or ISIN.

use super::names::Names;
use crate::{AppError, Ctx};
use artemon_core::{domain::Day, engine::Section, panel::CompanyAt};
use serde::Serialize;
use std::sync::Arc;
use utoipa::ToSchema;

/// Most hits of a search.
const MAX_HITS: usize = 12;

/// A company found.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct CompanyHit {
    pub symbol: String,
    pub name: String,
    pub isin: String,
    pub country: String,
    pub sector: String,
    pub kind: String,
    /// Whether it is listed and traded at the date.
    pub listed: bool,
}

/// Companies by symbol (those of other and earlier listings too), ISIN or name: exact ones first, then beginnings, then parts of
/// names, then what differs by a typing mistake; among these those in the universe of the date first.
///
/// # Errors
/// A date outside the data.
pub fn search(ctx: &Ctx, text: &str, as_of: Option<Day>) -> Result<Vec<CompanyHit>, AppError> {
    let section = Section::new(&ctx.engine, ctx.date(as_of)?);
    let found = names(ctx).find(text, MAX_HITS, |company| section.place(company).is_some());
    Ok(found.into_iter().map(|company| hit(&section.as_of.company(company))).collect())
}

/// The index of names, made when first asked for.
pub(crate) fn names(ctx: &Ctx) -> Arc<Names> {
    ctx.engine.engine().whole(|| Names::of(ctx.engine.as_of(Day::MAX)))
}

pub(crate) fn hit(c: &CompanyAt<'_>) -> CompanyHit {
    let company = c.company();
    CompanyHit {
        symbol: c.symbol().to_owned(),
        name: company.name.clone(),
        isin: c.listing().map(|l| l.isin.clone()).unwrap_or_default(),
        country: company.country.clone(),
        sector: company.sector.clone(),
        kind: company.kind.to_string(),
        listed: c.in_universe(),
    }
}

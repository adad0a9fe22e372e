//! Finding companies by name, symbol or ISIN.

use crate::{AppError, Ctx};
use artemon_core::{domain::Day, panel::CompanyAt};
use serde::Serialize;
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

/// Companies whose symbol, ISIN or name matches: exact symbols first, then beginnings, then parts of names.
///
/// # Errors
/// A date outside the data.
pub fn search(ctx: &Ctx, text: &str, as_of: Option<Day>) -> Result<Vec<CompanyHit>, AppError> {
    let view = ctx.engine.as_of(ctx.date(as_of)?);
    let wanted = text.trim().to_lowercase();
    let mut found: Vec<(u8, CompanyAt<'_>)> = view.companies().filter_map(|c| closeness(&c, &wanted).map(|n| (n, c))).collect();
    found.sort_by(|a, b| (a.0, !a.1.in_universe(), &a.1.company().name).cmp(&(b.0, !b.1.in_universe(), &b.1.company().name)));
    Ok(found.into_iter().take(MAX_HITS).map(|(_, c)| hit(&c)).collect())
}

fn closeness(c: &CompanyAt<'_>, wanted: &str) -> Option<u8> {
    let (symbol, name) = (c.symbol().to_lowercase(), c.company().name.to_lowercase());
    let isin = c.listing().map(|l| l.isin.to_lowercase()).unwrap_or_default();
    if wanted.is_empty() || symbol == wanted || isin == wanted {
        Some(0)
    } else if symbol.starts_with(wanted) {
        Some(1)
    } else if name.starts_with(wanted) {
        Some(2)
    } else if name.contains(wanted) || isin.starts_with(wanted) {
        Some(3)
    } else {
        None
    }
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

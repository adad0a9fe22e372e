//! The groups that companies fall into.

use crate::{AppError, Ctx};
use artemon_core::domain::Day;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What a universe can be narrowed by, with the number of companies of each.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct Groups {
    pub countries: BTreeMap<String, usize>,
    pub sectors: BTreeMap<String, usize>,
    pub industries: BTreeMap<String, usize>,
    pub kinds: BTreeMap<String, usize>,
    /// The indexes of the dataset, with how many of their members are listed.
    pub indexes: Vec<IndexGroup>,
}

/// An index.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct IndexGroup {
    pub id: String,
    pub name: String,
    pub members: usize,
}

/// The groups of the universe at a date.
///
/// # Errors
/// A date outside the data.
pub fn groups(ctx: &Ctx, as_of: Option<Day>) -> Result<Groups, AppError> {
    let mut out = Groups::default();
    let view = ctx.engine.as_of(ctx.date(as_of)?);
    for (id, name, _) in ctx.snapshot().indexes() {
        let members = view.index_members(id).map_or(0, |m| m.len());
        out.indexes.push(IndexGroup { id: id.to_owned(), name: name.to_owned(), members });
    }
    for c in view.universe() {
        let company = c.company();
        *out.countries.entry(company.country.clone()).or_default() += 1;
        *out.sectors.entry(company.sector.clone()).or_default() += 1;
        *out.industries.entry(company.industry.clone()).or_default() += 1;
        *out.kinds.entry(company.kind.to_string()).or_default() += 1;
    }
    Ok(out)
}

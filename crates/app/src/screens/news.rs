//! The newest headlines of companies, with what the price and the sector did that day.

use crate::{companies::Headline, figures::compact::six_digits};
use artemon_core::{
    domain::Day,
    panel::{AsOf, CompanyAt},
    price::{sector_change, session_after, session_change},
};
use serde::Serialize;
use std::collections::HashMap;
use utoipa::ToSchema;

/// The newest headline of a company, and what came of it.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct CompanyNews {
    #[allow(missing_docs)]
    pub headline: Headline,
    /// How the price changed in the first session that could answer it, as a fraction; none until it is over.
    pub change: Option<f64>,
    /// The median change of the companies of its sector in that session.
    pub sector_change: Option<f64>,
}

/// The newest of each company; none for those of which nothing was said.
pub(super) fn newest_news(as_of: AsOf<'_>, companies: &[CompanyAt<'_>]) -> Vec<Option<CompanyNews>> {
    // Of a sector on which much was said in one day, the day is looked at once.
    let mut sectors: HashMap<(&str, Day), Option<f64>> = HashMap::new();
    let mut of = |c: &CompanyAt<'_>| {
        let headline = Headline::from(c.news().next_back()?);
        let session = headline.published_on.and_then(|day| session_after(c, day));
        let sector = &*as_of.snapshot.company(c.index).sector;
        let moved = |day| *sectors.entry((sector, day)).or_insert_with(|| sector_change(as_of, sector, day).map(six_digits));
        let change = session.and_then(|day| session_change(c, day)).map(six_digits);
        Some(CompanyNews { headline, change, sector_change: session.and_then(moved) })
    };
    companies.iter().map(&mut of).collect()
}

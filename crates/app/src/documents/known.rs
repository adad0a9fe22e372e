//! How a company was known when something was kept of it: it is found again after another dataset has come.

use artemon_core::{
    domain::Day,
    panel::{AsOf, CompanyAt, CompanyIndex, Snapshot},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A company as last seen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct KnownCompany {
    pub id: String,
    #[serde(default)]
    pub symbol: String,
    #[serde(default)]
    pub isin: String,
    #[serde(default)]
    pub name: String,
}

impl KnownCompany {
    pub(crate) fn of(c: &CompanyAt<'_>) -> KnownCompany {
        KnownCompany {
            id: c.company().id.to_string(),
            symbol: c.symbol().to_owned(),
            isin: c.listing().map(|l| l.isin.clone()).unwrap_or_default(),
            name: c.company().name.clone(),
        }
    }

    /// The company in a dataset. Its id counts when symbol, ISIN or name are still its own; else its ISIN; else its symbol, unless an
    /// ISIN says that it is another's now.
    pub(crate) fn find(&self, snapshot: &Snapshot) -> Option<CompanyIndex> {
        let listed = |i: CompanyIndex| {
            // The base currency takes no part in a listing.
            let as_of = AsOf { snapshot, base: snapshot.company(i).currency, t: Day::MAX };
            as_of.company(i).listing().map(|l| (l.symbol.to_string(), l.isin.clone())).unwrap_or_default()
        };
        let same = |a: &str, b: &str| !a.is_empty() && a.eq_ignore_ascii_case(b);
        let by_id = snapshot.find(&self.id).filter(|i| *snapshot.company(*i).id == *self.id);
        let is_it = |i: &CompanyIndex| {
            let ((symbol, isin), name) = (listed(*i), &snapshot.company(*i).name);
            let unseen = self.symbol.is_empty() && self.isin.is_empty() && self.name.is_empty();
            unseen || same(&self.isin, &isin) || same(&self.symbol, &symbol) || same(&self.name, name)
        };
        let by_isin = || snapshot.find(&self.isin).filter(|i| same(&self.isin, &listed(*i).1));
        let by_symbol = || {
            let free = |i: &CompanyIndex| {
                let (symbol, isin) = listed(*i);
                same(&self.symbol, &symbol) && (isin.is_empty() || self.isin.is_empty())
            };
            snapshot.find(&self.symbol).filter(free)
        };
        by_id.filter(is_it).or_else(by_isin).or_else(by_symbol)
    }
}

//! The only door to the panel: what was public by the close of a day.
//!
//! Every accessor of [`CompanyAt`] clips at its date; nothing else can reach the snapshot's columns. Look-ahead is
//! prevented in this folder and nowhere else: `filings` what was filed, `market` prices and rates, `people` those within and
//! those who watch.

mod filings;
mod market;
mod people;

pub use filings::FiledItem;
pub use market::{Declared, Dividend};

use super::{
    company::CompanyPanel,
    snapshot::{CompanyIndex, Snapshot},
    statements::PeriodIndex,
};
use crate::{
    domain::{Company, Currency, Day, Kind, Listing, News},
    formula::{Compiled, FormulaError, Library},
    valuation::{Assumptions, Overrides},
};
use std::sync::Arc;

/// A price older than this many calendar days no longer counts for the universe (rule 2).
const LAST_PRICE_MAX_AGE: i32 = 10;
/// Months after the newest period end beyond which statements are stale (rule 8).
const STALE_AFTER_MONTHS: i32 = 15;

/// What a computation needs beside data and date.
#[derive(Clone, Debug)]
pub struct Settings {
    /// The currency of whole-company amounts.
    pub base: Currency,
    /// The assumption set of valuations.
    pub assumptions: Assumptions,
    /// The user's own measures.
    pub library: Arc<Library>,
    /// What the user assumes of single companies.
    pub overrides: Arc<Overrides>,
}

impl Settings {
    /// The Standard assumption set with this base currency.
    #[must_use]
    pub fn standard(base: Currency) -> Settings {
        Settings { base, assumptions: Assumptions::standard(), library: Arc::default(), overrides: Arc::default() }
    }
}

/// A snapshot seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct AsOf<'a> {
    /// The snapshot. Its columns are private to the panel.
    pub snapshot: &'a Snapshot,
    /// What to compute with.
    pub settings: &'a Settings,
    /// The day by whose close everything was public.
    pub t: Day,
}

/// One company seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct CompanyAt<'a> {
    panel: &'a CompanyPanel,
    /// The view it belongs to.
    pub view: AsOf<'a>,
    /// Its position in the snapshot.
    pub index: CompanyIndex,
    bars: u32,
    split_product: f64,
    filings: u32,
    newest: Option<PeriodIndex>,
    year0: Option<PeriodIndex>,
    /// The last day on which its statements are not stale (rule 8).
    stale_after: Day,
    /// Some filings are in another currency than the newest one's, so that figures move with exchange rates.
    mixed_currencies: bool,
    reporting: Currency,
    to_base: Option<f64>,
    to_listing: Option<f64>,
}

impl<'a> AsOf<'a> {
    /// Checks a formula as its user types it.
    ///
    /// # Errors
    /// The first mistake, where it is, and what may have been meant.
    pub fn compile(self, formula: &str) -> Result<Arc<Compiled>, FormulaError> {
        self.settings.library.compile(formula)
    }

    /// Every company of the dataset at this date, in order of symbol.
    pub fn companies(self) -> impl Iterator<Item = CompanyAt<'a>> {
        (0..u32::try_from(self.snapshot.companies.len()).unwrap_or(u32::MAX)).map(move |i| self.company(i))
    }

    /// The companies listed and traded at this date (rule 2).
    #[must_use]
    pub fn universe(self) -> Vec<CompanyAt<'a>> {
        use rayon::prelude::*;
        let all = 0..u32::try_from(self.snapshot.companies.len()).unwrap_or(u32::MAX);
        all.into_par_iter().map(|i| self.company(i)).filter(CompanyAt::in_universe).collect()
    }

    /// One company at this date.
    #[must_use]
    pub fn company(self, index: CompanyIndex) -> CompanyAt<'a> {
        CompanyAt::new(&self.snapshot.companies[index as usize], self, index)
    }

    /// The members of an index at the date, as positions in the snapshot, sorted; `None` for an unknown index.
    #[must_use]
    pub fn index_members(self, id: &str) -> Option<Vec<CompanyIndex>> {
        let index = self.snapshot.shared.indexes.get(id)?;
        let mut members: Vec<_> = index.members(self.t).filter_map(|m| self.snapshot.find(m)).collect();
        members.sort_unstable();
        Some(members)
    }

    /// The newest level of an index at the date; `None` for an unknown index or one without levels.
    #[must_use]
    pub fn index_level(self, id: &str) -> Option<f64> {
        self.snapshot.shared.indexes.get(id)?.level(self.t)
    }

    /// The first index by id with these members at the date.
    fn first_index_with(self, company: &str) -> Option<&'a str> {
        self.snapshot.shared.indexes.iter().find(|(_, index)| index.has(company, self.t)).map(|(id, _)| &**id)
    }

    /// News of the market as a whole published by the date, oldest first.
    pub fn market_news(self) -> impl DoubleEndedIterator<Item = &'a News> {
        self.snapshot.shared.news.iter().filter(move |n| n.published_on().is_some_and(|d| d <= self.t))
    }

    /// The same snapshot and settings at another date.
    #[must_use]
    pub fn at(self, t: Day) -> AsOf<'a> {
        AsOf { t, ..self }
    }
}

impl<'a> CompanyAt<'a> {
    fn new(panel: &'a CompanyPanel, view: AsOf<'a>, index: CompanyIndex) -> CompanyAt<'a> {
        CompanyAt::with_bars(panel, view, index, panel.bars.known(view.t))
    }

    /// With the number of sessions known.
    fn with_bars(panel: &'a CompanyPanel, view: AsOf<'a>, index: CompanyIndex, bars: u32) -> CompanyAt<'a> {
        let t = view.t;
        let newest = panel.statements.newest(t);
        let year0 = newest.and_then(|p| panel.statements.newest_year(t, p));
        let reporting = newest.and_then(|p| panel.statements.currency(t, p)).unwrap_or(panel.company.currency);
        let market = &view.snapshot.shared.market;
        let listing = panel.listing.as_ref().map_or(reporting, |l| l.currency);
        CompanyAt {
            panel,
            view,
            index,
            bars,
            split_product: split_product(panel, t),
            filings: panel.statements.known_filings(t),
            newest,
            year0,
            stale_after: newest.map_or(Day::MAX, |p| panel.statements.end(p).plus_months(STALE_AFTER_MONTHS)),
            mixed_currencies: panel.statements.has_mixed_currencies(),
            reporting,
            to_base: market.fx(reporting, view.settings.base, t),
            to_listing: market.fx(reporting, listing, t),
        }
    }

    /// The same company at a later date with the number of sessions known then; between two filings what is known of
    /// statements stays.
    fn later(&self, t: Day, bars: u32) -> CompanyAt<'a> {
        let view = self.view.at(t);
        if self.panel.statements.known_filings(t) != self.filings || self.newest.is_none() {
            return CompanyAt::with_bars(self.panel, view, self.index, bars);
        }
        let market = &view.snapshot.shared.market;
        let to_base = market.fx(self.reporting, view.settings.base, t);
        let to_listing = market.fx(self.reporting, self.listing_currency(), t);
        CompanyAt { view, bars, split_product: split_product(self.panel, t), to_base, to_listing, ..*self }
    }

    fn is_stale(&self) -> bool {
        self.t() > self.stale_after
    }

    /// The same company at another date.
    #[must_use]
    pub fn at(&self, t: Day) -> CompanyAt<'a> {
        CompanyAt::new(self.panel, self.view.at(t), self.index)
    }

    /// The date.
    #[must_use]
    pub fn t(&self) -> Day {
        self.view.t
    }

    /// The company's own record.
    #[must_use]
    pub fn company(&self) -> &'a Company {
        &self.panel.company
    }

    /// What sort of business it is.
    #[must_use]
    pub fn kind(&self) -> Kind {
        self.panel.company.kind
    }

    /// The primary listing.
    #[must_use]
    pub fn listing(&self) -> Option<&'a Listing> {
        self.panel.listing.as_ref()
    }

    /// The primary symbol, or the company id of an unlisted company.
    #[must_use]
    pub fn symbol(&self) -> &'a str {
        self.listing().map_or(&*self.panel.company.id, |l| &*l.symbol)
    }

    /// Whether it is listed and was traded in the last ten days (rule 2).
    #[must_use]
    pub fn in_universe(&self) -> bool {
        let Some(listing) = self.listing() else { return false };
        let t = self.t();
        listing.listed_on.is_none_or(|d| d <= t)
            && listing.delisted_on.is_none_or(|d| d > t)
            && self.bars().last_date().is_some_and(|d| t.days_since(d) <= LAST_PRICE_MAX_AGE)
    }

    /// Ordinary shares that one traded unit stands for.
    #[must_use]
    pub fn shares_per_unit(&self) -> f64 {
        self.listing().map_or(1.0, |l| l.shares_per_unit)
    }

    /// The currency in which it reports at the date.
    #[must_use]
    pub fn reporting_currency(&self) -> Currency {
        self.reporting
    }

    /// The currency of its price.
    #[must_use]
    pub fn listing_currency(&self) -> Currency {
        self.listing().map_or(self.reporting, |l| l.currency)
    }
}

pub(super) fn split_product(panel: &CompanyPanel, t: Day) -> f64 {
    let known = panel.splits.partition_point(|s| s.ex_date <= t);
    known.checked_sub(1).map_or(1.0, |i| panel.splits[i].cumulative)
}

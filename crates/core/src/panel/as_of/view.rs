//! A snapshot seen from one day, and a company seen from it.

use super::super::{
    company::CompanyPanel,
    snapshot::{CompanyIndex, Snapshot},
    statements::PeriodIndex,
};
use crate::domain::{Company, Currency, Day, Kind, Listing, News, RateSeries};

/// A price older than this many calendar days no longer counts for the universe (rule 2).
const LAST_PRICE_MAX_AGE: i32 = 10;
/// Months after the newest period end beyond which statements are stale (rule 8).
const STALE_AFTER_MONTHS: i32 = 15;

/// A snapshot seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct AsOf<'a> {
    /// The snapshot. Its columns are private to the panel.
    pub snapshot: &'a Snapshot,
    /// The currency of whole-company amounts.
    pub base: Currency,
    /// The day by whose close everything was public.
    pub t: Day,
}

/// One company seen from one day.
#[derive(Clone, Copy, Debug)]
pub struct CompanyAt<'a> {
    pub(super) panel: &'a CompanyPanel,
    /// The date it is seen from.
    pub as_of: AsOf<'a>,
    /// Its position in the snapshot.
    pub index: CompanyIndex,
    pub(super) bars: u32,
    pub(super) split_product: f64,
    pub(super) filings: u32,
    pub(super) newest: Option<PeriodIndex>,
    pub(super) year0: Option<PeriodIndex>,
    /// The last day on which its statements are not stale (rule 8).
    stale_after: Day,
    /// Some filings are in another currency than the newest one's, so that figures move with exchange rates.
    pub(super) mixed_currencies: bool,
    pub(super) reporting: Currency,
    pub(super) to_base: Option<f64>,
    pub(super) to_listing: Option<f64>,
}

impl<'a> AsOf<'a> {
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

    /// Units of `to` for one unit of `from`, at the date; `None` without a rate.
    #[must_use]
    pub fn fx(self, from: Currency, to: Currency) -> Option<f64> {
        self.snapshot.shared.market.fx(from, to, self.t)
    }

    /// The newest rate of a series at the date, as a fraction; `None` without one.
    #[must_use]
    pub fn rate(self, currency: Currency, series: RateSeries) -> Option<f64> {
        self.snapshot.shared.market.rate(currency, series, self.t)
    }

    /// The newest level of an index at the date; `None` for an unknown index or one without levels.
    #[must_use]
    pub fn index_level(self, id: &str) -> Option<f64> {
        self.snapshot.shared.indexes.get(id)?.level(self.t)
    }

    /// The first index by id with these members at the date.
    pub(super) fn first_index_with(self, company: &str) -> Option<&'a str> {
        self.snapshot.shared.indexes.iter().find(|(_, index)| index.has(company, self.t)).map(|(id, _)| &**id)
    }

    /// News of the market as a whole published by the date, oldest first.
    pub fn market_news(self) -> impl DoubleEndedIterator<Item = &'a News> {
        self.snapshot.shared.news.iter().filter(move |n| n.published_on().is_some_and(|d| d <= self.t))
    }

    /// The same snapshot at another date.
    #[must_use]
    pub fn at(self, t: Day) -> AsOf<'a> {
        AsOf { t, ..self }
    }
}

impl<'a> CompanyAt<'a> {
    fn new(panel: &'a CompanyPanel, as_of: AsOf<'a>, index: CompanyIndex) -> CompanyAt<'a> {
        CompanyAt::with_bars(panel, as_of, index, panel.bars.known(as_of.t))
    }

    /// With the number of sessions known.
    pub(super) fn with_bars(panel: &'a CompanyPanel, as_of: AsOf<'a>, index: CompanyIndex, bars: u32) -> CompanyAt<'a> {
        let t = as_of.t;
        let newest = panel.statements.newest(t);
        let year0 = newest.and_then(|p| panel.statements.newest_year(t, p));
        let reporting = panel.reporting(t, newest);
        let market = &as_of.snapshot.shared.market;
        let listing = panel.listing.as_ref().map_or(reporting, |l| l.currency);
        CompanyAt {
            panel,
            as_of,
            index,
            bars,
            split_product: panel.split_product(t),
            filings: panel.statements.known_filings(t),
            newest,
            year0,
            stale_after: newest.map_or(Day::MAX, |p| panel.statements.end(p).plus_months(STALE_AFTER_MONTHS)),
            mixed_currencies: panel.statements.has_mixed_currencies(),
            reporting,
            to_base: market.fx(reporting, as_of.base, t),
            to_listing: market.fx(reporting, listing, t),
        }
    }

    /// The same company at a later date with the number of sessions known then; between two filings what is known of
    /// statements stays.
    pub(super) fn later(&self, t: Day, bars: u32) -> CompanyAt<'a> {
        let as_of = self.as_of.at(t);
        if self.panel.statements.known_filings(t) != self.filings || self.newest.is_none() {
            return CompanyAt::with_bars(self.panel, as_of, self.index, bars);
        }
        let market = &as_of.snapshot.shared.market;
        let to_base = market.fx(self.reporting, as_of.base, t);
        let to_listing = market.fx(self.reporting, self.listing_currency(), t);
        CompanyAt { as_of, bars, split_product: self.panel.split_product(t), to_base, to_listing, ..*self }
    }

    pub(super) fn is_stale(&self) -> bool {
        self.t() > self.stale_after
    }

    /// The same company at another date.
    #[must_use]
    pub fn at(&self, t: Day) -> CompanyAt<'a> {
        CompanyAt::new(self.panel, self.as_of.at(t), self.index)
    }

    /// The date.
    #[must_use]
    pub fn t(&self) -> Day {
        self.as_of.t
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

    /// All listings, the primary one first: what a company is or was called on the exchanges is of no date.
    pub fn listings(&self) -> impl Iterator<Item = &'a Listing> {
        self.panel.facts.listing.iter().chain(&self.panel.facts.other_listings)
    }

    /// The primary symbol, or the company id of an unlisted company.
    #[must_use]
    pub fn symbol(&self) -> &'a str {
        self.listing().map_or(&*self.panel.company.id, |l| &*l.symbol)
    }

    /// Whether it is listed and was traded in the last ten days (rule 2).
    #[must_use]
    pub fn in_universe(&self) -> bool {
        self.bars().last_date().is_some_and(|last| self.is_in_universe_of(self.t(), last))
    }

    /// The same of an earlier day, whose last session by then is told.
    pub(crate) fn is_in_universe_of(&self, day: Day, last_session: Day) -> bool {
        self.listing().is_some_and(|l| l.listed_on.is_none_or(|d| d <= day) && l.delisted_on.is_none_or(|d| d > day))
            && day.days_since(last_session) <= LAST_PRICE_MAX_AGE
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

    /// The currency in which it reported on an earlier day.
    pub(super) fn reporting_on(&self, day: Day) -> Currency {
        self.panel.reporting(day, self.panel.statements.newest(day))
    }

    /// The currency of its price.
    #[must_use]
    pub fn listing_currency(&self) -> Currency {
        self.listing().map_or(self.reporting, |l| l.currency)
    }
}

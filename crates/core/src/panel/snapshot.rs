//! The immutable panel that readers share.

use super::{company::CompanyPanel, indexes::Indexes, market::Market};
use crate::domain::{Company, Currency, Day, Listing, News};
use rayon::prelude::*;
use std::{
    collections::{BTreeMap, HashMap},
    sync::Arc,
};

/// The position of a company in a snapshot.
pub type CompanyIndex = u32;

/// What belongs to no company.
#[derive(Debug)]
pub(super) struct Shared {
    pub(super) market: Market,
    pub(super) indexes: Indexes,
    /// News of the market as a whole, oldest first.
    pub(super) news: Vec<News>,
}

/// Everything known about all companies. Its figures are reached only through [`super::AsOf`].
#[derive(Debug)]
pub struct Snapshot {
    pub(super) companies: Vec<Arc<CompanyPanel>>,
    pub(super) shared: Arc<Shared>,
    by_key: HashMap<String, CompanyIndex>,
    first_day: Option<Day>,
    last_day: Option<Day>,
    first_action: Option<Day>,
    /// The first id of facts that was never given.
    pub(super) next_facts: u64,
}

impl Snapshot {
    /// Of companies as they stood before and of others made anew, whose facts are numbered from `first_facts`.
    pub(super) fn new(kept: Vec<Arc<CompanyPanel>>, made: Vec<CompanyPanel>, shared: Arc<Shared>, first_facts: u64) -> Snapshot {
        let next_facts = first_facts + made.len() as u64;
        let made = (first_facts..).zip(made).map(|(facts_id, panel)| Arc::new(CompanyPanel { facts_id, ..panel }));
        let mut companies: Vec<Arc<CompanyPanel>> = kept.into_iter().chain(made).collect();
        companies.sort_by(|a, b| sort_key(a).cmp(sort_key(b)));
        let mut by_key = HashMap::new();
        for (i, panel) in companies.iter().enumerate() {
            let i = u32::try_from(i).unwrap_or(u32::MAX);
            let listing = panel.listing.iter().flat_map(|l| [l.symbol.to_string(), l.isin.clone()]);
            by_key.extend(listing.filter(|k| !k.is_empty()).map(|k| (k.to_uppercase(), i)));
            by_key.entry(panel.company.id.to_uppercase()).or_insert(i);
        }
        let first_day = companies.iter().filter_map(|c| c.bars.dates().first()).min().copied();
        let last_day = companies.iter().filter_map(|c| c.bars.dates().last()).max().copied();
        let ex_dates = companies.iter().flat_map(|c| c.dividends.iter().map(|d| d.ex_date).chain(c.splits.iter().map(|s| s.ex_date)));
        let first_action = ex_dates.min();
        Snapshot { companies, shared, by_key, first_day, last_day, first_action, next_facts }
    }

    /// How many companies there are, delisted ones included.
    #[must_use]
    pub fn company_count(&self) -> usize {
        self.companies.len()
    }

    /// The record of the company at a position: what is of no date.
    #[must_use]
    pub fn company(&self, index: CompanyIndex) -> &Company {
        &self.companies[index as usize].company
    }

    /// The primary listing of the company at a position; `None` when it is unlisted.
    #[must_use]
    pub fn listing(&self, index: CompanyIndex) -> Option<&Listing> {
        self.companies[index as usize].listing.as_ref()
    }

    /// The primary symbol of the company at a position, or its id when it is unlisted.
    #[must_use]
    pub fn symbol(&self, index: CompanyIndex) -> &str {
        sort_key(&self.companies[index as usize])
    }

    /// The indexes by id: name and currency.
    pub fn indexes(&self) -> impl Iterator<Item = (&str, &str, Currency)> {
        self.shared.indexes.iter().map(|(id, i)| (&**id, i.name.as_str(), i.currency))
    }

    /// The first and the last session of any company, `None` when there are no prices.
    #[must_use]
    pub fn sessions(&self) -> Option<(Day, Day)> {
        self.first_day.zip(self.last_day)
    }

    /// Whether any split or dividend of any company lies on or before `t`.
    pub(super) fn has_actions(&self, t: Day) -> bool {
        self.first_action.is_some_and(|d| d <= t)
    }

    /// The last session of each calendar month, oldest first: the last day on which any company traded.
    #[must_use]
    pub fn month_ends(&self) -> Vec<Day> {
        let mut ends: BTreeMap<i32, Day> = BTreeMap::new();
        for bars in self.companies.iter().map(|c| &c.bars) {
            for day in bars.month_ends().iter().map(|i| bars.dates()[*i as usize]) {
                let end = ends.entry(day.month_index()).or_insert(day);
                *end = day.max(*end);
            }
        }
        ends.into_values().collect()
    }

    /// Whether it has the same companies as another, in the same places.
    #[must_use]
    pub fn has_companies_of(&self, other: &Snapshot) -> bool {
        let ids = |s: &Snapshot| s.companies.iter().map(|c| c.company.id.clone()).collect::<Vec<_>>();
        self.companies.len() == other.companies.len() && ids(self) == ids(other)
    }

    /// The sessions after a day, oldest first: the days on which any company traded.
    #[must_use]
    pub fn sessions_after(&self, day: Day) -> Vec<Day> {
        let Some((first, last)) = self.sessions().filter(|s| day < s.1) else { return Vec::new() };
        let from = if day < first { first } else { day.plus_days(1) };
        let many = usize::try_from(last.days_since(from) + 1).unwrap_or(0);
        let none = || vec![false; many];
        let mark = |mut traded: Vec<bool>, c: &Arc<CompanyPanel>| {
            let dates = c.bars.dates();
            for date in &dates[dates.partition_point(|d| *d < from)..] {
                if let Some(day) = usize::try_from(date.days_since(from)).ok().and_then(|i| traded.get_mut(i)) {
                    *day = true;
                }
            }
            traded
        };
        let both = |a: Vec<bool>, b: Vec<bool>| a.into_iter().zip(b).map(|(a, b)| a || b).collect();
        let traded = self.companies.par_iter().with_min_len(512).fold(none, mark).reduce(none, both);
        (0..).zip(traded).filter(|(_, traded)| *traded).map(|(i, _)| from.plus_days(i)).collect()
    }

    /// The company of a symbol, ISIN or company id, in any case.
    #[must_use]
    pub fn find(&self, key: &str) -> Option<CompanyIndex> {
        self.by_key.get(&key.trim().to_uppercase()).copied()
    }

    /// All symbols, ISINs and company ids, for suggestions.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.by_key.keys().map(String::as_str)
    }

    /// The reporting currency of most companies: the base currency until the user chooses one.
    #[must_use]
    pub fn commonest_currency(&self) -> Option<Currency> {
        let mut counts: HashMap<Currency, usize> = HashMap::new();
        for c in &self.companies {
            *counts.entry(c.company.currency).or_default() += 1;
        }
        counts.into_iter().max_by_key(|&(c, n)| (n, std::cmp::Reverse(c))).map(|(c, _)| c)
    }
}

fn sort_key(panel: &CompanyPanel) -> &str {
    panel.listing.as_ref().map_or(&*panel.company.id, |l| &*l.symbol)
}

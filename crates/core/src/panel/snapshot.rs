//! The immutable panel that readers share.

use super::{as_of::AsOf, company::CompanyPanel, history::Histories, indexes::Indexes, market::Market};
use crate::domain::{Company, Currency, Day, News};
use crate::valuation::{Start, Valuation};
use std::{
    collections::{HashMap, VecDeque},
    sync::{Arc, Mutex, PoisonError},
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
    /// Month-end histories of formulas over this snapshot, computed once.
    pub(super) histories: Histories,
    /// What valuations of all companies start from, by date and settings.
    starts: Newest<Start>,
    /// The valuations of all companies, by date and settings.
    valuations: Newest<Vec<Valuation>>,
}

/// What was made last, by key; the oldest of it is forgotten.
#[derive(Debug)]
struct Newest<T>(Mutex<VecDeque<(String, Arc<T>)>>);

impl<T> Default for Newest<T> {
    fn default() -> Newest<T> {
        Newest(Mutex::default())
    }
}

impl<T> Newest<T> {
    /// How many are kept.
    const KEPT: usize = 4;

    fn get_or_make(&self, key: &str, make: impl FnOnce() -> T) -> Arc<T> {
        let kept = |all: &VecDeque<(String, Arc<T>)>| all.iter().find(|(k, _)| k == key).map(|(_, v)| v.clone());
        if let Some(found) = kept(&self.0.lock().unwrap_or_else(PoisonError::into_inner)) {
            return found;
        }
        let made = Arc::new(make());
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        all.push_back((key.to_owned(), made.clone()));
        if all.len() > Self::KEPT {
            all.pop_front();
        }
        made
    }
}

impl Snapshot {
    pub(super) fn new(mut companies: Vec<Arc<CompanyPanel>>, shared: Arc<Shared>) -> Snapshot {
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
        Snapshot {
            companies,
            shared,
            by_key,
            first_day,
            last_day,
            first_action,
            histories: Histories::default(),
            starts: Newest::default(),
            valuations: Newest::default(),
        }
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

    /// The company of a symbol, ISIN or company id, in any case.
    #[must_use]
    pub fn find(&self, key: &str) -> Option<CompanyIndex> {
        self.by_key.get(&key.trim().to_uppercase()).copied()
    }

    /// All symbols, ISINs and company ids, for suggestions.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.by_key.keys().map(String::as_str)
    }

    /// The month-end histories computed over this snapshot so far.
    #[must_use]
    pub fn histories(&self) -> &Histories {
        &self.histories
    }

    /// The valuations of all companies at a view's date under its settings, made by `make` unless they are kept.
    pub(crate) fn valuations(&self, view: AsOf<'_>, make: impl FnOnce() -> Vec<Valuation>) -> Arc<Vec<Valuation>> {
        let settings = view.settings;
        let key = format!("{}|{}|{}|{}", view.t, settings.base, settings.assumptions.key(), settings.overrides.key());
        self.valuations.get_or_make(&key, make)
    }

    /// What the valuations of all companies at a view's date start from, made by `make` unless it is kept.
    pub(crate) fn start(&self, view: AsOf<'_>, make: impl FnOnce() -> Start) -> Arc<Start> {
        let key = format!("{}|{}|{}", view.t, view.settings.base, view.settings.assumptions.starting_key());
        self.starts.get_or_make(&key, make)
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

//! Which parts of the panel an import touches, so that only these are made anew.

use artemon_core::{
    domain::{Bar, Company, Day, Listing, Record},
    panel::{BarStanding, Snapshot},
};
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

/// Bars that may be held to be appended; with more the whole panel is loaded anew.
const MOST_APPENDED: usize = 2_000_000;

/// What an import touched, against the panel as it was before.
#[derive(Debug)]
pub(crate) struct Touched<'s> {
    before: &'s Snapshot,
    /// Companies to be made anew.
    pub(crate) anew: HashSet<Arc<str>>,
    /// Companies of which all but the bars is to be made anew.
    pub(crate) facts: HashSet<Arc<str>>,
    /// Sessions that follow those that were there.
    pub(crate) appended: HashMap<Arc<str>, Vec<Bar>>,
    appended_bars: usize,
    /// Whether anything that belongs to no company came.
    pub(crate) market: bool,
    /// The first day as of which anything is another.
    pub(crate) from: Day,
}

impl<'s> Touched<'s> {
    pub(crate) fn new(before: &'s Snapshot) -> Touched<'s> {
        Touched {
            before,
            anew: HashSet::new(),
            facts: HashSet::new(),
            appended: HashMap::new(),
            appended_bars: 0,
            market: false,
            from: Day::MAX,
        }
    }

    pub(crate) fn note(&mut self, record: &Record) {
        self.from = self.from.min(self.before.known_from(record).unwrap_or(Day::MIN));
        match record {
            Record::Annotation(_) => {}
            Record::IndexMember(_) | Record::Rate(_) | Record::Fx(_) | Record::Index(_) | Record::IndexLevel(_) => self.market = true,
            Record::News(n) if n.company_id.is_none() => self.market = true,
            Record::Price { symbol, bar } => self.note_bar(symbol, bar),
            // Of which listing the bars are may be another.
            Record::Company(Company { id, .. }) | Record::Listing(Listing { company_id: id, .. }) => {
                self.anew.insert(id.clone());
            }
            Record::Action(a) => {
                // One of a company that is new comes with its own row.
                if let Some(id) = self.before.find(&a.symbol).map(|i| self.before.company(i).id.clone()) {
                    self.facts.insert(id);
                }
            }
            _ => {
                if let Some(id) = record.company_id().filter(|id| !self.facts.contains(*id)) {
                    self.facts.insert(id.clone());
                }
            }
        }
    }

    pub(crate) fn note_bar(&mut self, symbol: &Arc<str>, bar: &Bar) {
        let Some(company) = self.before.find(symbol) else { return };
        let id = &self.before.company(company).id;
        if self.anew.contains(id) {
            return;
        }
        let follows = self.appended.get(symbol).and_then(|all| all.last()).is_none_or(|last| last.date < bar.date);
        match self.before.bar_standing(company, bar) {
            BarStanding::Same => return,
            BarStanding::Later if follows && self.appended_bars < MOST_APPENDED => {
                self.appended_bars += 1;
                self.appended.entry(symbol.clone()).or_default().push(*bar);
            }
            _ => {
                self.appended.remove(symbol);
                self.anew.insert(id.clone());
            }
        }
        self.from = self.from.min(bar.date);
    }

    pub(crate) fn is_nothing(&self) -> bool {
        self.anew.is_empty() && self.facts.is_empty() && self.appended.is_empty() && !self.market
    }
}

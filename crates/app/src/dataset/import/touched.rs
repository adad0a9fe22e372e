//! Which parts of the panel an import touches, so that only these are made anew.

use artemon_core::{
    domain::{Bar, Day, Record},
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
    pub(crate) companies: HashSet<Arc<str>>,
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
        Touched { before, companies: HashSet::new(), appended: HashMap::new(), appended_bars: 0, market: false, from: Day::MAX }
    }

    pub(crate) fn note(&mut self, record: &Record) {
        self.from = self.from.min(self.before.known_from(record).unwrap_or(Day::MIN));
        match record {
            Record::Annotation(_) => {}
            Record::IndexMember(_) | Record::Rate(_) | Record::Fx(_) | Record::Index(_) | Record::IndexLevel(_) => self.market = true,
            Record::News(n) if n.company_id.is_none() => self.market = true,
            Record::Price { symbol, bar } => self.note_bar(symbol, bar),
            Record::Action(a) => self.note_company(&a.symbol.clone()),
            _ => {
                if let Some(id) = record.company_id().filter(|id| !self.companies.contains(*id)) {
                    self.companies.insert(id.clone());
                }
            }
        }
    }

    /// Notes the company of a symbol; one that is new comes with its own row.
    fn note_company(&mut self, symbol: &str) {
        if let Some(i) = self.before.find(symbol) {
            self.companies.insert(self.before.company(i).id.clone());
        }
    }

    pub(crate) fn note_bar(&mut self, symbol: &Arc<str>, bar: &Bar) {
        let Some(company) = self.before.find(symbol) else { return };
        if self.companies.contains(&self.before.company(company).id) {
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
                self.companies.insert(self.before.company(company).id.clone());
            }
        }
        self.from = self.from.min(bar.date);
    }

    pub(crate) fn is_nothing(&self) -> bool {
        self.companies.is_empty() && self.appended.is_empty() && !self.market
    }
}

//! From the rows of the dataset, in any order, to an immutable snapshot; or to the next one, in which only what changed
//! is made anew.

use super::{
    bars::{BarColumns, Bars},
    company::{CompanyPanel, RawCompany},
    indexes::indexes,
    market::Market,
    snapshot::{Shared, Snapshot},
};
use crate::domain::{Bar, Company, FxRate, Index, IndexLevel, IndexMember, News, Rate, Record};
use rayon::prelude::*;
use std::{
    collections::{HashMap, HashSet},
    sync::Arc,
};

/// Collects rows; [`PanelBuilder::build`] sorts them into a [`Snapshot`].
#[derive(Debug, Default)]
pub struct PanelBuilder {
    companies: HashMap<Arc<str>, Company>,
    raw: Vec<RawCompany>,
    /// Where in `raw` each company is.
    places: HashMap<Arc<str>, usize>,
    /// The company of the row before: most rows are of the same one.
    last: Option<(Arc<str>, usize)>,
    company_of: HashMap<Arc<str>, Arc<str>>,
    /// Rows keyed by symbol that came before their listing.
    early: Vec<Record>,
    early_bars: Vec<(Arc<str>, BarColumns)>,
    market: MarketRows,
}

/// Some companies, ready for a snapshot.
#[derive(Debug)]
pub struct PanelPart(Vec<CompanyPanel>);

/// What is new since a snapshot.
#[derive(Debug, Default)]
pub struct Changes {
    /// Companies made anew.
    pub companies: Vec<PanelPart>,
    /// Companies made anew but for their bars, which are those of before.
    pub facts: Vec<PanelPart>,
    /// Sessions that follow those of before, by symbol.
    pub appended: HashMap<Arc<str>, Vec<Bar>>,
    /// With all rows that belong to no company, where some of them changed.
    pub market: Option<PanelBuilder>,
}

/// The rows that belong to no company.
#[derive(Debug, Default)]
struct MarketRows {
    fx: Vec<FxRate>,
    rates: Vec<Rate>,
    indexes: Vec<Index>,
    members: Vec<IndexMember>,
    levels: Vec<IndexLevel>,
    news: Vec<News>,
}

impl PanelBuilder {
    /// Takes one row. Rows of unknown companies or listings are left out when building.
    pub fn push(&mut self, record: Record) {
        match record {
            Record::Company(c) => {
                self.companies.insert(c.id.clone(), c);
            }
            Record::Listing(l) => {
                self.company_of.insert(l.symbol.clone(), l.company_id.clone());
                self.raw_mut(&l.company_id).listings.push(l);
            }
            Record::Statement(s) => self.raw_mut(&s.company_id).statements.push(s),
            Record::Estimate(e) => self.raw_mut(&e.company_id).estimates.push(e),
            Record::InsiderTrade(t) => self.raw_mut(&t.company_id).trades.push(*t),
            Record::Ownership(o) => self.raw_mut(&o.company_id).ownership.push(o),
            Record::Officer(o) => self.raw_mut(&o.company_id).officers.push(o),
            Record::Event(e) => self.raw_mut(&e.company_id).events.push(e),
            Record::News(n) => match n.company_id.clone() {
                Some(id) => self.raw_mut(&id).news.push(*n),
                None => self.market.news.push(*n),
            },
            Record::Rate(r) => self.market.rates.push(r),
            Record::Fx(r) => self.market.fx.push(r),
            Record::Index(i) => self.market.indexes.push(i),
            Record::IndexMember(m) => self.market.members.push(m),
            Record::IndexLevel(l) => self.market.levels.push(l),
            Record::Annotation(_) => {} // the user's own words take no part in any figure
            by_symbol @ (Record::Price { .. } | Record::Action(_)) => self.push_by_symbol(by_symbol),
        }
    }

    /// Takes all bars of a listing at once; those pushed one by one are for small amounts.
    pub fn push_bars(&mut self, symbol: &Arc<str>, bars: BarColumns) {
        match self.primary(symbol) {
            Some(Some(raw)) => raw.columns = bars,
            Some(None) => {}
            None => self.early_bars.push((symbol.clone(), bars)),
        }
    }

    fn push_by_symbol(&mut self, record: Record) {
        let Some(symbol) = record.symbol().cloned() else { return };
        match self.primary(&symbol) {
            None => self.early.push(record),
            Some(None) => {}
            Some(Some(raw)) => match record {
                Record::Price { bar, .. } => raw.bars.push(bar),
                Record::Action(a) => raw.actions.push(a),
                _ => {}
            },
        }
    }

    /// The rows of the company whose primary listing this is (its prices and actions count): `None` when the listing is
    /// not known, `Some(None)` when it is not primary.
    fn primary(&mut self, symbol: &Arc<str>) -> Option<Option<&mut RawCompany>> {
        let company = self.company_of.get(symbol)?.clone();
        let raw = self.raw_mut(&company);
        Some(raw.listings.iter().any(|l| l.primary && l.symbol == *symbol).then_some(raw))
    }

    fn raw_mut(&mut self, id: &Arc<str>) -> &mut RawCompany {
        let place = match &self.last {
            Some((last, place)) if Arc::ptr_eq(last, id) => *place,
            _ => {
                let place = *self.places.entry(id.clone()).or_insert(self.raw.len());
                if place == self.raw.len() {
                    self.raw.push(RawCompany::default());
                }
                self.last = Some((id.clone(), place));
                place
            }
        };
        &mut self.raw[place]
    }

    /// Sorts everything into an immutable snapshot, the companies in parallel.
    #[must_use]
    pub fn build(mut self) -> Snapshot {
        let companies = self.built_companies();
        Snapshot::new(Vec::new(), companies, Arc::new(self.market.build()), 0)
    }

    /// Sorts the companies alone, so that their rows can be let go before those of others are read.
    #[must_use]
    pub fn build_part(mut self) -> PanelPart {
        PanelPart(self.built_companies())
    }

    /// The snapshot of parts; what belongs to no company comes from this builder.
    #[must_use]
    pub fn join(self, parts: impl IntoIterator<Item = PanelPart>) -> Snapshot {
        let companies = parts.into_iter().flat_map(|p| p.0).collect();
        Snapshot::new(Vec::new(), companies, Arc::new(self.market.build()), 0)
    }

    fn built_companies(&mut self) -> Vec<CompanyPanel> {
        for record in std::mem::take(&mut self.early) {
            self.push_by_symbol(record);
        }
        for (symbol, bars) in std::mem::take(&mut self.early_bars) {
            self.push_bars(&symbol, bars);
        }
        let companies = std::mem::take(&mut self.companies).into_iter();
        let mut rows = |id: &Arc<str>| self.places.get(id).map(|p| std::mem::take(&mut self.raw[*p])).unwrap_or_default();
        let raw: Vec<_> = companies.map(|(id, company)| (company, rows(&id))).collect();
        raw.into_par_iter().map(|(c, r)| CompanyPanel::new(c, r)).collect()
    }
}

impl Snapshot {
    /// The snapshot that follows: what did not change is shared.
    #[must_use]
    pub fn followed_by(&self, changes: Changes) -> Snapshot {
        let Changes { companies, facts, appended, market } = changes;
        let grown = |c: &CompanyPanel| c.listing.as_ref().and_then(|l| c.bars.appended(appended.get(&l.symbol)?));
        let mut made: Vec<CompanyPanel> = companies.into_iter().flat_map(|p| p.0).collect();
        let of_before = |mut c: CompanyPanel| {
            if let Some(before) = self.find(&c.company.id) {
                let before = &self.companies[before as usize];
                c.bars = grown(before).unwrap_or_else(|| before.bars.clone());
            }
            c
        };
        made.par_extend(facts.into_par_iter().flat_map_iter(|p| p.0).map(of_before));
        let ids: HashSet<&Arc<str>> = made.iter().map(|c| &c.company.id).collect();
        let kept = self.companies.par_iter().filter(|c| !ids.contains(&c.company.id)).map(|c| {
            let with = |bars| Arc::new(CompanyPanel { facts: c.facts.clone(), facts_id: c.facts_id, bars });
            grown(c).map_or_else(|| c.clone(), with)
        });
        let kept: Vec<Arc<CompanyPanel>> = kept.collect();
        let shared = market.map_or_else(|| self.shared.clone(), |m| Arc::new(m.market.build()));
        Snapshot::new(kept, made, shared, self.next_facts)
    }
}

impl MarketRows {
    fn build(mut self) -> Shared {
        self.news.sort_by(|a, b| a.published_at.cmp(&b.published_at).then_with(|| a.headline.cmp(&b.headline)));
        Shared { market: Market::new(&self.fx, &self.rates), indexes: indexes(self.indexes, self.members, &self.levels), news: self.news }
    }
}

impl RawCompany {
    /// The bars, however they came.
    pub(super) fn take_bars(&mut self) -> Bars {
        if self.bars.is_empty() { Bars::new(std::mem::take(&mut self.columns)) } else { Bars::of(&std::mem::take(&mut self.bars)) }
    }
}

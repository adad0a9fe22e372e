//! From the rows of the dataset, in any order, to an immutable snapshot.

use super::{
    company::{CompanyPanel, RawCompany},
    market::Market,
    snapshot::Snapshot,
};
use crate::domain::{Company, FxRate, Rate, Record};
use rayon::prelude::*;
use std::{collections::HashMap, sync::Arc};

/// Collects rows; [`PanelBuilder::build`] sorts them into a [`Snapshot`].
#[derive(Debug, Default)]
pub struct PanelBuilder {
    companies: HashMap<Arc<str>, Company>,
    raw: HashMap<Arc<str>, RawCompany>,
    company_of: HashMap<Arc<str>, Arc<str>>,
    /// Rows keyed by symbol that came before their listing.
    early: Vec<Record>,
    fx: Vec<FxRate>,
    rates: Vec<Rate>,
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
                self.raw_mut(&l.company_id.clone()).listings.push(l);
            }
            Record::Statement(s) => self.raw_mut(&s.company_id.clone()).statements.push(*s),
            Record::Estimate(e) => self.raw_mut(&e.company_id.clone()).estimates.push(e),
            Record::InsiderTrade(t) => self.raw_mut(&t.company_id.clone()).trades.push(*t),
            Record::Ownership(o) => self.raw_mut(&o.company_id.clone()).ownership.push(o),
            Record::Rate(r) => self.rates.push(r),
            Record::Fx(r) => self.fx.push(r),
            by_symbol @ (Record::Price { .. } | Record::Action(_)) => self.push_by_symbol(by_symbol),
        }
    }

    fn push_by_symbol(&mut self, record: Record) {
        let (Record::Price { symbol, .. } | Record::Action(crate::domain::Action { symbol, .. })) = &record else { return };
        let Some(id) = self.company_of.get(symbol).cloned() else {
            self.early.push(record);
            return;
        };
        let raw = self.raw_mut(&id);
        if !raw.listings.iter().any(|l| l.primary && l.symbol == *symbol) {
            return; // the primary listing's prices and actions count
        }
        match record {
            Record::Price { bar, .. } => raw.bars.push(bar),
            Record::Action(a) => raw.actions.push(a),
            _ => {}
        }
    }

    fn raw_mut(&mut self, id: &Arc<str>) -> &mut RawCompany {
        self.raw.entry(id.clone()).or_default()
    }

    /// Sorts everything into an immutable snapshot, the companies in parallel.
    #[must_use]
    pub fn build(mut self) -> Snapshot {
        for record in std::mem::take(&mut self.early) {
            self.push_by_symbol(record);
        }
        let raw: Vec<_> = std::mem::take(&mut self.companies)
            .into_iter()
            .map(|(id, company)| (company, self.raw.remove(&id).unwrap_or_default()))
            .collect();
        let companies = raw.into_par_iter().map(|(c, r)| Arc::new(CompanyPanel::new(c, r))).collect();
        Snapshot::new(companies, Market::new(&self.fx, &self.rates))
    }
}

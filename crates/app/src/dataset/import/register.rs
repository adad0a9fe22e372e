//! Companies as filings need them: by key, identifier and symbol, with what is known of their statements and trades.

use super::concepts::own_concepts;
use crate::AppError;
use artemon_core::{
    domain::{Company, Currency, InsiderTrade, Listing, Record, Table},
    filings::{Filer, FiscalCalendar, Known},
};
use artemon_formats::{
    LEI_SCHEME, OwnConcepts, ReadError, ReadNote, ReadReport,
    company_facts::CIK_SCHEME,
    filings::Filers,
    identifiers,
    ownership_xml::{Issuer, Issuers},
};
use artemon_store::{Dataset, People, PersonId, Selection, StoreError};
use std::{collections::HashMap, ops::ControlFlow, path::Path, sync::Arc};

/// Before what is remembered of the company behind an identifier.
const ENTITY: &str = "entity\u{1f}";
/// The companies of a dataset, and what a person said of identifiers and concepts.
pub(super) struct Register<'s> {
    store: &'s Dataset,
    companies: HashMap<Arc<str>, Company>,
    /// The company of each symbol and ISIN, in capitals.
    listings: HashMap<String, Arc<str>>,
    /// The currency of each company's primary listing.
    currencies: HashMap<Arc<str>, Currency>,
    entities: HashMap<String, String>,
    pub(super) own: OwnConcepts,
    /// What tables of identifiers came to.
    pub(super) identifiers: ReadReport,
}

impl<'s> Register<'s> {
    pub(super) fn read(store: &'s Dataset, people: &People, person: &PersonId) -> Result<Register<'s>, AppError> {
        let mut register = Register {
            store,
            companies: HashMap::new(),
            listings: HashMap::new(),
            currencies: HashMap::new(),
            entities: people.mappings_beginning(person, ENTITY)?.into_iter().collect(),
            own: own_concepts(people, person)?,
            identifiers: ReadReport::default(),
        };
        let tables = Selection { tables: Some(vec![Table::Companies, Table::Listings]), companies: None };
        store.read(&tables, |record| {
            match record {
                Record::Company(company) => {
                    register.companies.insert(company.id.clone(), company);
                }
                Record::Listing(listing) => register.list(&listing),
                _ => {}
            }
            ControlFlow::Continue(())
        })?;
        Ok(register)
    }

    fn list(&mut self, listing: &Listing) {
        for key in [&*listing.symbol, &listing.isin].into_iter().filter(|key| !key.is_empty()) {
            self.listings.insert(key.to_uppercase(), listing.company_id.clone());
        }
        if listing.primary || !self.currencies.contains_key(&listing.company_id) {
            self.currencies.insert(listing.company_id.clone(), listing.currency);
        }
    }

    /// Takes what joins filers' numbers with companies: by the company's key, else the ISIN, else the symbol.
    pub(super) fn identify(&mut self, path: &Path) -> Result<(), AppError> {
        let file = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        for row in identifiers::read(path)? {
            let found: Vec<&Company> = [&row.company_id, &row.isin, &row.symbol].iter().filter_map(|key| self.find(key)).collect();
            let what = match (&row.bad_cik, found.as_slice()) {
                (Some(_), _) => "the number is none",
                (None, []) => "no such company",
                (None, [first, rest @ ..]) if rest.iter().any(|c| c.id != first.id) => "contradiction",
                (None, [company, ..]) => {
                    let entity = format!("{CIK_SCHEME}|{}", row.cik);
                    let id = company.id.to_string();
                    self.identifiers.identified.push((entity.clone(), id.clone()));
                    self.entities.insert(entity, id);
                    continue;
                }
            };
            let keys = [row.bad_cik.as_ref().unwrap_or(&row.cik), &row.company_id, &row.isin, &row.symbol];
            let detail = keys.into_iter().filter(|k| !k.is_empty()).map(String::as_str).collect::<Vec<_>>().join(" ");
            let detail = format!("line {}: {detail}", row.line);
            self.identifiers.notes.push(ReadNote { file: file.clone(), what: what.to_owned(), count: 1, detail });
        }
        Ok(())
    }

    /// A company by its key, or by the symbol or ISIN of one of its listings.
    pub(super) fn find(&self, key: &str) -> Option<&Company> {
        self.companies.get(key.trim()).or_else(|| self.companies.get(self.listings.get(&key.trim().to_uppercase())?))
    }

    fn of_company(&self, table: Table, company_id: &str, mut take: impl FnMut(Record)) -> Result<(), ReadError> {
        let rows = Selection { tables: Some(vec![table]), companies: Some(vec![company_id.to_owned()]) };
        let read = self.store.read(&rows, |record| {
            take(record);
            ControlFlow::Continue(())
        });
        read.map(drop).map_err(|e: StoreError| ReadError::Taking(Box::new(e)))
    }
}

/// Remembers whose identifiers are.
pub(super) fn remember_entities(people: &People, person: &PersonId, all: &[(String, String)]) -> Result<(), StoreError> {
    let all: Vec<_> = all.iter().map(|(entity, company_id)| (format!("{ENTITY}{entity}"), company_id.clone())).collect();
    people.remember_mappings(person, &all)
}

impl Filers for Register<'_> {
    fn filer(&self, company_id: &str) -> Option<Filer> {
        let company = self.find(company_id)?;
        let calendar = FiscalCalendar { end_month: company.fiscal_year_end_month };
        Some(Filer { company_id: company.id.clone(), kind: company.kind, calendar: Some(calendar), label_shift: None })
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>> {
        let by_lei = || self.companies.values().find(|c| !c.lei.is_empty() && c.lei == identifier).filter(|_| scheme == LEI_SCHEME);
        let remembered = self.entities.get(&format!("{scheme}|{identifier}")).and_then(|id| self.companies.get(id.as_str()));
        remembered.or_else(by_lei).map(|c| c.id.clone())
    }

    fn known(&self, company_id: &str) -> Result<Known, ReadError> {
        let mut known = Known::default();
        self.of_company(Table::Statements, company_id, |record| {
            if let Record::Statement(row) = record {
                known.add(*row);
            }
        })?;
        Ok(known)
    }
}

impl Issuers for Register<'_> {
    fn issuer(&self, issuer: &Issuer) -> Option<(Arc<str>, Currency)> {
        self.company(self.listings.get(&issuer.symbol.trim().to_uppercase())?)
    }

    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)> {
        let company = self.find(company_id)?;
        let currency = self.currencies.get(&company.id).copied().unwrap_or(company.currency);
        Some((company.id.clone(), currency))
    }

    fn trades(&self, company_id: &str) -> Result<Vec<InsiderTrade>, ReadError> {
        let mut trades = Vec::new();
        self.of_company(Table::InsiderTrades, company_id, |record| {
            if let Record::InsiderTrade(trade) = record {
                trades.push(*trade);
            }
        })?;
        trades.sort_by(|a, b| (a.filed_on, &a.filing_id).cmp(&(b.filed_on, &b.filing_id)));
        Ok(trades)
    }
}

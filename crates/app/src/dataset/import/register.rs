//! Companies as filings need them: by key, identifier and symbol, with what is known of their statements and trades, rows of the same
//! import included.

use super::concepts::own_concepts;
use crate::AppError;
use artemon_core::{
    domain::{Company, Currency, InsiderTrade, Listing, Record, Statement, Table},
    filings::{Filer, FiscalCalendar, Known},
};
use artemon_formats::{
    CIK_SCHEME, LEI_SCHEME, OwnConcepts, ReadError, ReadNote, filings::Filers, ownership::Issuers, price_files::Listings, some_of,
};
use artemon_store::{Dataset, People, PersonId, Selection, StoreError};
use std::{
    collections::{HashMap, HashSet},
    ops::ControlFlow,
    sync::{Arc, Mutex, MutexGuard, PoisonError},
};

/// Companies that a note names.
const NAMED: usize = 20;
/// Before what is remembered of the company behind an identifier.
const ENTITY: &str = "entity\u{1f}";

/// The companies of a dataset, and what a person said of identifiers and concepts.
pub(super) struct Register<'s> {
    store: &'s Dataset,
    pub(super) own: OwnConcepts,
    book: Mutex<Book>,
    /// Whether rows of the import are needed by what is read after them.
    notes_rows: bool,
    /// The companies that were asked for; `None` for all.
    only: Option<HashSet<Arc<str>>>,
}

/// What is known by now.
#[derive(Debug, Default)]
pub(super) struct Book {
    pub(super) companies: HashMap<Arc<str>, Company>,
    /// Listings by their symbols in capitals.
    pub(super) listings: HashMap<String, Listing>,
    /// The symbols of ISINs, both in capitals.
    isins: HashMap<String, String>,
    leis: HashMap<String, Arc<str>>,
    /// The currency of each company's primary listing.
    currencies: HashMap<Arc<str>, Currency>,
    /// The companies of identifiers.
    pub(super) entities: HashMap<String, String>,
    /// Companies that are new in the import.
    added: Vec<Arc<str>>,
    /// Rows of the import so far.
    statements: HashMap<Arc<str>, Vec<Statement>>,
    trades: HashMap<Arc<str>, Vec<InsiderTrade>>,
}

impl Book {
    pub(super) fn add(&mut self, record: &Record) {
        match record {
            Record::Company(company) => {
                if !company.lei.is_empty() {
                    self.leis.insert(company.lei.clone(), company.id.clone());
                }
                self.companies.insert(company.id.clone(), company.clone());
            }
            Record::Listing(listing) => {
                let symbol = listing.symbol.to_uppercase();
                if !listing.isin.is_empty() {
                    self.isins.insert(listing.isin.to_uppercase(), symbol.clone());
                }
                if listing.primary || !self.currencies.contains_key(&listing.company_id) {
                    self.currencies.insert(listing.company_id.clone(), listing.currency);
                }
                self.listings.insert(symbol, listing.clone());
            }
            Record::Statement(row) => self.statements.entry(row.company_id.clone()).or_default().push((**row).clone()),
            Record::InsiderTrade(row) => self.trades.entry(row.company_id.clone()).or_default().push((**row).clone()),
            _ => {}
        }
    }

    /// The listing of a symbol or of an ISIN.
    pub(super) fn listing(&self, key: &str) -> Option<&Listing> {
        let key = key.trim().to_uppercase();
        self.listings.get(&key).or_else(|| self.listings.get(self.isins.get(&key)?))
    }

    /// A company by its key, or by the symbol or ISIN of one of its listings.
    fn find(&self, key: &str) -> Option<&Company> {
        self.companies.get(key.trim()).or_else(|| self.companies.get(&self.listing(key)?.company_id))
    }

    /// The company of a register's number: remembered, or one that was made from its filings.
    pub(super) fn registered(&self, cik: &str) -> Option<&Company> {
        let remembered = self.entities.get(&format!("{CIK_SCHEME}|{cik}")).and_then(|id| self.companies.get(id.as_str()));
        remembered.or_else(|| self.companies.get(format!("CIK{cik}").as_str()))
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<&Company> {
        match scheme {
            CIK_SCHEME => self.registered(identifier),
            _ => {
                let remembered = self.entities.get(&format!("{scheme}|{identifier}")).and_then(|id| self.companies.get(id.as_str()));
                let by_lei = || self.companies.get(self.leis.get(identifier)?);
                remembered.or_else(|| by_lei().filter(|_| scheme == LEI_SCHEME))
            }
        }
    }

    /// Whether a company has a listing.
    pub(super) fn is_listed(&self, company_id: &str) -> bool {
        self.currencies.contains_key(company_id)
    }

    fn with_currency(&self, company: &Company) -> (Arc<str>, Currency) {
        (company.id.clone(), self.currencies.get(&company.id).copied().unwrap_or(company.currency))
    }
}

impl<'s> Register<'s> {
    pub(super) fn read(store: &'s Dataset, people: &People, person: &PersonId) -> Result<Register<'s>, AppError> {
        let entities = people.mappings_beginning(person, ENTITY)?.into_iter().collect();
        let mut book = Book { entities, ..Book::default() };
        let tables = Selection { tables: Some(vec![Table::Companies, Table::Listings]), companies: None };
        store.read(&tables, |record| {
            book.add(&record);
            ControlFlow::Continue(())
        })?;
        Ok(Register { store, own: own_concepts(people, person)?, book: Mutex::new(book), notes_rows: false, only: None })
    }

    /// For an import that reads several things one after the other.
    pub(super) fn noting_rows(self, notes_rows: bool) -> Register<'s> {
        Register { notes_rows, ..self }
    }

    /// For an import that takes only some companies, given by key, symbol, ISIN or the register's number.
    ///
    /// # Errors
    /// One that is not known.
    pub(super) fn only(self, asked: &[String]) -> Result<Register<'s>, ReadError> {
        let book = self.book();
        let number = |key: &str| artemon_formats::register_number(key).and_then(|cik| Some(book.registered(&cik)?.id.clone()));
        let found = asked.iter().map(|key| {
            let company = book.find(key).map(|c| c.id.clone()).or_else(|| number(key));
            company.ok_or_else(|| ReadError::NoSuchCompany { file: "The companies asked for".to_owned(), company: key.clone() })
        });
        let only = found.collect::<Result<HashSet<_>, _>>()?;
        drop(book);
        Ok(Register { only: (!asked.is_empty()).then_some(only), ..self })
    }

    pub(super) fn book(&self) -> MutexGuard<'_, Book> {
        self.book.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Hears of a row of the import.
    pub(super) fn note(&self, record: &Record) {
        let is_needed = match record {
            Record::Company(_) | Record::Listing(_) => true,
            Record::Statement(_) | Record::InsiderTrade(_) => self.notes_rows,
            _ => false,
        };
        if is_needed {
            let mut book = self.book();
            if let Record::Company(company) = record
                && !book.companies.contains_key(&company.id)
            {
                book.added.push(company.id.clone());
            }
            book.add(record);
        }
    }

    /// What a person should know of new companies that have no listing.
    pub(super) fn unlisted(&self) -> Option<ReadNote> {
        let book = self.book();
        let unlisted: Vec<&str> = book.added.iter().filter(|id| !book.is_listed(id)).map(|id| &**id).collect();
        (!unlisted.is_empty()).then(|| ReadNote {
            file: "New companies".to_owned(),
            what: "no listing: in no universe until listings or identifiers come".to_owned(),
            count: unlisted.len() as u64,
            detail: some_of(&unlisted, NAMED),
        })
    }

    /// A company by its key, or by the symbol or ISIN of one of its listings.
    pub(super) fn find(&self, key: &str) -> Option<Company> {
        self.book().find(key).cloned()
    }

    fn is_asked_for(&self, company: &Company) -> bool {
        self.only.as_ref().is_none_or(|only| only.contains(&company.id))
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
        let calendar = company.fiscal_year_end_month.map(|end_month| FiscalCalendar { end_month });
        Some(Filer { company_id: company.id, kind: company.kind, calendar, label_shift: None })
    }

    fn company_row(&self, company_id: &str) -> Option<Company> {
        self.book().companies.get(company_id).cloned()
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>> {
        let book = self.book();
        book.identified(scheme, identifier).filter(|c| self.is_asked_for(c)).map(|c| c.id.clone())
    }

    fn known(&self, company_id: &str) -> Result<Known, ReadError> {
        let mut known = Known::default();
        self.of_company(Table::Statements, company_id, |record| {
            if let Record::Statement(row) = record {
                known.add(*row);
            }
        })?;
        self.book().statements.get(company_id).into_iter().flatten().for_each(|row| known.add(row.clone()));
        Ok(known)
    }
}

impl Listings for Register<'_> {
    fn symbol(&self, key: &str) -> Option<Arc<str>> {
        let book = self.book();
        let on_market = || {
            let (symbol, mic) = key.rsplit_once('.')?;
            book.listing(symbol).filter(|l| l.mic.eq_ignore_ascii_case(mic))
        };
        let listing = book.listing(key).or_else(on_market)?;
        let is_asked_for = book.companies.get(&listing.company_id).is_none_or(|c| self.is_asked_for(c));
        is_asked_for.then(|| listing.symbol.clone())
    }
}

impl Issuers for Register<'_> {
    fn listed(&self, symbol: &str) -> Option<(Arc<str>, Currency)> {
        let book = self.book();
        let company = book.companies.get(&book.listings.get(&symbol.trim().to_uppercase())?.company_id)?;
        self.is_asked_for(company).then(|| book.with_currency(company))
    }

    fn registered(&self, cik: &str) -> Option<(Arc<str>, Currency)> {
        let book = self.book();
        let company = book.registered(&artemon_formats::register_number(cik)?)?;
        self.is_asked_for(company).then(|| book.with_currency(company))
    }

    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)> {
        let book = self.book();
        book.find(company_id).map(|company| book.with_currency(company))
    }

    fn trades(&self, company_id: &str) -> Result<Vec<InsiderTrade>, ReadError> {
        let mut trades: Vec<InsiderTrade> = Vec::new();
        self.of_company(Table::InsiderTrades, company_id, |record| {
            if let Record::InsiderTrade(trade) = record {
                trades.push(*trade);
            }
        })?;
        trades.extend(self.book().trades.get(company_id).into_iter().flatten().cloned());
        trades.sort_by(|a, b| (a.filed_on, &a.filing_id).cmp(&(b.filed_on, &b.filing_id)));
        Ok(trades)
    }
}

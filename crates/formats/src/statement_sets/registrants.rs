//! The filers of sets: companies that are known, and new ones made from what the sets say of them.

use super::{NewFilers, industries::industry, submissions::Submission};
use crate::{
    ReadError, ReadNote,
    filers::{self, CIK_SCHEME},
    filings::Filers,
    reading::Take,
    text::some_of,
};
use artemon_core::{
    domain::{Company, Currency, Day, Kind, Record, Statement},
    filings::{Filer, FiscalCalendar, Known},
};
use rustc_hash::FxHashMap;
use std::sync::Arc;

/// Companies that a warning names.
const NAMED: usize = 20;

/// Every filer that is taken.
pub(super) struct Registrants<'f> {
    filers: &'f dyn Filers,
    new: NewFilers,
    by_number: FxHashMap<String, Option<usize>>,
    all: Vec<Registrant>,
}

/// A filer.
pub(super) struct Registrant {
    pub(super) filer: Filer,
    pub(super) known: Known,
    /// What the newest filing says of it, where no company is known.
    new: Option<Submission>,
    /// The month of the newest filing.
    end_month: Option<u8>,
    newest: Day,
    /// How filings call the fiscal years that they end in.
    stated: Vec<(i32, Day)>,
    /// The last day and the currency of the newest row.
    row: Option<(Day, Currency)>,
}

impl<'f> Registrants<'f> {
    pub(super) fn new(filers: &'f dyn Filers, new: NewFilers) -> Registrants<'f> {
        Registrants { filers, new, by_number: FxHashMap::default(), all: Vec::new() }
    }

    /// Hears of a filing before any is taken.
    pub(super) fn hear(&mut self, filing: &Submission) {
        let at = match self.by_number.get(&filing.cik) {
            Some(at) => *at,
            None => {
                let at = self.registrant(filing).map(|registrant| {
                    self.all.push(registrant);
                    self.all.len() - 1
                });
                self.by_number.insert(filing.cik.clone(), at);
                at
            }
        };
        let Some(registrant) = at.map(|at| &mut self.all[at]) else { return };
        if filing.filed_on >= registrant.newest {
            registrant.newest = filing.filed_on;
            registrant.end_month = filing.end_month.or(registrant.end_month);
            if let Some(new) = &mut registrant.new {
                new.clone_from(filing);
            }
        }
        if filers::counts(&filing.form) {
            registrant.stated.extend(filing.fiscal_year.zip(filing.period));
        }
    }

    fn registrant(&self, filing: &Submission) -> Option<Registrant> {
        let known = self.filers.identified(CIK_SCHEME, &filing.cik).and_then(|id| self.filers.filer(&id));
        let is_new = known.is_none();
        if is_new && self.new == NewFilers::LeaveOut {
            return None;
        }
        let company_id: Arc<str> = format!("CIK{}", filing.cik).into();
        let filer = known.unwrap_or(Filer { company_id, kind: Kind::Operating, calendar: None, label_shift: None });
        Some(Registrant {
            filer,
            known: Known::default(),
            new: is_new.then(|| filing.clone()),
            end_month: None,
            newest: Day::MIN,
            stated: Vec::new(),
            row: None,
        })
    }

    /// When every filing was heard of: calendars, kinds and labels of fiscal years.
    ///
    /// # Errors
    /// When what is known of a company cannot be read.
    pub(super) fn settle(&mut self) -> Result<(), ReadError> {
        for registrant in &mut self.all {
            let kind = match &registrant.new {
                Some(new) => industry(&new.sic).map_or(Kind::Operating, |i| i.kind),
                None => {
                    registrant.known = self.filers.known(&registrant.filer.company_id)?;
                    registrant.filer.kind
                }
            };
            let end_month = registrant.end_month.unwrap_or(12);
            let calendar = registrant.filer.calendar.unwrap_or(FiscalCalendar { end_month });
            let filer = Filer { kind, ..registrant.filer.clone() };
            let stated = std::mem::take(&mut registrant.stated).into_iter();
            // A calendar that was not known is written down with the company.
            let is_filled = registrant.new.is_none() && registrant.filer.calendar.is_none();
            registrant.end_month = registrant.end_month.filter(|_| is_filled || registrant.new.is_some());
            registrant.filer = filers::settled(filer, calendar, Some(registrant.newest), &registrant.known, stated);
        }
        Ok(())
    }

    /// The filer of a number, if it is taken.
    pub(super) fn find(&self, cik: &str) -> Option<usize> {
        self.by_number.get(cik).copied().flatten()
    }

    pub(super) fn get(&mut self, at: usize) -> &mut Registrant {
        &mut self.all[at]
    }

    /// New companies that have statements, and those whose calendar is now known; how many.
    ///
    /// # Errors
    /// A reading that refuses a row.
    pub(super) fn companies(self, take: &mut Take<'_>) -> Result<u64, ReadError> {
        let (mut rows, mut unclassified) = (0, Vec::new());
        for registrant in self.all {
            let Some((_, currency)) = registrant.row else { continue };
            let id = registrant.filer.company_id.clone();
            let row = match (registrant.new, registrant.end_month) {
                (Some(new), end_month) => {
                    if industry(&new.sic).is_none() {
                        unclassified.push(id.clone());
                    }
                    Some(company(id, new, end_month, currency))
                }
                (None, Some(month)) => self.filers.company_row(&id).map(|c| Company { fiscal_year_end_month: Some(month), ..c }),
                (None, None) => None,
            };
            if let Some(row) = row {
                let now = take.progress;
                take.good(Record::Company(row), now)?;
                rows += 1;
            }
        }
        if !unclassified.is_empty() {
            let ids: Vec<&str> = unclassified.iter().map(|id| &**id).collect();
            let (what, detail) = ("no sic: sector and industry not known".to_owned(), some_of(&ids, NAMED));
            take.report.note(ReadNote { file: super::FILES[0].to_owned(), what, count: unclassified.len() as u64, detail });
        }
        Ok(rows)
    }
}

impl Registrant {
    /// Keeps the currency of the newest row.
    pub(super) fn note_rows(&mut self, rows: &[Statement]) {
        for row in rows {
            if self.row.is_none_or(|(end, _)| row.period_end >= end) {
                self.row = Some((row.period_end, row.currency));
            }
        }
    }
}

fn company(id: Arc<str>, new: Submission, end_month: Option<u8>, currency: Currency) -> Company {
    let of = industry(&new.sic);
    Company {
        id,
        name: new.name,
        country: new.country,
        sector: of.map(|i| i.sector.clone()).unwrap_or_default(),
        industry: of.map(|i| i.name.clone()).unwrap_or_default(),
        currency,
        fiscal_year_end_month: end_month,
        kind: of.map_or(Kind::Operating, |i| i.kind),
        description: String::new(),
        employees: None,
        founded: None,
        lei: String::new(),
    }
}

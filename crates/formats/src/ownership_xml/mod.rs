//! Ownership filings in the public XML form: forms 3, 4 and 5 and their amendments.

mod read;

use crate::{
    BadCell, Progress, ReadError, ReadNote, ReadReport, Reading,
    filings::{FilingSource, LONGEST_PROBLEM, file_name},
    reading::Take,
    text::{decode, shortened},
};
use artemon_core::{
    domain::{Currency, Day, InsiderTrade, Record, Table},
    filings::{FiledTrade, TradeNote},
};
pub use read::{Issuer, OwnershipDocument};
use std::{
    collections::{HashMap, hash_map::Entry},
    fs,
    path::Path,
    sync::Arc,
};

/// The name of the outermost element.
pub(crate) const ROOT: &str = "ownershipDocument";
/// The largest filing that is read, in bytes.
const LARGEST: u64 = 32 << 20;

/// Companies as ownership filings need them.
pub trait Issuers {
    /// The company of an issuer, and the currency of its primary listing.
    fn issuer(&self, issuer: &Issuer) -> Option<(Arc<str>, Currency)>;
    /// The company of a key, and the currency of its primary listing.
    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)>;
    /// The known trades of a company, by the day of filing.
    ///
    /// # Errors
    /// When they cannot be read.
    fn trades(&self, company_id: &str) -> Result<Vec<InsiderTrade>, ReadError>;
}

/// Reads a filing.
///
/// # Errors
/// A file that cannot be read or is no ownership filing.
pub fn open(path: &Path) -> Result<OwnershipDocument, ReadError> {
    let file = file_name(path);
    let io = |source| ReadError::Io { file: file.clone(), source };
    let unusable = |problem: String| ReadError::Filing { file: file.clone(), problem: shortened(&problem, LONGEST_PROBLEM) };
    if fs::metadata(path).map_err(io)?.len() > LARGEST {
        return Err(unusable(format!("it is larger than {} MB, as no ownership filing is", LARGEST >> 20)));
    }
    let bytes = fs::read(path).map_err(io)?;
    let text = decode(&bytes).map_err(unusable)?;
    read::document(&text).map_err(unusable)
}

/// Takes filings one after the other, in the order in which they were filed, and then by the names of their files.
///
/// # Errors
/// A file that cannot be read; an issuer that no company is; a reading that refuses a row or ends it.
pub fn read(sources: &[FilingSource], issuers: &dyn Issuers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let mut all = sources.iter().map(|s| Ok((s, file_name(&s.path), open(&s.path)?))).collect::<Result<Vec<_>, ReadError>>()?;
    let filed = |s: &FilingSource, d: &OwnershipDocument| s.answers.filed_on.or(d.signed_on);
    all.sort_by(|a, b| (filed(a.0, &a.2), &a.1).cmp(&(filed(b.0, &b.2), &b.1)));
    let (mut take, mut known) = (Take::new(reading), HashMap::<Arc<str>, Vec<InsiderTrade>>::new());
    take.progress = Progress { table: Table::InsiderTrades, ..take.progress };
    for (source, file, document) in all {
        let filed_on = filed(source, &document).ok_or_else(|| ReadError::FiledOn { file: file.clone(), hint: String::new() })?;
        let company = match &source.answers.company_id {
            Some(id) => issuers.company(id).ok_or_else(|| ReadError::NoSuchCompany { file: file.clone(), company: id.clone() })?,
            None => issuers.issuer(&document.issuer).ok_or_else(|| document.issuer.unknown(&file))?,
        };
        let mut notes = Notes { file: &file, take: &mut take };
        notes.of_document(&document, source.answers.filed_on.is_none().then_some(filed_on));
        let trades = notes.trades(&document, filed_on);
        let filing_id = source.answers.source.clone().unwrap_or_else(|| stem(&source.path));
        let filing = document.filing(filing_id, filed_on, trades);
        let known = match known.entry(company.0.clone()) {
            Entry::Occupied(known) => known.into_mut(),
            Entry::Vacant(new) => new.insert(issuers.trades(&company.0)?),
        };
        let filed = filing.rows(&company.0, company.1, known);
        notes.of_rows(&filed.notes);
        let now = take.progress;
        filed.rows.into_iter().try_for_each(|row| take.good(Record::InsiderTrade(Box::new(row)), now))?;
    }
    let rows = take.progress.rows - take.report.bad_rows;
    take.report.rows.push((Table::InsiderTrades, rows));
    Ok(take.report)
}

fn stem(path: &Path) -> String {
    path.file_stem().map_or_else(|| file_name(path), |s| s.to_string_lossy().into_owned())
}

/// Writes down what became of a filing.
struct Notes<'n, 'r> {
    file: &'n str,
    take: &'n mut Take<'r>,
}

impl Notes<'_, '_> {
    fn note(&mut self, what: &str, count: u64, detail: &str) {
        if count > 0 {
            self.take.report.note(ReadNote { file: self.file.to_owned(), what: what.to_owned(), count, detail: detail.to_owned() });
        }
    }

    fn of_document(&mut self, document: &OwnershipDocument, signed_on: Option<Day>) {
        self.note("holding", document.holdings, "");
        self.note("derivative transaction", document.derivative_transactions, "");
        for owner in document.owners.iter().skip(1) {
            self.note("joint owner", 1, &owner.name);
        }
        if let Some(day) = signed_on {
            self.note("filed_on from the signature", 1, &day.to_string());
        }
        if let Some(owner) = document.owners.first().filter(|o| o.role().is_none()) {
            self.note("role not known", 1, &owner.title);
        }
    }

    /// The transactions that can be used; others are bad values.
    fn trades(&mut self, document: &OwnershipDocument, filed_on: Day) -> Vec<FiledTrade> {
        let mut usable = Vec::new();
        for raw in &document.transactions {
            match raw.trade(&document.footnotes, filed_on) {
                Ok(trade) => {
                    if let Some(footnote) = raw.price_footnote() {
                        self.note("price in a footnote", 1, footnote);
                    }
                    usable.push(trade);
                }
                Err(bad) => self.take.bad(BadCell { file: self.file.to_owned(), ..*bad }),
            }
        }
        usable
    }

    fn of_rows(&mut self, notes: &[(TradeNote, String)]) {
        for (note, about) in notes {
            match note {
                TradeNote::OtherSecurity => self.note("other security", 1, about),
                TradeNote::RepeatedUnchanged => self.note("repeated unchanged", 1, ""),
                TradeNote::Replaces => self.note("replaces", 1, about),
            }
        }
    }
}

//! Ownership filings in the public XML form: forms 3, 4 and 5 and their amendments.

mod document;

use crate::{
    BadCell, Progress, ReadError, ReadReport, Reading,
    filings::{FilingSource, LONGEST_PROBLEM, file_name},
    ownership::{Issuer, Issuers, Notes},
    reading::Take,
    text::{decode, shortened},
};
use artemon_core::{
    domain::{Day, InsiderTrade, Record, Table},
    filings::FiledTrade,
};
pub use document::OwnershipDocument;
use document::TRADES;
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
    document::document(&text).map_err(unusable)
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
            None => issuers.listed(&document.issuer.symbol).ok_or_else(|| unknown(&document.issuer, &file))?,
        };
        let mut notes = Notes { file, take: &mut take };
        let relation = document.owners.first().map_or("", |o| &o.title);
        notes.of_filing(document.holdings, document.derivative_transactions, &document.owners, relation);
        if source.answers.filed_on.is_none() {
            notes.note("filed_on from the signature", 1, &filed_on.to_string());
        }
        let trades = trades(&document, filed_on, &mut notes);
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

/// The transactions that can be used; others are bad values.
fn trades(document: &OwnershipDocument, filed_on: Day, notes: &mut Notes<'_, '_>) -> Vec<FiledTrade> {
    let mut usable = Vec::new();
    for raw in &document.transactions {
        match raw.trade(&TRADES, filed_on, |id| document.footnotes.get(id).cloned()) {
            Ok(trade) => {
                notes.of_price(raw);
                usable.push(trade);
            }
            Err(bad) => notes.take.bad(BadCell { file: notes.file.clone(), ..*bad }),
        }
    }
    usable
}

fn unknown(issuer: &Issuer, file: &str) -> ReadError {
    ReadError::WhoseFiling { file: file.to_owned(), scheme: format!("symbol {}", issuer.symbol), identifier: issuer.cik.clone() }
}

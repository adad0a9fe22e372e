//! Quarterly sets of insiders' trades as regulators give them out: filings, owners, transactions and footnotes, tab-separated, in a zip
//! or a folder. Filings of all sets are taken in the order in which they became public.

mod tables;

use crate::{
    BadCell, Progress, ReadError, ReadReport, Reading,
    filers::due,
    filings::file_size,
    ownership::{Issuers, Notes},
    reading::Take,
    set_files::SetFiles,
};
use artemon_core::{
    domain::{Currency, Day, InsiderTrade, Record, Table},
    filings::{OwnershipFiling, ReportingOwner},
};
use rustc_hash::{FxHashMap, FxHashSet};
use std::{
    path::{Path, PathBuf},
    sync::Arc,
};
use tables::{Filed, TRADES, Tables};

/// The files that tell such a set, in lower case.
pub(crate) const FILES: [&str; 2] = [tables::SUBMISSIONS, tables::TRANSACTIONS];

/// Reads sets of trades together.
///
/// # Errors
/// A set that cannot be read; a reading that refuses a row or ends it.
pub fn read(paths: &[PathBuf], issuers: &dyn Issuers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::InsiderTrades, bytes_in_all: paths.iter().map(|p| file_size(p)).sum(), ..take.progress };
    let mut sets = paths.iter().map(|path| Survey::of(path)).collect::<Result<Vec<_>, _>>()?;
    sets.sort_by_key(|s| s.first);
    let amended: FxHashSet<String> = sets.iter_mut().flat_map(|s| std::mem::take(&mut s.amended)).collect();
    let mut known = KnownTrades { issuers, amended, by_company: FxHashMap::default() };
    let mut seen: FxHashMap<String, Arc<str>> = FxHashMap::default();
    let mut pending: Vec<Pending> = Vec::new();
    while !sets.is_empty() {
        let Survey { path, .. } = sets.remove(0);
        let mut set = SetFiles::open(&path)?;
        let name: Arc<str> = set.name.as_str().into();
        let filings = taken(Tables::submissions(&mut set)?, &name, issuers, &mut seen, &mut take);
        pending.extend(Tables::fill(&mut set, filings, &mut take)?);
        for filing in due(&mut pending, sets.first().map(|s| s.first), |p| (p.filed.on, &p.filed.accession)) {
            one(filing, &mut known, &mut take)?;
        }
        take.finished_file(file_size(&path));
        take.tell()?;
    }
    let rows = take.progress.rows - take.report.bad_rows;
    take.report.rows.push((Table::InsiderTrades, rows));
    Ok(take.report)
}

/// A set before it is read.
struct Survey {
    path: PathBuf,
    /// The day of its first filing.
    first: Day,
    /// The owners of whom it amends something.
    amended: Vec<String>,
}

impl Survey {
    fn of(path: &Path) -> Result<Survey, ReadError> {
        let mut set = SetFiles::open(path)?;
        let filings = Tables::submissions(&mut set)?;
        let first = filings.iter().filter_map(|f| f.as_ref().ok()).map(|f| f.on).min().unwrap_or(Day::MAX);
        let amendments: FxHashSet<String> = filings.into_iter().flatten().filter(|f| f.is_amendment).map(|f| f.accession).collect();
        Ok(Survey { path: path.to_owned(), first, amended: Tables::owners_of(&mut set, &amendments)? })
    }
}

/// A filing of a known issuer.
#[derive(Debug)]
struct Pending {
    /// As reports call it.
    name: String,
    company: (Arc<str>, Currency),
    filed: Filed,
    owners: Vec<ReportingOwner>,
    /// What the first owner is to the company, as written.
    relation: String,
    transactions: Vec<crate::ownership::RawTransaction>,
    /// Footnotes by their ids.
    footnotes: FxHashMap<String, String>,
    holdings: u64,
    derivatives: u64,
}

/// The filings that are taken by their numbers: each once, of issuers that are known.
fn taken(
    filings: Vec<Result<Filed, Box<BadCell>>>,
    set: &Arc<str>,
    issuers: &dyn Issuers,
    seen: &mut FxHashMap<String, Arc<str>>,
    take: &mut Take<'_>,
) -> FxHashMap<String, Pending> {
    let mut all = FxHashMap::default();
    for filed in filings {
        let filed = match filed {
            Ok(filed) => filed,
            Err(bad) => {
                take.bad(BadCell { file: format!("{set}: {}", bad.file), ..*bad });
                continue;
            }
        };
        let name = format!("{set}/{}", filed.accession);
        let mut notes = Notes { file: name.clone(), take };
        if let Some(first) = seen.get(&filed.accession) {
            notes.note("repeated filing", 1, first);
            continue;
        }
        let (registered, listed) = (issuers.registered(&filed.issuer.cik), issuers.listed(&filed.issuer.symbol));
        if registered.is_none() && listed.is_some() {
            notes.note("issuer by symbol", 1, &filed.issuer.symbol);
        }
        if registered.as_ref().zip(listed.as_ref()).is_some_and(|(r, l)| r.0 != l.0) {
            notes.note("symbol disagrees", 1, &filed.issuer.symbol);
        }
        let Some(company) = registered.or(listed) else {
            notes.note("unknown issuer", 1, format!("{} {}", filed.issuer.cik, filed.issuer.symbol).trim());
            continue;
        };
        seen.insert(filed.accession.clone(), set.clone());
        all.insert(filed.accession.clone(), Pending::new(name, company, filed));
    }
    all
}

impl Pending {
    fn new(name: String, company: (Arc<str>, Currency), filed: Filed) -> Pending {
        Pending {
            name,
            company,
            filed,
            owners: Vec::new(),
            relation: String::new(),
            transactions: Vec::new(),
            footnotes: FxHashMap::default(),
            holdings: 0,
            derivatives: 0,
        }
    }
}

/// The rows of one filing.
fn one(pending: Pending, known: &mut KnownTrades<'_>, take: &mut Take<'_>) -> Result<(), ReadError> {
    let Pending { name, company, filed, owners, relation, transactions, footnotes, holdings, derivatives } = pending;
    let mut notes = Notes { file: name, take };
    let Some(owner) = owners.first().cloned() else {
        notes.note("no owner", 1, "");
        return Ok(());
    };
    notes.of_filing(holdings, derivatives, &owners, &relation);
    let mut trades = Vec::new();
    for raw in &transactions {
        match raw.trade(&TRADES, filed.on, |id| footnotes.get(id).cloned()) {
            Ok(trade) => {
                notes.of_price(raw);
                trades.push(trade);
            }
            Err(bad) => notes.take.bad(BadCell { file: notes.file.clone(), ..*bad }),
        }
    }
    let (filing_id, filed_on, is_amendment, is_planned) = (filed.accession, filed.on, filed.is_amendment, filed.is_planned);
    let filing = OwnershipFiling { filing_id, filed_on, is_amendment, is_planned, owner, trades };
    let filed = known.of(&company.0, &filing.owner.id, |known| filing.rows(&company.0, company.1, known))?;
    notes.of_rows(&filed.notes);
    let now = take.progress;
    filed.rows.into_iter().try_for_each(|row| take.good(Record::InsiderTrade(Box::new(row)), now))
}

/// Known trades, as far as something amends them: all others need not be held.
struct KnownTrades<'i> {
    issuers: &'i dyn Issuers,
    /// The owners of whom something is amended.
    amended: FxHashSet<String>,
    by_company: FxHashMap<Arc<str>, Vec<InsiderTrade>>,
}

impl KnownTrades<'_> {
    fn of<T>(&mut self, company: &Arc<str>, owner: &str, rows: impl FnOnce(&mut Vec<InsiderTrade>) -> T) -> Result<T, ReadError> {
        if !self.by_company.contains_key(company) {
            let mut trades = self.issuers.trades(company)?;
            // What was amended earlier stays so when its filing comes again.
            trades.retain(|t| t.superseded_on.is_some() || self.amended.contains(&*t.insider_id));
            self.by_company.insert(company.clone(), trades);
        }
        let known = self.by_company.entry(company.clone()).or_default();
        let before = known.len();
        let made = rows(known);
        if !self.amended.contains(owner) {
            known.truncate(before);
        }
        Ok(made)
    }
}

//! All facts of a filer as JSON, as regulators give them out: a file a filer, singly or many in a zip.

mod parse;

use crate::{
    Progress, ReadError, ReadNote, ReadReport, Reading,
    archive::{Archive, MAGIC},
    filers::{self, CIK_SCHEME},
    filings::{Counts, Filers, LONGEST_PROBLEM, file_name, file_size, report},
    reading::Take,
    text::shortened,
};
use artemon_core::{
    domain::{Company, Day, Record, Table},
    filings::{Document, Filer, Filing, FiscalCalendar, Known, Outcome},
};
use parse::Facts;
use std::{
    collections::HashMap,
    fs::{self, File},
    io::Read,
    path::Path,
    sync::mpsc::{Receiver, SyncSender, sync_channel},
    thread,
};

/// The largest file of one filer, in bytes: it is held in memory.
const LARGEST: u64 = 256 << 20;
/// Threads that unpack and parse.
const PARSERS: usize = 2;
/// Parsed files of a thread that may wait.
const WAITING: usize = 2;

/// Reads one file or a zip of them; filings of each filer are taken in the order in which they were filed.
///
/// # Errors
/// A file that cannot be read; a reading that refuses a row or ends it.
pub fn read(path: &Path, filers: &dyn Filers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let size = file_size(path);
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::Statements, bytes_in_all: size, ..take.progress };
    let (file, mut companies) = (file_name(path), 0);
    let io = |source| ReadError::Io { file: file.clone(), source };
    let mut magic = [0; MAGIC.len()];
    let is_zip = File::open(path).map_err(io)?.read_exact(&mut magic).is_ok() && magic == MAGIC;
    if is_zip {
        companies += archive(path, filers, &mut take)?;
    } else {
        if size > LARGEST {
            let problem = format!("it is larger than {} MB, as no filer's file is", LARGEST >> 20);
            return Err(ReadError::Unusable { file, problem });
        }
        let parsed = Parsed::of(&fs::read(path).map_err(io)?);
        companies += one(&file, parsed, filers, &mut take)?;
    }
    if companies > 0 {
        take.report.rows.push((Table::Companies, companies));
    }
    let rows = take.progress.rows - take.report.bad_rows - companies;
    take.report.rows.push((Table::Statements, rows));
    Ok(take.report)
}

/// Every file of a zip: unpacked and parsed on some threads, each its share, and taken on this one in the order of the archive.
fn archive(path: &Path, filers: &dyn Filers, take: &mut Take<'_>) -> Result<u64, ReadError> {
    let names: Vec<String> = Archive::open(path)?.names().iter().filter(|n| !n.ends_with('/')).cloned().collect();
    thread::scope(|s| {
        let start = |first: usize| {
            let (send, receive) = sync_channel(WAITING);
            let names = &names;
            s.spawn(move || unpack(path, names.iter().skip(first).step_by(PARSERS), &send));
            receive
        };
        // Whoever leaves here leaves the channels, and with them the parsers end.
        let parsers: Vec<Receiver<Unpacked>> = (0..PARSERS).map(start).collect();
        let mut companies = 0;
        for (at, name) in names.iter().enumerate() {
            let received = parsers[at % PARSERS].recv();
            let (packed, parsed) = received.map_err(|_| ReadError::Taking("reading ended early".into()))?;
            let last = name.rsplit('/').next().unwrap_or_default();
            match parsed {
                Ok(parsed) => companies += one(last, parsed, filers, take)?,
                Err(ReadError::Unusable { problem, .. }) => {
                    take.report.note(ReadNote { file: last.to_owned(), what: "not read".to_owned(), count: 1, detail: problem });
                }
                Err(e) => return Err(e),
            }
            take.finished_file(packed);
            take.tell()?;
        }
        Ok(companies)
    })
}

/// The packed size of a file, and what it holds.
type Unpacked = (u64, Result<Parsed, ReadError>);

/// Unpacks and parses files until there are no more, or nobody takes them.
fn unpack<'n>(path: &Path, names: impl Iterator<Item = &'n String>, send: &SyncSender<Unpacked>) {
    let Ok(mut archive) = Archive::open(path) else { return };
    for name in names {
        let packed = archive.sizes(name).0;
        let bytes = archive.entry(name).and_then(|entry| entry.map(|e| e.bytes(LARGEST)).transpose());
        if send.send((packed, bytes.map(|bytes| Parsed::of(&bytes.unwrap_or_default())))).is_err() {
            return;
        }
    }
}

/// What a file holds.
enum Parsed {
    /// The filings of a filer: its number and name, how many facts.
    Filer { cik: String, name: String, count: u64, unused: Counts, filings: Vec<Filing> },
    /// No such facts, for a reason where it is JSON.
    Nothing(String),
}

impl Parsed {
    fn of(bytes: &[u8]) -> Parsed {
        match Facts::parse(bytes) {
            Ok(mut facts) => {
                let (cik, name, count) = (facts.cik.clone(), facts.name.clone(), facts.count);
                let unused = std::mem::take(&mut facts.unused);
                Parsed::Filer { cik, name, count, unused, filings: facts.filings() }
            }
            Err(problem) if bytes.trim_ascii_start().starts_with(b"{") => Parsed::Nothing(shortened(&problem, LONGEST_PROBLEM)),
            Err(_) => Parsed::Nothing(String::new()),
        }
    }
}

/// The facts of one filer; how many companies were given the month in which their fiscal years end.
fn one(file: &str, parsed: Parsed, filers: &dyn Filers, take: &mut Take<'_>) -> Result<u64, ReadError> {
    let note = |what: &str, count: u64, detail: String| ReadNote { file: file.to_owned(), what: what.to_owned(), count, detail };
    let (cik, name, count, mut counts, filings) = match parsed {
        Parsed::Filer { cik, name, count, unused, filings } => (format!("{cik:0>10}"), name, count, unused, filings),
        Parsed::Nothing(problem) => {
            take.report.note(note("not a facts file", 1, problem));
            return Ok(0);
        }
    };
    let company = filers.identified(CIK_SCHEME, &cik);
    let Some(filer) = company.and_then(|id| filers.filer(&id)) else {
        take.report.note(note("unknown filer", count, format!("CIK {cik} {name}")));
        return Ok(0);
    };
    let mut known = filers.known(&filer.company_id)?;
    let (filer, ends, derived) = settled(filer, &filings, &known);
    for (filing, end) in filings.iter().zip(ends) {
        filers::outvoted(file, filing, end, &filer).into_iter().for_each(|warning| take.report.warn(warning));
        let filed = filing.rows(&filer, &mut known);
        counts.add(&filing.facts, &filed.outcomes);
        report::add(&mut take.report, file, &filing.facts, &filed, &HashMap::new());
        let now = take.progress;
        filed.rows.into_iter().try_for_each(|row| take.good(Record::Statement(Box::new(row)), now))?;
    }
    take.report.count_facts(counts.of(file));
    let Some((month, company)) = derived.map(|c| c.end_month).zip(filers.company_row(&filer.company_id)) else { return Ok(0) };
    let now = take.progress;
    take.good(Record::Company(Company { fiscal_year_end_month: Some(month), ..company }), now).map(|()| 1)
}

/// The filer with its calendar and the shift of its labels; the last day of each filing; the calendar where it was not known before.
fn settled(filer: Filer, filings: &[Filing], known: &Known) -> (Filer, Vec<Option<Day>>, Option<FiscalCalendar>) {
    let ends: Vec<_> = filings.iter().map(|f| f.ends(filer.kind)).collect();
    let of_years = || FiscalCalendar::of_years(ends.iter().flat_map(|(years, _)| years.iter().copied()));
    let derived = if filer.calendar.is_none() { of_years() } else { None };
    let calendar = filer.calendar.or(derived).unwrap_or(FiscalCalendar { end_month: 12 });
    let stated = filings.iter().zip(&ends).filter_map(|(f, (_, end))| f.document.fiscal_year.zip(*end));
    let filer = filers::settled(filer, calendar, filings.last().map(|f| f.filed_on), known, stated);
    (filer, ends.into_iter().map(|(_, end)| end).collect(), derived)
}

impl Facts<'_> {
    /// The filings, in the order in which they were filed, then by number.
    fn filings(self) -> Vec<Filing> {
        let mut all: Vec<Filing> = self
            .filings
            .into_values()
            .map(|f| {
                let is_quarterly = matches!(f.period, Some("Q1" | "Q2" | "Q3"));
                let document = Document { period_end: None, fiscal_year: f.fiscal_year, is_quarterly, entity: None };
                let mut facts = f.facts;
                if !filers::counts(f.form) {
                    facts.iter_mut().for_each(|fact| fact.refused = Some(Outcome::Form));
                }
                Filing { filed_on: f.filed_on, source: f.accession.to_owned(), document, facts, rounded_days: false }
            })
            .collect();
        all.sort_by(|a, b| (a.filed_on, &a.source).cmp(&(b.filed_on, &b.source)));
        all
    }
}

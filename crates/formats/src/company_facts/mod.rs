//! All facts of a filer as JSON, as regulators give them out: a file a filer, singly or many in a zip.

mod parse;

use crate::{
    Progress, ReadError, ReadNote, ReadReport, Reading,
    archive::{Archive, MAGIC},
    filers::{self, CIK_SCHEME},
    filings::{Counts, Filers, LONGEST_PROBLEM, file_name, report},
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
};

/// The largest file of one filer, in bytes: it is held in memory.
const LARGEST: u64 = 256 << 20;
/// Reads one file or a zip of them; filings of each filer are taken in the order in which they were filed.
///
/// # Errors
/// A file that cannot be read; a reading that refuses a row or ends it.
pub fn read(path: &Path, filers: &dyn Filers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let size = fs::metadata(path).map_or(0, |m| m.len());
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::Statements, bytes_in_all: size, ..take.progress };
    let (file, mut companies) = (file_name(path), 0);
    let io = |source| ReadError::Io { file: file.clone(), source };
    let mut magic = [0; MAGIC.len()];
    let is_zip = File::open(path).map_err(io)?.read_exact(&mut magic).is_ok() && magic == MAGIC;
    if is_zip {
        let mut archive = Archive::open(path)?;
        for name in archive.names().to_vec() {
            if name.ends_with('/') {
                continue;
            }
            let packed = archive.sizes(&name).0;
            let last = name.rsplit('/').next().unwrap_or_default();
            match archive.entry(&name).and_then(|entry| entry.map(|e| e.bytes(LARGEST)).transpose()) {
                Ok(bytes) => companies += one(last, &bytes.unwrap_or_default(), filers, &mut take)?,
                Err(ReadError::Unusable { problem, .. }) => {
                    take.report.note(ReadNote { file: last.to_owned(), what: "not read".to_owned(), count: 1, detail: problem });
                }
                Err(e) => return Err(e),
            }
            take.finished_file(packed);
            take.tell()?;
        }
    } else {
        if size > LARGEST {
            let problem = format!("it is larger than {} MB, as no filer's file is", LARGEST >> 20);
            return Err(ReadError::Unusable { file, problem });
        }
        companies += one(&file, &fs::read(path).map_err(io)?, filers, &mut take)?;
    }
    if companies > 0 {
        take.report.rows.push((Table::Companies, companies));
    }
    let rows = take.progress.rows - take.report.bad_rows - companies;
    take.report.rows.push((Table::Statements, rows));
    Ok(take.report)
}

/// The facts of one filer; how many companies were given the month in which their fiscal years end.
fn one(file: &str, bytes: &[u8], filers: &dyn Filers, take: &mut Take<'_>) -> Result<u64, ReadError> {
    let note = |what: &str, count: u64, detail: String| ReadNote { file: file.to_owned(), what: what.to_owned(), count, detail };
    let facts = match Facts::parse(bytes) {
        Ok(facts) => facts,
        Err(problem) => {
            let problem = if bytes.trim_ascii_start().starts_with(b"{") { shortened(&problem, LONGEST_PROBLEM) } else { String::new() };
            take.report.note(note("not a facts file", 1, problem));
            return Ok(0);
        }
    };
    let company = filers.identified(CIK_SCHEME, &format!("{:0>10}", facts.cik));
    let Some(filer) = company.and_then(|id| filers.filer(&id)) else {
        take.report.note(note("unknown filer", facts.count, format!("CIK {:0>10} {}", facts.cik, facts.name)));
        return Ok(0);
    };
    let mut known = filers.known(&filer.company_id)?;
    let filings = facts.filings();
    let (filer, ends, derived) = settled(filer, &filings, &known);
    let mut counts = Counts::default();
    for (filing, end) in filings.iter().zip(ends) {
        filers::outvoted(file, filing, end, &filer).into_iter().for_each(|warning| take.report.warn(warning));
        let filed = filing.rows(&filer, &mut known);
        counts.add(&filing.facts, &filed);
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

//! All facts of a filer as JSON, as regulators give them out: a file a filer, singly or many in a zip.

mod parse;

use crate::{
    Progress, ReadError, ReadNote, ReadReport, Reading,
    filings::{Counts, Filers, LONGEST_PROBLEM, file_name, report},
    reading::Take,
    text::shortened,
};
use artemon_core::{
    domain::{Day, Record, Table},
    filings::{Document, Filer, Filing, FiscalCalendar, Known, Outcome, commonest},
};
use parse::Facts;
use std::{
    collections::HashMap,
    fs::{self, File},
    io::Read,
    path::Path,
};

/// The scheme of the register's numbers.
pub const CIK_SCHEME: &str = "http://www.sec.gov/CIK";
/// The largest file of one filer, in bytes: it is held in memory.
const LARGEST: u64 = 256 << 20;
/// Forms whose figures count, each amended by the same with /A.
const FORMS: [&str; 8] = ["10-K", "10-K405", "10-KT", "10-Q", "10-QT", "20-F", "40-F", "6-K"];

/// Whether a form's figures count: those of current reports, registrations and proxies are rounded, partial or pro forma.
pub(crate) fn counts(form: &str) -> bool {
    FORMS.contains(&form.strip_suffix("/A").unwrap_or(form))
}

/// Reads one file or a zip of them; filings of each filer are taken in the order in which they were filed.
///
/// # Errors
/// A file that cannot be read; a reading that refuses a row or ends it.
pub fn read(path: &Path, filers: &dyn Filers, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let size = fs::metadata(path).map_or(0, |m| m.len());
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::Statements, bytes_in_all: size, ..take.progress };
    let name = file_name(path);
    let io = |source| ReadError::Io { file: name.clone(), source };
    let mut file = File::open(path).map_err(io)?;
    let mut magic = [0; 2];
    let is_zip = file.read_exact(&mut magic).is_ok() && magic == *b"PK";
    if is_zip {
        let unusable = |e: zip::result::ZipError| ReadError::Unusable { file: name.clone(), problem: e.to_string() };
        let mut zip = zip::ZipArchive::new(File::open(path).map_err(io)?).map_err(unusable)?;
        for at in 0..zip.len() {
            let mut entry = zip.by_index(at).map_err(unusable)?;
            if entry.is_dir() {
                continue;
            }
            let whole = entry.name().map_err(unusable)?.into_owned();
            let (name, packed) = (whole.rsplit('/').next().unwrap_or_default().to_owned(), entry.compressed_size());
            if entry.size() > LARGEST {
                let what = format!("larger than {} MB", LARGEST >> 20);
                take.report.note(ReadNote { file: name, what, count: 1, detail: String::new() });
                continue;
            }
            let mut bytes = Vec::new();
            entry.by_ref().take(LARGEST).read_to_end(&mut bytes).map_err(|source| ReadError::Io { file: name.clone(), source })?;
            one(&name, &bytes, filers, &mut take)?;
            take.finished_file(packed);
            take.tell()?;
        }
    } else {
        if size > LARGEST {
            return Err(ReadError::Unusable {
                file: name,
                problem: format!("it is larger than {} MB, as no filer's file is", LARGEST >> 20),
            });
        }
        one(&name, &fs::read(path).map_err(io)?, filers, &mut take)?;
    }
    let rows = take.progress.rows - take.report.bad_rows;
    take.report.rows.push((Table::Statements, rows));
    Ok(take.report)
}

/// The facts of one filer.
fn one(file: &str, bytes: &[u8], filers: &dyn Filers, take: &mut Take<'_>) -> Result<(), ReadError> {
    let note = |what: &str, count: u64, detail: String| ReadNote { file: file.to_owned(), what: what.to_owned(), count, detail };
    let facts = match Facts::parse(bytes) {
        Ok(facts) => facts,
        Err(problem) => {
            let problem = if bytes.trim_ascii_start().starts_with(b"{") { shortened(&problem, LONGEST_PROBLEM) } else { String::new() };
            take.report.note(note("not a facts file", 1, problem));
            return Ok(());
        }
    };
    let company = filers.identified(CIK_SCHEME, &format!("{:0>10}", facts.cik));
    let Some(filer) = company.and_then(|id| filers.filer(&id)) else {
        take.report.note(note("unknown filer", facts.count, format!("CIK {:0>10} {}", facts.cik, facts.name)));
        return Ok(());
    };
    let mut known = filers.known(&filer.company_id)?;
    let filings = facts.filings();
    let (filer, ends) = settled(filer, &filings, &known);
    let mut counts = Counts::default();
    for (filing, end) in filings.iter().zip(ends) {
        outvoted(file, filing, end, &filer).into_iter().for_each(|warning| take.report.warn(warning));
        let filed = filing.rows(&filer, &mut known);
        counts.add(&filing.facts, &filed);
        report::add(&mut take.report, file, &filing.facts, &filed, &HashMap::new());
        let now = take.progress;
        filed.rows.into_iter().try_for_each(|row| take.good(Record::Statement(Box::new(row)), now))?;
    }
    take.report.count_facts(counts.of(file));
    Ok(())
}

/// The filer with its calendar, and with the one shift of its labels for all its filings: what is known decides, else the commonest.
/// With the last day of each filing.
fn settled(filer: Filer, filings: &[Filing], known: &Known) -> (Filer, Vec<Option<Day>>) {
    let ends: Vec<_> = filings.iter().map(|f| f.ends(filer.kind)).collect();
    let of_years = || FiscalCalendar::of_years(ends.iter().flat_map(|(years, _)| years.iter().copied()));
    let calendar = filer.calendar.or_else(of_years).unwrap_or(FiscalCalendar { end_month: 12 });
    let last = filings.last().map(|f| f.filed_on);
    let of_known = last.and_then(|day| known.newest_year(day)).map(|(label, end)| label - calendar.year_of(end));
    let stated = filings.iter().zip(&ends).filter_map(|(f, (_, end))| Some(f.document.fiscal_year? - calendar.year_of((*end)?)));
    let label_shift = of_known.or_else(|| commonest(stated)).unwrap_or(0);
    let filer = Filer { calendar: Some(calendar), label_shift: Some(label_shift), ..filer };
    (filer, ends.into_iter().map(|(_, end)| end).collect())
}

/// A filing that calls its fiscal year otherwise than the filer's others.
fn outvoted(file: &str, filing: &Filing, end: Option<Day>, filer: &Filer) -> Option<String> {
    let given = filing.document.fiscal_year?;
    let taken = filer.calendar?.year_of(end?) + filer.label_shift?;
    (given != taken)
        .then(|| format!("{file}: {} calls its fiscal year {given}; {taken} was taken, as in its other filings.", filing.source))
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
                if !counts(f.form) {
                    facts.iter_mut().for_each(|fact| fact.refused = Some(Outcome::Form));
                }
                Filing { filed_on: f.filed_on, source: f.accession.to_owned(), document, facts, rounded_days: false }
            })
            .collect();
        all.sort_by(|a, b| (a.filed_on, &a.source).cmp(&(b.filed_on, &b.source)));
        all
    }
}

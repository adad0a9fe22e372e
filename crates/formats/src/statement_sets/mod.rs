//! Quarterly sets of statements as regulators give them out: filings (`sub`) and their figures (`num`), tab-separated, in a zip or a
//! folder. Filings of all sets are taken in the order in which they became public; of each set only figures that may be used are held.

mod figures;
mod industries;
mod registrants;
mod submissions;

use crate::{
    Progress, ReadError, ReadNote, ReadReport, Reading, filers,
    filings::{Counts, Filers, file_size, report},
    reading::Take,
    set_files::SetFiles,
    xbrl::OwnConcepts,
};
use artemon_core::{
    domain::{Day, Record, Table},
    filings::{Document, Filed, Filing, Outcome},
};
use figures::Figures;
use registrants::Registrants;
use rustc_hash::FxHashMap;
use std::{collections::HashMap, path::PathBuf};
use submissions::{Submission, submissions};

/// The files that tell such a set, in lower case.
pub(crate) const FILES: [&str; 2] = [submissions::FILE, figures::FILE];
/// What to do about a value that cannot be used.
const REMEDY: &str = "Fetch the set again, or skip bad rows: then this one is left out.";

/// Which filers are taken.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum NewFilers {
    /// Those that no company is known of make new companies.
    #[default]
    Add,
    /// They are left out.
    LeaveOut,
}

/// Reads sets of statements together.
///
/// # Errors
/// A set that cannot be read; a reading that refuses a row or ends it.
pub fn read(
    paths: &[PathBuf],
    own: &OwnConcepts,
    filers: &dyn Filers,
    new: NewFilers,
    reading: &mut dyn Reading,
) -> Result<ReadReport, ReadError> {
    let mut take = Take::new(reading);
    take.progress = Progress { table: Table::Statements, bytes_in_all: paths.iter().map(|p| file_size(p)).sum(), ..take.progress };
    let mut registrants = Registrants::new(filers, new);
    let mut sets = survey(paths, &mut registrants)?;
    registrants.settle()?;
    let (mut pending, mut tallies): (Vec<Pending>, Vec<OfSet>) = (Vec::new(), Vec::new());
    let mut seen: FxHashMap<String, usize> = FxHashMap::default();
    while !sets.is_empty() {
        let Survey { path, at, .. } = sets.remove(0);
        let mut set = SetFiles::open(&path)?;
        let filings = listed(&mut set, at, &mut registrants, &mut seen, &mut take)?;
        let (mut read, tally) = Figures::new(filings, own).read(&mut set, &mut take)?;
        pending.append(&mut read);
        tallies.push(OfSet { at, name: set.name.clone(), tally });
        for filing in filers::due(&mut pending, sets.first().map(|s| s.first), |p| (p.filing.filed_on, &p.filing.source)) {
            if let Some(of_set) = tallies.iter_mut().find(|s| s.at == filing.set) {
                one(filing, of_set, &mut registrants, &mut take)?;
            }
        }
        let (open, done): (Vec<_>, Vec<_>) = tallies.into_iter().partition(|s| pending.iter().any(|p| p.set == s.at));
        tallies = open;
        done.into_iter().for_each(|s| take.report.count_facts(s.tally.of(&s.name)));
        take.finished_file(file_size(&path));
        take.tell()?;
    }
    let statements = take.progress.rows - take.report.bad_rows;
    let companies = registrants.companies(&mut take)?;
    take.report.rows.extend([(Table::Companies, companies), (Table::Statements, statements)]);
    take.report.rows.retain(|(table, rows)| *table == Table::Statements || *rows > 0);
    Ok(take.report)
}

/// A set before its figures are read.
struct Survey {
    path: PathBuf,
    /// Its place among all.
    at: usize,
    /// The day of its first filing.
    first: Day,
}

/// What became of the figures of a set of which filings still wait.
struct OfSet {
    at: usize,
    name: String,
    tally: Counts,
}

/// A filing with the figures of it that may be used.
#[derive(Debug)]
struct Pending {
    /// The set that holds it.
    set: usize,
    registrant: usize,
    /// Its number in the register.
    cik: String,
    /// The last day of its period.
    end: Option<Day>,
    filing: Filing,
}

/// What is to be done with a filing's figures.
#[derive(Debug)]
enum Listed {
    /// They are read.
    Taken(Pending),
    /// They only count as this.
    Refused(Outcome),
    /// Nobody asked for the filer.
    LeftOut,
}

/// The filings of each set, by the day of the first: filers hear of all of them before any is taken.
fn survey(paths: &[PathBuf], registrants: &mut Registrants<'_>) -> Result<Vec<Survey>, ReadError> {
    let mut sets = Vec::new();
    for (at, path) in paths.iter().enumerate() {
        let all = submissions(&mut SetFiles::open(path)?, None)?;
        all.iter().for_each(|filing| registrants.hear(filing));
        sets.push(Survey { path: path.clone(), at, first: all.iter().map(|f| f.filed_on).min().unwrap_or(Day::MAX) });
    }
    sets.sort_by_key(|s| (s.first, s.at));
    Ok(sets)
}

/// The filings of a set by their numbers; one that another set held already only counts as repeated.
fn listed(
    set: &mut SetFiles,
    at: usize,
    registrants: &mut Registrants<'_>,
    seen: &mut FxHashMap<String, usize>,
    take: &mut Take<'_>,
) -> Result<HashMap<String, Listed>, ReadError> {
    let (mut filings, mut left_out) = (HashMap::new(), 0);
    for filing in submissions(set, Some(take))? {
        let is_repeated = *seen.entry(filing.accession.clone()).or_insert(at) != at;
        let listed = match registrants.find(&filing.cik) {
            None => {
                left_out += 1;
                Listed::LeftOut
            }
            Some(_) if is_repeated => Listed::Refused(Outcome::RepeatedFiling),
            Some(_) if !filers::counts(&filing.form) => Listed::Refused(Outcome::Form),
            Some(registrant) => Listed::Taken(pending(&filing, at, registrant)),
        };
        filings.insert(filing.accession, listed);
    }
    if left_out > 0 {
        let what = "filings of filers that are not asked for".to_owned();
        take.report.note(ReadNote { file: set.name.clone(), what, count: left_out, detail: String::new() });
    }
    Ok(filings)
}

fn pending(filing: &Submission, set: usize, registrant: usize) -> Pending {
    let document = Document { period_end: filing.period, fiscal_year: filing.fiscal_year, is_quarterly: filing.is_quarterly, entity: None };
    let (filed_on, source) = (filing.filed_on, filing.accession.clone());
    Pending {
        set,
        registrant,
        cik: filing.cik.clone(),
        end: filing.period,
        filing: Filing { filed_on, source, document, facts: Vec::new(), rounded_days: true },
    }
}

/// The rows of one filing.
fn one(pending: Pending, of_set: &mut OfSet, registrants: &mut Registrants<'_>, take: &mut Take<'_>) -> Result<(), ReadError> {
    let Pending { registrant, end, filing, .. } = pending;
    let file = of_set.name.as_str();
    let registrant = registrants.get(registrant);
    if let Some(warning) = filers::outvoted(file, &filing, end, &registrant.filer).filter(|_| !filing.facts.is_empty()) {
        take.report.warn(warning);
    }
    let Filed { rows, outcomes, warnings } = filing.rows(&registrant.filer, &mut registrant.known);
    of_set.tally.add(&filing.facts, &outcomes);
    let filed = Filed { rows: Vec::new(), outcomes, warnings };
    report::add(&mut take.report, file, &filing.facts, &filed, &HashMap::new());
    registrant.note_rows(&rows);
    let now = take.progress;
    rows.into_iter().try_for_each(|row| take.good(Record::Statement(Box::new(row)), now))
}

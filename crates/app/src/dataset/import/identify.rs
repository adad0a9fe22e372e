//! Tables of identifiers: whose number in the register of filers is, by the listings of companies; listings that are not known yet.

use super::register::{Book, Register};
use artemon_core::domain::{Company, Listing, Record, Table, is_isin};
use artemon_formats::{
    CIK_SCHEME, ReadError, ReadNote, ReadReport, Reading,
    identifiers::{self, Identifiers},
};
use std::{collections::HashSet, path::Path};

/// Lines of filers that are not known yet: statements of theirs may come later in the same import.
#[derive(Debug, Default)]
pub(super) struct Deferred(Vec<(String, Identifiers)>);

/// What a line comes to.
enum Joined {
    /// Nothing, for a reason: what, and about what.
    Nothing(&'static str, String),
    /// The number is a company's; a listing that is new or has its ISIN now; what a person should know.
    Link { company: String, listing: Option<Listing>, note: Option<(&'static str, String)> },
}

/// Takes a table of identifiers.
///
/// # Errors
/// A file that cannot be read; a reading that refuses a row.
pub(super) fn identify(
    path: &Path,
    register: &Register<'_>,
    deferred: &mut Deferred,
    reading: &mut dyn Reading,
) -> Result<ReadReport, ReadError> {
    let file = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
    let (mut seen, mut lines) = (HashSet::new(), Vec::new());
    let mut report = ReadReport::default();
    for row in identifiers::read(path)? {
        if seen.insert(row.keys()) {
            lines.push((file.clone(), row));
        } else {
            report.notes.push(note(&file, &row, "repeated", ""));
        }
    }
    let (unknown, lines): (Vec<_>, Vec<_>) = lines.into_iter().partition(|(_, row)| is_unknown(&register.book(), row));
    deferred.0.extend(unknown);
    report.add(join(lines, register, reading)?);
    Ok(report)
}

/// Takes the lines that waited of filers that are known by now.
///
/// # Errors
/// As [`identify`].
pub(super) fn identify_known(deferred: &mut Deferred, register: &Register<'_>, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let (unknown, lines) = std::mem::take(&mut deferred.0).into_iter().partition(|(_, row)| is_unknown(&register.book(), row));
    deferred.0 = unknown;
    join(lines, register, reading)
}

/// Takes the lines that still wait, when everything else is read.
///
/// # Errors
/// As [`identify`].
pub(super) fn identify_deferred(deferred: Deferred, register: &Register<'_>, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    join(deferred.0, register, reading)
}

fn join(lines: Vec<(String, Identifiers)>, register: &Register<'_>, reading: &mut dyn Reading) -> Result<ReadReport, ReadError> {
    let (mut report, mut listings) = (ReadReport::default(), 0);
    for (file, row) in lines {
        let joined = line(&register.book(), &row);
        match joined {
            Joined::Nothing(what, about) => report.notes.push(note(&file, &row, what, &about)),
            Joined::Link { company, listing, note: said } => {
                let entity = format!("{CIK_SCHEME}|{}", row.cik);
                register.book().entities.insert(entity.clone(), company.clone());
                report.identified.push((entity, company));
                report.notes.extend(said.map(|(what, about)| note(&file, &row, what, &about)));
                if let Some(listing) = listing {
                    // The register hears of it from the reading.
                    reading.row(Record::Listing(listing)).map_err(ReadError::Taking)?;
                    listings += 1;
                }
            }
        }
    }
    report.rows.extend((listings > 0).then_some((Table::Listings, listings)));
    Ok(report)
}

fn note(file: &str, row: &Identifiers, what: &str, about: &str) -> ReadNote {
    let detail = if about.is_empty() { format!("line {}", row.line) } else { format!("line {}: {about}", row.line) };
    ReadNote { file: file.to_owned(), what: what.to_owned(), count: 1, detail }
}

/// Whether neither the filer nor the listing of a line is known.
fn is_unknown(book: &Book, row: &Identifiers) -> bool {
    row.bad_cik.is_none() && matches!(line(book, row), Joined::Nothing("unknown filer", _))
}

fn line(book: &Book, row: &Identifiers) -> Joined {
    if let Some(written) = &row.bad_cik {
        return Joined::Nothing("the number is none", written.clone());
    }
    if !row.isin.is_empty() && !is_isin(&row.isin) {
        return Joined::Nothing("bad check digit", row.isin.clone());
    }
    if row.symbol.is_empty() && row.isin.is_empty() && row.company_id.is_empty() {
        return Joined::Nothing("neither symbol nor ISIN", row.cik.clone());
    }
    let on = |listing: &&Listing| row.mic.is_empty() || listing.mic.is_empty() || listing.mic.eq_ignore_ascii_case(&row.mic);
    let found = |key: &str| book.listing(key).filter(|_| !key.is_empty()).filter(on);
    let (by_isin, by_symbol) = (found(&row.isin), found(&row.symbol));
    let filer = book.registered(&row.cik);
    let named = book.companies.get(row.company_id.as_str());
    let of = |listing: &Listing| book.companies.get(&listing.company_id);
    let company = named.or_else(|| by_isin.and_then(of)).or_else(|| by_symbol.and_then(of));
    let others = [filer, by_isin.and_then(of), by_symbol.and_then(of)];
    if let Some((company, other)) = company.and_then(|c| Some((c, others.into_iter().flatten().find(|o| o.id != c.id)?))) {
        return Joined::Nothing("contradiction", contradiction(row, company, other, filer));
    }
    match (company, filer) {
        (Some(company), _) => known(row, company, by_isin.or(by_symbol), by_isin.is_some()),
        (None, Some(filer)) => new_listing(book, row, filer),
        (None, None) => Joined::Nothing(
            "unknown filer",
            [&row.cik, &row.company_id, &row.symbol, &row.isin]
                .into_iter()
                .filter(|k| !k.is_empty())
                .take(2)
                .map(String::as_str)
                .collect::<Vec<_>>()
                .join(" "),
        ),
    }
}

fn contradiction(row: &Identifiers, company: &Company, other: &Company, filer: Option<&Company>) -> String {
    let key = [&row.company_id, &row.symbol, &row.isin].into_iter().find(|k| !k.is_empty()).unwrap_or(&row.cik);
    let whose = if filer.is_some_and(|f| f.id == other.id) { format!("CIK {}", row.cik) } else { "another of its keys".to_owned() };
    format!("{key} is of {}, {whose} of {}", company.id, other.id)
}

/// A line of a known company: its listing keeps its symbol and its ISIN; an empty ISIN is filled in.
fn known(row: &Identifiers, company: &Company, listing: Option<&Listing>, by_isin: bool) -> Joined {
    let note = listing.filter(|l| by_isin && !row.symbol.is_empty() && !l.symbol.eq_ignore_ascii_case(&row.symbol));
    let note = note.map(|l| ("another symbol for a known ISIN", format!("{}: {} is kept", row.symbol, l.symbol)));
    let filled = listing.filter(|l| l.isin.is_empty() && !row.isin.is_empty());
    let other = listing.filter(|l| !by_isin && !l.isin.is_empty() && !row.isin.is_empty());
    let note = note.or_else(|| other.map(|l| ("another ISIN for a known symbol", format!("{}: {} is kept", row.isin, l.isin))));
    Joined::Link { company: company.id.to_string(), listing: filled.map(|l| Listing { isin: row.isin.clone(), ..l.clone() }), note }
}

fn new_listing(book: &Book, row: &Identifiers, filer: &Company) -> Joined {
    if row.symbol.is_empty() {
        return Joined::Nothing("a new listing needs a symbol", row.isin.clone());
    }
    if let Some(elsewhere) = book.listing(&row.symbol) {
        return Joined::Nothing("contradiction", format!("{} is listed at {}", row.symbol, elsewhere.mic));
    }
    let listing = Listing {
        symbol: row.symbol.as_str().into(),
        company_id: filer.id.clone(),
        mic: row.mic.clone(),
        isin: row.isin.clone(),
        currency: filer.currency,
        shares_per_unit: 1.0,
        primary: !book.is_listed(&filer.id),
        listed_on: None,
        delisted_on: None,
        delisting_return: None,
    };
    let said = format!("{} of {}, taken to be traded in {}", row.symbol, filer.id, filer.currency);
    Joined::Link { company: filer.id.to_string(), listing: Some(listing), note: Some(("new listing", said)) }
}

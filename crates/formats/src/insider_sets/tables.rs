//! The files of a set.

use super::Pending;
use crate::{
    BadCell, ReadError,
    ownership::{Issuer, RawTransaction, TradeForm},
    reading::Take,
    set_files::SetFiles,
    tab_separated::{Row, TabSeparated},
};
use artemon_core::{domain::Day, filings::ReportingOwner};
use rustc_hash::{FxHashMap, FxHashSet};

/// The file of filings.
pub(super) const SUBMISSIONS: &str = "submission.tsv";
/// The file of transactions of securities that are no derivatives.
pub(super) const TRANSACTIONS: &str = "nonderiv_trans.tsv";
const OWNERS: &str = "reportingowner.tsv";
const FOOTNOTES: &str = "footnotes.tsv";
/// Files whose rows are only counted: of holdings, and of derivatives.
const HOLDINGS: [&str; 2] = ["nonderiv_holding.tsv", "deriv_holding.tsv"];
const DERIVATIVES: &str = "deriv_trans.tsv";
/// Lines between two reports of progress.
const TICK: u64 = 1 << 14;

/// How this form writes transactions.
pub(super) const TRADES: TradeForm = TradeForm {
    date: "TRANS_DATE",
    acquired: "TRANS_ACQUIRED_DISP_CD",
    shares: "TRANS_SHARES",
    price: "TRANS_PRICEPERSHARE",
    shares_after: "SHRS_OWND_FOLWNG_TRANS",
    day: written_day,
};

/// A filing as the set lists it.
#[derive(Clone, Debug)]
pub(super) struct Filed {
    pub(super) accession: String,
    pub(super) on: Day,
    pub(super) is_amendment: bool,
    pub(super) is_planned: bool,
    pub(super) issuer: Issuer,
}

/// Reads the files of a set one after the other.
pub(super) struct Tables;

impl Tables {
    /// The filings, or what is wrong with one.
    ///
    /// # Errors
    /// A set without the file, or without a needed column; text that cannot be read.
    pub(super) fn submissions(set: &mut SetFiles) -> Result<Vec<Result<Filed, Box<BadCell>>>, ReadError> {
        let file = set.path_of(SUBMISSIONS);
        let mut rows = TabSeparated::open(set.needed(SUBMISSIONS)?, &file)?;
        rows.need(&["accession_number", "filing_date", "issuercik"])?;
        let names = ["accession_number", "filing_date", "document_type", "issuercik", "issuername", "issuertradingsymbol", "aff10b5one"];
        let [accession, day, form, cik, name, symbol, planned] = rows.columns(names);
        let mut all = Vec::new();
        while let Some(row) = rows.next()? {
            let text = |column| row.cell(column).trim().to_owned();
            let (written, line) = (text(day), row.line);
            let bad = || {
                let remedy = "Correct the day in the set, or skip bad rows: then the filing is left out.";
                Box::new(BadCell::at(SUBMISSIONS, line, "FILING_DATE", &written, "a day as DD-MON-YYYY", remedy))
            };
            all.push(written_day(&written).ok_or_else(bad).map(|on| Filed {
                accession: text(accession),
                on,
                is_amendment: row.cell(form).trim().ends_with("/A"),
                is_planned: matches!(row.cell(planned).trim(), "1" | "true"),
                issuer: Issuer { cik: text(cik), name: text(name), symbol: text(symbol) },
            }));
        }
        Ok(all)
    }

    /// The first owners of filings.
    ///
    /// # Errors
    /// As [`Tables::submissions`].
    pub(super) fn owners_of(set: &mut SetFiles, filings: &FxHashSet<String>) -> Result<Vec<String>, ReadError> {
        let mut all: FxHashMap<String, String> = FxHashMap::default();
        each(set, OWNERS, None, ["rptownercik"], |accession, row, [cik]| {
            if filings.contains(accession) {
                all.entry(accession.to_owned()).or_insert_with(|| number(row.cell(cik)));
            }
        })?;
        Ok(all.into_values().collect())
    }

    /// The filings with their owners, transactions and footnotes.
    ///
    /// # Errors
    /// A file that cannot be read; a reading that ends.
    pub(super) fn fill(
        set: &mut SetFiles,
        mut filings: FxHashMap<String, Pending>,
        take: &mut Take<'_>,
    ) -> Result<impl Iterator<Item = Pending> + use<>, ReadError> {
        let columns = ["rptownercik", "rptownername", "rptowner_relationship", "rptowner_title"];
        each(set, OWNERS, Some(take), columns, |accession, row, [cik, name, relation, title]| {
            let Some(filing) = filings.get_mut(accession) else { return };
            let relations = row.cell(relation).trim();
            if filing.owners.is_empty() {
                relations.clone_into(&mut filing.relation);
            }
            let is = |which: &str| relations.split(',').any(|r| r.trim().eq_ignore_ascii_case(which));
            filing.owners.push(ReportingOwner {
                id: number(row.cell(cik)),
                name: row.cell(name).trim().to_owned(),
                title: row.cell(title).trim().to_owned(),
                is_officer: is("Officer"),
                is_director: is("Director"),
                is_large_holder: is("TenPercentOwner"),
            });
        })?;
        each(set, FOOTNOTES, Some(take), ["footnote_id", "footnote_txt"], |accession, row, [id, text]| {
            if let Some(filing) = filings.get_mut(accession) {
                filing.footnotes.insert(row.cell(id).trim().to_owned(), row.cell(text).to_owned());
            }
        })?;
        transactions(set, &mut filings, take)?;
        for file in HOLDINGS {
            each(set, file, Some(take), [], |accession, _, []| filings.get_mut(accession).into_iter().for_each(|f| f.holdings += 1))?;
        }
        each(set, DERIVATIVES, Some(take), [], |accession, _, []| filings.get_mut(accession).into_iter().for_each(|f| f.derivatives += 1))?;
        Ok(filings.into_values())
    }
}

fn transactions(set: &mut SetFiles, filings: &mut FxHashMap<String, Pending>, take: &mut Take<'_>) -> Result<(), ReadError> {
    let columns = [
        "security_title",
        "trans_date",
        "trans_code",
        "trans_acquired_disp_cd",
        "trans_shares",
        "trans_pricepershare",
        "shrs_ownd_folwng_trans",
        "direct_indirect_ownership",
        "trans_pricepershare_fn",
    ];
    // Every column of footnotes may tell of a plan.
    let with_notes: Vec<usize> = {
        let file = set.path_of(TRANSACTIONS);
        TabSeparated::open(set.needed(TRANSACTIONS)?, &file)?.columns_ending("_fn")
    };
    each(
        set,
        TRANSACTIONS,
        Some(take),
        columns,
        |accession, row, [security, date, code, acquired, shares, price, after, direct, price_fn]| {
            let Some(filing) = filings.get_mut(accession) else { return };
            let text = |column| row.cell(column).trim().to_owned();
            filing.transactions.push(RawTransaction {
                line: row.line,
                security: text(security),
                date: text(date),
                code: text(code),
                acquired: text(acquired),
                shares: text(shares),
                price: text(price),
                price_footnotes: ids(row.cell(price_fn)).collect(),
                shares_after: text(after),
                direct: text(direct),
                footnotes: with_notes.iter().flat_map(|column| ids(row.cell(Some(*column)))).collect(),
            });
        },
    )
}

/// Takes each row of a file of the set, with the filing that it belongs to; a file that is not there has none.
fn each<const N: usize>(
    set: &mut SetFiles,
    name: &str,
    mut take: Option<&mut Take<'_>>,
    columns: [&str; N],
    mut row: impl FnMut(&str, &Row<'_>, [Option<usize>; N]),
) -> Result<(), ReadError> {
    let file = set.path_of(name);
    let Some(member) = set.member(name)? else { return Ok(()) };
    let mut rows = TabSeparated::open(member, &file)?;
    rows.need(&["accession_number"])?;
    let [accession] = rows.columns(["accession_number"]);
    let columns = rows.columns(columns);
    while let Some(read) = rows.next()? {
        if let Some(take) = take.as_mut().filter(|_| read.line.is_multiple_of(TICK)) {
            take.tell()?;
        }
        row(read.cell(accession), &read, columns);
    }
    Ok(())
}

/// The ids of footnotes, as "F1" or "F1,F2".
fn ids(text: &str) -> impl Iterator<Item = String> {
    text.split([',', ' ']).map(str::trim).filter(|id| !id.is_empty()).map(str::to_owned)
}

fn number(text: &str) -> String {
    format!("{:0>10}", text.trim())
}

/// A day as DD-MON-YYYY.
fn written_day(text: &str) -> Option<Day> {
    const MONTHS: [&str; 12] = ["JAN", "FEB", "MAR", "APR", "MAY", "JUN", "JUL", "AUG", "SEP", "OCT", "NOV", "DEC"];
    let mut parts = text.trim().split('-');
    let (day, month, year) = (parts.next()?, parts.next()?, parts.next().filter(|y| y.len() == 4)?);
    let month = MONTHS.iter().position(|m| m.eq_ignore_ascii_case(month))?;
    let none_left = parts.next().is_none();
    Day::from_ymd(year.parse().ok()?, u32::try_from(month + 1).ok()?, day.parse().ok()?).filter(|_| none_left)
}

#[cfg(test)]
mod tests {
    use super::written_day;

    #[test]
    fn days_are_read_as_they_are_written() {
        assert_eq!(written_day("04-MAR-2024"), "2024-03-04".parse().ok());
        assert_eq!(written_day("4-mar-2024"), "2024-03-04".parse().ok());
        for none in ["31-FEB-2024", "04-03-2024", "2024-03-04", "04-MAR-24", "04-MAR-2024-1", ""] {
            assert_eq!(written_day(none), None, "{none}");
        }
    }
}

//! Tables that join the numbers of a register of filers with symbols, ISINs and companies.

use crate::{ReadError, filers::register_number, filings::file_name, text::decode};
use std::{fs, path::Path};

/// A line of such a table; empty where the table does not say.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Identifiers {
    /// Its line.
    pub line: u64,
    /// The register's number: ten digits.
    pub cik: String,
    /// The company's key.
    pub company_id: String,
    /// The symbol of a listing.
    pub symbol: String,
    /// The ISIN of a listing.
    pub isin: String,
    /// The market of a listing.
    pub mic: String,
    /// The line's number as written, where it is none.
    pub bad_cik: Option<String>,
}

impl Identifiers {
    /// Equal for lines that say the same.
    #[must_use]
    pub fn keys(&self) -> [String; 6] {
        let bad = self.bad_cik.clone().unwrap_or_default();
        [&self.cik, &bad, &self.company_id, &self.symbol, &self.isin, &self.mic].map(|key| key.to_uppercase())
    }
}

/// Whether a file's first line is the header of such a table.
pub(crate) fn is_identifiers(header: &str) -> bool {
    let names: Vec<String> = header.split(',').map(|c| c.trim().to_lowercase()).collect();
    let has = |name: &str| names.iter().any(|n| n == name);
    has("cik") && ["company_id", "symbol", "ticker", "isin"].into_iter().any(has)
}

/// Reads such a table: the column cik, and one at least of `company_id`, symbol (or ticker) and isin, in any order.
///
/// # Errors
/// A file that cannot be read.
pub fn read(path: &Path) -> Result<Vec<Identifiers>, ReadError> {
    let file = file_name(path);
    let bytes = fs::read(path).map_err(|source| ReadError::Io { file: file.clone(), source })?;
    let problem = |line: u64, problem: String| ReadError::Csv { file: file.clone(), line, problem };
    let text = decode(&bytes).map_err(|p| problem(1, p))?;
    let mut csv = csv::ReaderBuilder::new().trim(csv::Trim::All).flexible(true).from_reader(text.as_bytes());
    let header = csv.headers().map_err(|e| problem(1, e.to_string()))?.clone();
    let at = |names: &[&str]| header.iter().position(|h| names.iter().any(|n| h.eq_ignore_ascii_case(n)));
    let [cik, company, symbol, isin, mic] = [at(&["cik"]), at(&["company_id"]), at(&["symbol", "ticker"]), at(&["isin"]), at(&["mic"])];
    let mut all = Vec::new();
    for record in csv.records() {
        let record = record.map_err(|e| problem(e.position().map_or(0, csv::Position::line), e.to_string()))?;
        let cell = |at: Option<usize>| at.and_then(|i| record.get(i)).unwrap_or_default().to_owned();
        let number = register_number(&cell(cik));
        all.push(Identifiers {
            line: record.position().map_or(0, csv::Position::line),
            bad_cik: number.is_none().then(|| cell(cik)),
            cik: number.unwrap_or_default(),
            company_id: cell(company),
            symbol: cell(symbol),
            isin: cell(isin),
            mic: cell(mic),
        });
    }
    Ok(all)
}

#[cfg(test)]
mod tests {
    use super::is_identifiers;

    #[test]
    fn identifiers_are_told_by_their_header() {
        assert!(is_identifiers("cik,company_id") && is_identifiers("Ticker,CIK") && !is_identifiers("cik,name"));
    }
}

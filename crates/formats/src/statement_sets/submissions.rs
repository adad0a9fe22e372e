//! The filings of a set: `sub`.

use crate::{BadCell, ReadError, filers::register_number, reading::Take, set_files::SetFiles, tab_separated::TabSeparated};
use artemon_core::domain::Day;

/// The file.
pub(super) const FILE: &str = "sub.txt";

/// A filing as the set lists it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Submission {
    pub(super) accession: String,
    pub(super) cik: String,
    pub(super) name: String,
    pub(super) sic: String,
    pub(super) country: String,
    /// The month in which fiscal years end.
    pub(super) end_month: Option<u8>,
    pub(super) form: String,
    /// The last day of its period, rounded to a month's end.
    pub(super) period: Option<Day>,
    pub(super) fiscal_year: Option<i32>,
    pub(super) is_quarterly: bool,
    /// The day on which it became public: that of acceptance where it is later.
    pub(super) filed_on: Day,
}

/// Every filing of a set; `take` hears of those that cannot be used.
///
/// # Errors
/// A set without the file, or without a needed column; text that cannot be read.
pub(super) fn submissions(set: &mut SetFiles, mut take: Option<&mut Take<'_>>) -> Result<Vec<Submission>, ReadError> {
    let file = set.path_of(FILE);
    let mut rows = TabSeparated::open(set.needed(FILE)?, &file)?;
    rows.need(&["adsh", "cik", "form", "period", "filed"])?;
    let names = ["adsh", "cik", "name", "sic", "countryba", "fye", "form", "period", "fy", "fp", "filed", "accepted"];
    let [adsh, cik, name, sic, country, fye, form, period, fy, fp, filed, accepted] = rows.columns(names);
    let mut all = Vec::new();
    while let Some(row) = rows.next()? {
        let text = |column| row.cell(column).trim().to_owned();
        let bad = |column: &str, value: &str, expected: &str| BadCell::at(&file, row.line, column, value, expected, super::REMEDY);
        let number = register_number(row.cell(cik)).ok_or_else(|| bad("cik", row.cell(cik), "a number of up to ten digits"));
        let public = packed_day(row.cell(filed)).ok_or_else(|| bad("filed", row.cell(filed), "a day as YYYYMMDD"));
        let (number, filed_on) = match (number, public) {
            (Ok(number), Ok(day)) => (number, day),
            (Err(cell), _) | (_, Err(cell)) => {
                if let Some(take) = &mut take {
                    take.bad(cell);
                }
                continue;
            }
        };
        let accepted_on = row.cell(accepted).get(..10).and_then(|day| day.parse::<Day>().ok());
        all.push(Submission {
            accession: text(adsh),
            cik: number,
            name: text(name),
            sic: text(sic),
            country: text(country),
            end_month: month(row.cell(fye)),
            form: text(form),
            period: packed_day(row.cell(period)),
            fiscal_year: row.cell(fy).trim().parse().ok(),
            is_quarterly: matches!(row.cell(fp).trim(), "Q1" | "Q2" | "Q3"),
            filed_on: accepted_on.map_or(filed_on, |day| day.max(filed_on)),
        });
    }
    Ok(all)
}

/// A day as YYYYMMDD.
pub(super) fn packed_day(text: &str) -> Option<Day> {
    let text = text.trim();
    let is_packed = text.len() == 8 && text.bytes().all(|b| b.is_ascii_digit());
    is_packed.then(|| Day::from_ymd(text[..4].parse().ok()?, text[4..6].parse().ok()?, text[6..].parse().ok()?))?
}

/// The month of a fiscal year's end as MMDD; a day up to the 10th belongs to the month before.
fn month(text: &str) -> Option<u8> {
    let text = text.trim();
    let (month, day): (u8, u8) = (text.get(..2)?.parse().ok()?, text.get(2..)?.parse().ok()?);
    let before = if month == 1 { 12 } else { month.checked_sub(1)? };
    Some(if day <= 10 { before } else { month }).filter(|m| (1..=12).contains(m))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_and_months_are_read_from_digits() {
        assert_eq!(packed_day("20240229"), "2024-02-29".parse().ok());
        assert_eq!((packed_day("20230229"), packed_day("2024-02-29"), packed_day("")), (None, None, None));
        assert_eq!(["1231", "0203", "0103", "0630", "0010", "", "1"].map(month), [Some(12), Some(1), Some(12), Some(6), None, None, None]);
    }
}

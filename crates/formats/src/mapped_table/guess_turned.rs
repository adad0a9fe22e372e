//! A first mapping of a table that is turned on its side: years are columns, and rows are called like items of statements.

use super::{
    convert::{day, month_end, month_number},
    guess::{fit, guess_dates, guess_decimal},
    mapping::{DateOrder, FixedCell, LabelledRow, Mapping, Turned, WideColumn},
    sample::Sample,
};
use artemon_core::domain::{Day, Item, Table};

/// Columns called by years, and rows called like items, from which on a table is taken for such a one.
const LEAST_YEARS: usize = 2;
const LEAST_ITEMS: usize = 3;

/// What the dataset has above zero and records often below.
const OUTFLOWS: &[Item] = &[
    Item::CostOfRevenue,
    Item::ResearchDevelopment,
    Item::SellingGeneralAdmin,
    Item::DepreciationAmortization,
    Item::InterestExpense,
    Item::IncomeTax,
    Item::CapitalExpenditure,
    Item::DividendsPaid,
    Item::SharesRepurchased,
    Item::Acquisitions,
    Item::DebtRepaid,
];

/// The mapping to statements of years, where headers and labels speak for it.
pub(super) fn turned(sample: &Sample) -> Option<Mapping> {
    for_turned(sample).filter(|m| m.turned.as_ref().is_some_and(|t| t.columns.len() >= LEAST_YEARS && t.rows.len() >= LEAST_ITEMS))
}

/// The mapping to statements of years of a table of which it is said that it is turned on its side; `None` where no header names a year.
/// What no such table says is left to a person: whose it is, in which currency and units, and when each year became public.
#[must_use]
pub fn for_turned(sample: &Sample) -> Option<Mapping> {
    let years: Vec<(&String, i32)> = sample.headers.iter().filter_map(|h| Some((h, year(h)?))).collect();
    let others = sample.headers.iter().filter(|h| year(h).is_none()).map(|h| (h, rows(sample, h, &years)));
    // Of columns that name as many items the first.
    let (labels, rows) = others.rev().max_by_key(|(_, rows)| rows.len()).filter(|_| !years.is_empty())?;
    let columns = years.iter().map(|(header, year)| WideColumn { from: (*header).clone(), fixed: of_year(header, *year, labels) });
    Some(Mapping {
        table: Table::Statements,
        delimiter: sample.delimiter,
        dates: DateOrder::YearMonthDay,
        decimal: guess_decimal(years.iter().flat_map(|(header, _)| sample.column(header))),
        columns: Vec::new(),
        fixed: Vec::new(),
        wide: None,
        turned: Some(Turned { labels: labels.clone(), columns: columns.collect(), rows }),
    })
}

/// The year in a header: four digits that stand for themselves.
fn year(header: &str) -> Option<i32> {
    let runs = header.split(|c: char| !c.is_ascii_digit()).filter(|run| run.len() == 4);
    runs.filter_map(|run| run.parse().ok()).find(|year| (1900..2100).contains(year))
}

/// What holds for a column: the year that its header names, to the day that it or the header of the labels names, else to its end.
fn of_year(header: &str, year: i32, labels: &str) -> Vec<FixedCell> {
    let of_header = day(header, guess_dates([header])).or_else(|| month_end(header));
    let end = of_header.or_else(|| Some(Day::from_ymd(year, month(labels).unwrap_or(12), 1)?.month_end()));
    let fixed = |column: &str, value: String| FixedCell { column: column.to_owned(), value };
    let mut all = vec![fixed("fiscal_year", year.to_string()), fixed("period", "FY".to_owned())];
    all.extend(end.map(|end| fixed("period_end", end.to_string())));
    all
}

/// The month whose name stands in a text.
fn month(text: &str) -> Option<u32> {
    text.split(|c: char| !c.is_alphabetic()).find_map(month_number)
}

/// The rows that are called like items, each item once: by its own name rather than by another.
fn rows(sample: &Sample, labels: &str, years: &[(&String, i32)]) -> Vec<LabelledRow> {
    let mut rows: Vec<LabelledRow> = Vec::new();
    for wanted in [2, 1] {
        for label in sample.column(labels) {
            let is_taken = |item: &Item| rows.iter().any(|r| r.column == item.code() || r.label == label);
            // A heading has none.
            let figures = figures(sample, labels, label, years);
            if figures.is_empty() {
                continue;
            }
            if let Some(item) = Item::ALL.iter().find(|item| fit(label, item.code()) == wanted && !is_taken(item)) {
                let is_below_zero = figures.iter().all(|cell| cell.starts_with(['-', '(', '\u{2212}']));
                let divide = if OUTFLOWS.contains(item) && is_below_zero { -1.0 } else { 1.0 };
                rows.push(LabelledRow { label: label.to_owned(), column: item.code().to_owned(), divide });
            }
        }
    }
    rows
}

/// The figures that stand in a row.
fn figures<'s>(sample: &'s Sample, labels: &str, label: &str, years: &[(&String, i32)]) -> Vec<&'s str> {
    let place = |header: &str| sample.headers.iter().position(|h| h == header);
    let row = place(labels).and_then(|at| sample.rows.iter().find(|row| row.get(at).is_some_and(|cell| cell == label)));
    let cells = years.iter().filter_map(|(header, _)| row?.get(place(header)?)).map(String::as_str);
    cells.filter(|cell| cell.contains(|c: char| c.is_ascii_digit())).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::table_rows::TableFile;
    use std::path::Path;

    fn sample(headers: &[&str], rows: &[&[&str]]) -> Sample {
        let texts = |row: &[&str]| row.iter().map(|c| (*c).to_owned()).collect::<Vec<_>>();
        Sample {
            table: TableFile::of(Path::new("record.csv")),
            file: "record.csv".to_owned(),
            delimiter: ',',
            headers: texts(headers),
            rows: rows.iter().map(|row| texts(row)).collect(),
        }
    }

    #[test]
    fn a_record_of_years_is_known_by_its_labels() {
        let of = sample(
            &["Year to 30 June", "2023", "FY 2024", "Note"],
            &[
                &["Turnover", "1,200", "1,300"],
                &["Cost of sales", "(700)", "(750)"],
                &["Tax", "-12", "3"],
                &["Earnings per share", "1.20", "1.31"],
                &["Operating margin", "8 %", "9 %"],
            ],
        );
        let turned = turned(&of).unwrap().turned.unwrap();
        assert_eq!(turned.labels, "Year to 30 June");
        let ends: Vec<&str> =
            turned.columns.iter().flat_map(|c| &c.fixed).filter(|f| f.column == "period_end").map(|f| f.value.as_str()).collect();
        assert_eq!(ends, ["2023-06-30", "2024-06-30"]);
        let rows: Vec<(&str, &str, f64)> = turned.rows.iter().map(|r| (r.label.as_str(), r.column.as_str(), r.divide)).collect();
        // A tax that was paid back in one year counts as it stands.
        let expected = [
            ("Turnover", "revenue", 1.0),
            ("Cost of sales", "cost_of_revenue", -1.0),
            ("Tax", "income_tax", 1.0),
            ("Earnings per share", "eps_basic", 1.0),
        ];
        assert_eq!(rows, expected);
    }

    /// In words that are not known here, rows are left to a person.
    #[test]
    fn a_record_in_other_words_is_taken_when_it_is_said() {
        let of = sample(&["Jahr", "2023", "2024"], &[&["Umsatz", "1.200", "1.300"], &["Steuern", "-12", "-3"]]);
        assert!(turned(&of).is_none());
        let said = for_turned(&of).unwrap().turned.unwrap();
        assert_eq!((said.labels.as_str(), said.columns.len(), said.rows.len()), ("Jahr", 2, 0));
        assert!(for_turned(&sample(&["symbol", "close"], &[&["KLMR", "5"]])).is_none());
    }

    #[test]
    fn a_table_of_rows_is_none() {
        let of = sample(&["company_id", "fiscal_year", "revenue", "2024"], &[&["C1", "2023", "5", "6"]]);
        assert!(turned(&of).is_none());
        let of = sample(&["Year", "2023", "2024"], &[&["Tides", "5", "6"], &["Ships", "5", "6"]]);
        assert!(turned(&of).is_none());
    }

    #[test]
    fn years_stand_for_themselves() {
        assert_eq!(["2024", "FY2024", "31.12.2024", "Dec 2024", "20240630", "1899", "Note 3"].map(year), {
            let y = Some(2024);
            [y, y, y, y, None, None, None]
        });
    }
}

//! Ownership filings against the rows expected of them.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_core::domain::{Currency, InsiderTrade, Record};
use artemon_formats::{
    ReadError, ReadReport,
    filings::{Answers, FilingSource},
    ownership::Issuers,
    ownership_xml::read,
};
use cases::{Row, csv_rows, golden};
use serde_json::Value;
use std::{fs, sync::Arc};

/// The listings of the case, nothing known of trades.
struct Listings(Vec<Row>);

impl Listings {
    fn of(&self, is: impl Fn(&Row) -> bool) -> Option<(Arc<str>, Currency)> {
        let row = self.0.iter().find(|r| is(r))?;
        Some((row["company_id"].as_str().into(), row["currency"].parse().unwrap()))
    }
}

impl Issuers for Listings {
    fn listed(&self, symbol: &str) -> Option<(Arc<str>, Currency)> {
        self.of(|r| r["symbol"].eq_ignore_ascii_case(symbol))
    }

    fn registered(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        None
    }

    fn company(&self, company_id: &str) -> Option<(Arc<str>, Currency)> {
        self.of(|r| r["company_id"] == company_id)
    }

    fn trades(&self, _: &str) -> Result<Vec<InsiderTrade>, ReadError> {
        Ok(Vec::new())
    }
}

fn run(sources: &[FilingSource]) -> Result<(Vec<InsiderTrade>, ReadReport), ReadError> {
    let listings = Listings(csv_rows(&golden("ownership-xml/listings.csv")));
    let mut rows: Vec<InsiderTrade> = Vec::new();
    let mut keep = |record: Record| {
        let Record::InsiderTrade(row) = record else { panic!("{record:?}") };
        let row = *row;
        // A row that is superseded comes again.
        let same = |r: &InsiderTrade| InsiderTrade { superseded_on: row.superseded_on, ..r.clone() } == row;
        rows.retain(|r| !same(r));
        rows.push(row);
        Ok(())
    };
    let report = read(sources, &listings, &mut keep)?;
    Ok((rows, report))
}

fn case() -> Vec<FilingSource> {
    let case: Value = serde_json::from_str(&fs::read_to_string(golden("ownership-xml/case.json")).unwrap()).unwrap();
    let source = |f: &Value| {
        let filed_on = f["filed_on"].as_str().map(|d| d.parse().unwrap());
        let path = golden("ownership-xml").join(f["file"].as_str().unwrap());
        FilingSource { path, answers: Answers { filed_on, ..Answers::default() } }
    };
    case["files"].as_array().unwrap().iter().map(source).collect()
}

fn cells(t: &InsiderTrade) -> Row {
    let number = |n: Option<f64>| n.map(|n| n.to_string()).unwrap_or_default();
    [
        ("company_id", t.company_id.to_string()),
        ("filing_id", t.filing_id.clone()),
        ("filed_on", t.filed_on.to_string()),
        ("traded_on", t.traded_on.to_string()),
        ("insider_id", t.insider_id.to_string()),
        ("insider_name", t.insider_name.to_string()),
        ("role", t.role.map(|r| r.to_string()).unwrap_or_default()),
        ("code", t.code.to_string()),
        ("acquired", t.acquired.to_string()),
        ("shares", number(Some(t.shares))),
        ("price", number(t.price)),
        ("currency", t.currency.to_string()),
        ("shares_after", number(t.shares_after)),
        ("direct", t.direct.to_string()),
        ("planned", t.planned.to_string()),
    ]
    .into_iter()
    .map(|(k, v)| (k.to_owned(), v))
    .collect()
}

#[test]
fn every_trade_and_note_agrees() {
    let (rows, report) = run(&case()).unwrap();
    let mut current: Vec<Row> = rows.iter().filter(|r| r.superseded_on.is_none()).map(cells).collect();
    let mut expected = csv_rows(&golden("ownership-xml/expected-insider_trades.csv"));
    current.sort();
    expected.sort();
    assert_eq!(current, expected);
    let superseded: Vec<_> = rows.iter().filter_map(|r| Some((r.filing_id.as_str(), r.shares, r.superseded_on?.to_string()))).collect();
    assert_eq!(superseded, [("own-0002", 800.0, "2024-03-20".to_owned())]);
    let mut notes: Vec<_> = report.notes.iter().map(|l| (l.file.clone(), l.what.clone(), l.count.to_string(), l.detail.clone())).collect();
    let expected = csv_rows(&golden("ownership-xml/expected-left-out.csv"));
    let mut expected: Vec<_> =
        expected.iter().map(|r| (r["file"].clone(), r["what"].clone(), r["count"].clone(), r["detail"].clone())).collect();
    notes.sort();
    expected.sort();
    assert_eq!(notes, expected);
    assert!(report.bad.is_empty());
}

/// A day after the filing, a count that is none, neither acquired nor disposed of: the trades are named, the others stand.
#[test]
fn bad_values_are_named() {
    let folder = tempfile::tempdir().unwrap();
    let original = fs::read_to_string(golden("ownership-xml/own-0003.xml")).unwrap();
    let damaged =
        original.replace("<value>10000</value>", "<value>twelve</value>").replace("<value>2024-04-16</value>", "<value>2024-05-01</value>");
    let path = folder.path().join("own.xml");
    fs::write(&path, damaged).unwrap();
    let answers = Answers { filed_on: Some("2024-04-17".parse().unwrap()), ..Answers::default() };
    let (rows, report) = run(&[FilingSource { path, answers }]).unwrap();
    assert_eq!(rows.len(), 1);
    let bad: Vec<String> = report.bad.iter().map(ToString::to_string).collect();
    insta::assert_snapshot!(bad.join("\n"), @r#"
    own.xml, column transactionShares: "twelve" is not a number of 0 or more. Correct the filing's file, or skip bad rows: then the trade is left out.
    own.xml, column transactionDate: "2024-05-01" is not a day up to that of the filing. Correct the filing's file, or skip bad rows: then the trade is left out.
    "#);
}

#[test]
fn utf16_is_read() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("utf16.xml");
    fs::copy(golden("hostile/utf16.xml"), &path).unwrap();
    let answers = Answers { filed_on: Some("2024-03-06".parse().unwrap()), ..Answers::default() };
    assert_eq!(run(&[FilingSource { path, answers }]).unwrap().0.len(), 3);
}

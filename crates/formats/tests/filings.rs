//! Filings in every form of XBRL against the rows and outcomes expected of them.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_core::{
    domain::{Company, Item, Record, Statement},
    filings::{Filer, FiscalCalendar, Known},
};
use artemon_formats::{
    CIK_SCHEME, OwnConcepts, ReadError, ReadReport, columns, company_facts,
    filings::{Answers, Filers, FilingSource, read},
};
use cases::{Row, csv_rows, golden};
use serde_json::Value;
use std::{collections::BTreeMap, fs, path::Path, sync::Arc};

/// The companies of a case, nothing known of their statements.
struct Companies(Vec<Row>);

impl Filers for Companies {
    fn filer(&self, company_id: &str) -> Option<Filer> {
        let company = self.0.iter().find(|c| c["company_id"] == company_id)?;
        Some(Filer {
            company_id: company_id.into(),
            kind: company["kind"].parse().unwrap(),
            calendar: company["fiscal_year_end_month"].parse().ok().map(|end_month| FiscalCalendar { end_month }),
            label_shift: None,
        })
    }

    fn company_row(&self, _: &str) -> Option<Company> {
        None
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>> {
        let known = self.0.iter().find(|c| scheme == "http://standards.iso.org/iso/17442" && c["lei"] == identifier)?;
        Some(known["company_id"].as_str().into())
    }

    fn known(&self, _: &str) -> Result<Known, ReadError> {
        Ok(Known::default())
    }
}

fn run(folder: &Path, change: impl Fn(&mut Answers)) -> (Vec<Statement>, Result<ReadReport, ReadError>) {
    let case: Value = serde_json::from_str(&fs::read_to_string(folder.join("case.json")).unwrap()).unwrap();
    let text = |v: &Value| v.as_str().map(str::to_owned);
    let sources: Vec<FilingSource> = case["files"]
        .as_array()
        .unwrap()
        .iter()
        .map(|f| {
            let filed_on = f["filed_on"].as_str().map(|d| d.parse().unwrap());
            let mut answers = Answers { company_id: text(&f["company_id"]), filed_on, source: text(&f["source"]) };
            change(&mut answers);
            FilingSource { path: folder.join(f["file"].as_str().unwrap()), answers }
        })
        .collect();
    let companies = Companies(csv_rows(&folder.join("companies.csv")));
    let mut rows: BTreeMap<_, Statement> = BTreeMap::new();
    let mut keep = |record: Record| {
        let Record::Statement(row) = record else { panic!("{record:?}") };
        let row = *row;
        rows.insert((row.company_id.clone(), row.fiscal_year, row.period.code(), row.filed_on), row);
        Ok(())
    };
    let report = read(&sources, &OwnConcepts::new(), &companies, &mut keep);
    (rows.into_values().collect(), report)
}

/// A row as the dataset's columns have it.
fn cells(row: &Statement) -> BTreeMap<String, String> {
    let keys = [
        ("company_id", row.company_id.to_string()),
        ("fiscal_year", row.fiscal_year.to_string()),
        ("period", row.period.to_string()),
        ("period_end", row.period_end.to_string()),
        ("filed_on", row.filed_on.to_string()),
        ("currency", row.currency.to_string()),
        ("source", row.source.clone()),
    ];
    let items = Item::ALL.iter().map(|i| (i.code(), row.items.get(*i).map(|v| v.to_string()).unwrap_or_default()));
    keys.into_iter().chain(items).map(|(k, v)| (k.to_owned(), v)).collect()
}

/// Two cells: numbers as decimals, everything else as text.
fn same(a: &str, b: &str) -> bool {
    let number = |text: &str| text.parse::<rust_decimal::Decimal>().ok().map(|d| d.normalize());
    a == b || (number(a).is_some() && number(a) == number(b))
}

fn differences(expected: &[BTreeMap<String, String>], rows: &[Statement]) -> Vec<String> {
    let key = |row: &BTreeMap<String, String>| ["company_id", "fiscal_year", "period", "filed_on"].map(|k| row[k].clone()).join(" ");
    let expected: BTreeMap<String, _> = expected.iter().map(|r| (key(r), r.clone())).collect();
    let rows: BTreeMap<String, _> = rows.iter().map(cells).map(|r| (key(&r), r)).collect();
    let mut out = Vec::new();
    for key in expected.keys().chain(rows.keys()).collect::<std::collections::BTreeSet<_>>() {
        match (expected.get(key), rows.get(key)) {
            (Some(e), Some(r)) => {
                let columns = columns(artemon_core::domain::Table::Statements);
                for c in columns.iter().filter(|c| !same(&e[c.name], &r[c.name])) {
                    out.push(format!("{key} {}: expected \"{}\", was \"{}\"", c.name, e[c.name], r[c.name]));
                }
            }
            (Some(_), None) => out.push(format!("{key} is missing")),
            (None, _) => out.push(format!("{key} is not expected")),
        }
    }
    out
}

fn count_differences(folder: &Path, report: &ReadReport) -> Vec<String> {
    let expected = csv_rows(&folder.join("expected-facts.csv"));
    let expected: BTreeMap<(String, String, String), u64> = expected
        .into_iter()
        .map(|r| ((r["file"].clone(), r["concept"].clone(), r["outcome"].clone()), r["count"].parse().unwrap()))
        .collect();
    let counted = report.facts.iter().map(|c| ((c.file.clone(), c.concept.clone(), c.outcome.to_string()), c.count));
    let counted: BTreeMap<_, u64> = counted.collect();
    let all: std::collections::BTreeSet<_> = expected.keys().chain(counted.keys()).collect();
    let of = |map: &BTreeMap<(String, String, String), u64>, key| map.get(key).copied().unwrap_or(0);
    all.into_iter()
        .filter(|key| of(&expected, key) != of(&counted, key))
        .map(|key| format!("{key:?}: expected {}, was {}", of(&expected, key), of(&counted, key)))
        .collect()
}

#[track_caller]
fn agrees(case: &str) {
    let folder = golden(case);
    let (rows, report) = run(&folder, |_| {});
    let report = report.unwrap();
    let mut all = differences(&csv_rows(&folder.join("expected-statements.csv")), &rows);
    all.extend(count_differences(&folder, &report));
    assert!(all.is_empty(), "{case}:\n{}", all.join("\n"));
    assert!(report.bad.is_empty(), "{:?}", report.bad);
}

#[test]
fn instances_agree() {
    ["quarterly", "half-yearly", "bank"].iter().for_each(|case| agrees(&format!("xbrl-xml/{case}")));
}

#[test]
fn pages_agree() {
    ["quarterly", "half-yearly", "forms"].iter().for_each(|case| agrees(&format!("inline-xbrl/{case}")));
}

#[test]
fn json_agrees() {
    ["quarterly", "half-yearly"].iter().for_each(|case| agrees(&format!("xbrl-json/{case}")));
}

#[test]
fn csv_agrees() {
    ["half-yearly", "bank"].iter().for_each(|case| agrees(&format!("xbrl-csv/{case}")));
}

/// What no file says is asked; a company is known by its legal entity identifier.
#[test]
fn day_and_company_are_asked() {
    let folder = golden("xbrl-xml/half-yearly");
    let (rows, report) = run(&folder, |answers| answers.company_id = None);
    report.unwrap();
    assert!(rows.iter().all(|r| &*r.company_id == "C00102") && !rows.is_empty());
    let (rows, refused) = run(&folder, |answers| answers.filed_on = None);
    assert!(rows.is_empty());
    insta::assert_snapshot!(refused.unwrap_err(), @"skerry-2025fy.xml does not say when it became public: filed_on is not known. Say on which day it was filed. Its figures were authorised on 2025-08-28.");
    let (_, refused) = run(&golden("xbrl-xml/bank"), |answers| answers.company_id = None);
    insta::assert_snapshot!(refused.unwrap_err(), @r#"harbour-2024fy.xml is of the company with the identifier "0009999103" (http://www.sec.gov/CIK), which no company has. Say whose it is."#);
}

/// Filings of several companies under one name are refused, whether their identifiers are known or not.
#[test]
fn filings_of_others_are_refused() {
    let folder = golden("xbrl-xml/half-yearly");
    let mut companies = csv_rows(&folder.join("companies.csv"));
    companies.extend(csv_rows(&golden("xbrl-xml/bank/companies.csv")));
    let refused = |files: &[&str]| {
        let answers = Answers { company_id: Some("C00103".to_owned()), filed_on: Some("2025-09-04".parse().unwrap()), source: None };
        let sources: Vec<_> = files.iter().map(|f| FilingSource { path: golden(f), answers: answers.clone() }).collect();
        let mut nothing = |_: Record| Ok(());
        read(&sources, &OwnConcepts::new(), &Companies(companies.clone()), &mut nothing).unwrap_err().to_string()
    };
    insta::assert_snapshot!(refused(&["xbrl-xml/half-yearly/skerry-2025fy.xml"]), @"skerry-2025fy.xml was said to be of C00103, but C00102 has its identifier ZZZZ00SKERRYGLASS158. Say whose it is, or correct the identifier.");
    insta::assert_snapshot!(refused(&["xbrl-xml/bank/harbour-2024fy.xml", "xbrl-xml/quarterly/tarn-2023fy.xml"]), @"tarn-2023fy.xml cannot be used as a filing: it is of the company with the identifier 0009999101, another filing that was said to be of C00103 has 0009999103; import the filings of each company by themselves.");
}

/// The companies of a bulk case, known by the register's numbers.
struct Registered(Companies, Vec<Row>);

impl Filers for Registered {
    fn filer(&self, company_id: &str) -> Option<Filer> {
        self.0.filer(company_id)
    }

    fn company_row(&self, _: &str) -> Option<Company> {
        None
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>> {
        let row = self.1.iter().find(|r| scheme == CIK_SCHEME && r["cik"] == identifier.trim_start_matches('0'))?;
        Some(row["company_id"].as_str().into())
    }

    fn known(&self, _: &str) -> Result<Known, ReadError> {
        Ok(Known::default())
    }
}

#[test]
fn facts_of_filers_agree() {
    let folder = golden("bulk/company-facts");
    let base = |file: &str| csv_rows(&folder.join("base").join(file));
    let registered = Registered(Companies(base("companies.csv")), base("identifiers.csv"));
    let mut rows: BTreeMap<_, Statement> = BTreeMap::new();
    let mut keep = |record: Record| {
        let Record::Statement(row) = record else { panic!("{record:?}") };
        rows.insert((row.company_id.clone(), row.fiscal_year, row.period.code(), row.filed_on), *row);
        Ok(())
    };
    let report = company_facts::read(&folder.join("company-facts.zip"), &registered, &mut keep).unwrap();
    let rows: Vec<Statement> = rows.into_values().collect();
    let mut all = differences(&csv_rows(&folder.join("expected-statements.csv")), &rows);
    all.extend(count_differences(&folder, &report));
    assert!(all.is_empty(), "{}", all.join("\n"));
    let notes: Vec<_> = report.notes.iter().map(|n| (&*n.file, &*n.what, n.count, &*n.detail)).collect();
    let expected = csv_rows(&folder.join("expected-left-out.csv"));
    let expected: Vec<_> = expected.iter().map(|r| (&*r["file"], &*r["what"], r["count"].parse().unwrap(), &*r["detail"])).collect();
    assert_eq!(notes, expected);
    insta::assert_snapshot!(report.warnings.join("\n"), @r"
    CIK9000000002.json: 9000000002-24-000007 calls its fiscal year 2025; 2024 was taken, as in its other filings.
    CIK9000000003.json: the cover counts the shares on 2032-01-31, which is not within 120 days after the period; the count was left out.
    CIK9000000003.json: the cover counts the shares on 2024-03-15, which is not within 120 days after the period; the count was left out.
    ");
}
